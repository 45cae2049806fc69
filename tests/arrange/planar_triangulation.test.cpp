#include "core/arrange/planar_triangulation.h"
#include "core/arrange/covers.h"

#include <deque>
#include <map>
#include <numeric>
#include <random>
#include <set>

#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

constexpr int axis = 2;  // seen along z: u is x, v is y

double area2(const PlanarTriangulation& t, const PlanarTriangulation::Face& f) {
    const Vec3 &a = t.point(f.v[0]).approx, &b = t.point(f.v[1]).approx, &c = t.point(f.v[2]).approx;
    return cross(b - a, c - a).z;
}

/// Every face counter-clockwise, neighbours of each other, and together as large as the first triangle.
void check_sound(const PlanarTriangulation& t, double whole_area2) {
    double sum = 0;
    bool linked = true;
    for (std::size_t f = 0; f < t.faces().size(); ++f) {
        const auto& face = t.faces()[f];
        CHECK(area2(t, face) > 0);
        sum += area2(t, face);
        for (int i = 0; i < 3; ++i) {
            if (face.n[i] < 0) continue;
            const auto& other = t.faces()[static_cast<std::size_t>(face.n[i])];
            int back = 0;
            for (int k = 0; k < 3; ++k)
                if (other.n[k] == static_cast<int>(f)) {
                    ++back;
                    // The common edge, from both sides.
                    linked = linked && other.v[(k + 1) % 3] == face.v[(i + 2) % 3] &&
                             other.v[(k + 2) % 3] == face.v[(i + 1) % 3] && other.c[k] == face.c[i];
                }
            linked = linked && back == 1;
        }
    }
    CHECK(linked);
    CHECK(sum == Approx(whole_area2));
}

/// Length of all edges that are a part of a line, each counted once.
double length_on(const PlanarTriangulation& t, int line) {
    double length = 0;
    for (std::size_t f = 0; f < t.faces().size(); ++f)
        for (int i = 0; i < 3; ++i) {
            const auto& face = t.faces()[f];
            if (face.c[i] < 0 || t.constraint(face.c[i]).line != line || face.n[i] > static_cast<int>(f)) continue;
            length += norm(t.point(face.v[(i + 1) % 3]).approx - t.point(face.v[(i + 2) % 3]).approx);
        }
    return length;
}

PlanarTriangulation::Cross no_crossing() {
    return [](int, int) -> PointView {
        FAIL("nothing crosses here");
        return {};
    };
}
PlanarTriangulation large(PlanarTriangulation::Cross cross = no_crossing()) {
    return {axis, false, {{0, 0, 0}}, {{100, 0, 0}}, {{0, 100, 0}}, std::move(cross)};
}

}  // namespace

TEST_CASE("points inside, on an edge, on a corner and twice") {
    PlanarTriangulation t = large();
    CHECK(t.insert({{10, 10, 0}}) == 3);
    CHECK(t.faces().size() == 3);
    CHECK(t.insert({{50, 0, 0}}) == 4);  // on the outer edge: one face becomes two
    CHECK(t.faces().size() == 4);
    CHECK(t.insert({{30, 5, 0}}) == 5);  // on the edge between 3 and 4: two faces become four
    CHECK(t.faces().size() == 6);
    CHECK(t.insert({{10, 10, 0}}) == 3);
    CHECK(t.insert({{100, 0, 0}}) == 1);
    CHECK(t.point_count() == 6);
    check_sound(t, 10000);
}

TEST_CASE("a clockwise first triangle is triangulated as seen from its other side") {
    PlanarTriangulation t(axis, true, {{0, 0, 0}}, {{0, 100, 0}}, {{100, 0, 0}}, no_crossing());
    t.insert({{10, 10, 0}});
    t.insert({{20, 30, 0}});
    for (const auto& face : t.faces()) CHECK(area2(t, face) < 0);
    CHECK(t.faces().size() == 5);
}

TEST_CASE("after improving, no circle around a face holds a point of its neighbour") {
    for (unsigned seed = 1; seed <= 5; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> u(1, 48);
        PlanarTriangulation t = large();
        for (int k = 0; k < 120; ++k) t.insert({{u(random), u(random), 0}});
        // Each point inside adds two faces (Euler's formula).
        CHECK(t.faces().size() == 2 * 120 + 1);
        t.improve();
        check_sound(t, 10000);
        int wrong = 0;
        for (const auto& face : t.faces())
            for (int i = 0; i < 3; ++i) {
                if (face.n[i] < 0) continue;
                const auto& other = t.faces()[static_cast<std::size_t>(face.n[i])];
                int apex = -1;
                for (int v : other.v)
                    if (v != face.v[0] && v != face.v[1] && v != face.v[2]) apex = v;
                // The in-circle determinant, in doubles: points are in general position.
                const Vec3 d = t.point(apex).approx;
                double m[3][3];
                for (int k = 0; k < 3; ++k) {
                    const Vec3 p = t.point(face.v[k]).approx - d;
                    m[k][0] = p.x, m[k][1] = p.y, m[k][2] = p.x * p.x + p.y * p.y;
                }
                const double in = m[0][0] * (m[1][1] * m[2][2] - m[1][2] * m[2][1]) -
                                  m[0][1] * (m[1][0] * m[2][2] - m[1][2] * m[2][0]) +
                                  m[0][2] * (m[1][0] * m[2][1] - m[1][1] * m[2][0]);
                wrong += in > 1e-6;
            }
        CHECK(wrong == 0);
    }
}

TEST_CASE("a segment becomes a chain of edges, through whatever points lie on it, and survives improving") {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> u(1, 48);
    PlanarTriangulation t = large();
    for (int k = 0; k < 60; ++k) t.insert({{u(random), u(random), 0}});
    const int a = t.insert({{2, 2, 0}}), b = t.insert({{42, 42, 0}});
    t.insert({{12, 12, 0}});
    t.insert({{32, 32, 0}});
    t.constrain(a, b, 7, {1});
    check_sound(t, 10000);
    CHECK(length_on(t, 7) == Approx(40 * std::sqrt(2.0)));
    t.improve();
    CHECK(length_on(t, 7) == Approx(40 * std::sqrt(2.0)));
    // The same segment for another boundary: the edges carry both marks.
    t.constrain(b, a, 7, {2});
    bool both = true;
    for (const auto& face : t.faces())
        for (int c : face.c)
            if (c >= 0 && t.constraint(c).line == 7) {
                auto marks = t.constraint(c).marks;
                std::sort(marks.begin(), marks.end());
                both = both && marks == std::vector<int>{1, 2};
            }
    CHECK(both);
}

TEST_CASE("segments that cross get the exact point where they do, and both go on through it") {
    std::deque<ExactPoint> made;
    const std::pair<Vec3, Vec3> lines[] = {
        {{1, 2, 0}, {40, 31, 0}}, {{1, 30, 0}, {40, 3, 0}}, {{20, 1, 0}, {21, 45, 0}}};
    int crossings = 0;
    PlanarTriangulation t = large([&](int x, int y) {
        ++crossings;
        ExactPoint& point = made.emplace_back();
        const Vec3 approx =
            point.define_by_lines(lines[x].first, lines[x].second, lines[y].first, lines[y].second, axis);
        return PointView{approx, &point};
    });
    for (int k = 0; k < 3; ++k) {
        const int a = t.insert({lines[k].first}), b = t.insert({lines[k].second});
        t.constrain(a, b, k);
    }
    t.improve();
    CHECK(crossings == 3);
    check_sound(t, 10000);
    for (int k = 0; k < 3; ++k) CHECK(length_on(t, k) == Approx(norm(lines[k].second - lines[k].first)));
}

TEST_CASE("a segment in line with a corner of the outermost triangle ends at its own end") {
    // The outermost corners have no meaning along the axis of projection; points of a slanted plane have.
    const Vec3 outer[3] = {{-100, -100, 0}, {100, -100, 0}, {0, 100, 0}};
    PlanarTriangulation t(2, false, PointView{outer[0]}, PointView{outer[1]}, PointView{outer[2]},
                          [](int, int) { return PointView{}; });
    const Vec3 low{0, -2, -5}, high{0, 3, 7};  // below the third corner, on the line through it
    const int a = t.insert(PointView{low}), b = t.insert(PointView{high});
    t.constrain(a, b, 0, {0});
    t.constrain(b, a, 0, {0});
    std::size_t constrained = 0;
    for (const auto& f : t.faces())
        for (int c : f.c) constrained += c >= 0;
    CHECK(constrained == 2);  // one edge, seen from both its faces
}

TEST_CASE("segments that run through hundreds of faces, past points in line and edges that hang into their way") {
    // Points of a small grid, so that many lie in line; fans of segments from one of them, so that none cross.
    std::mt19937 random(Catch::rngSeed());
    INFO("seed " << Catch::rngSeed());
    for (int round = 0; round < 40; ++round) {
        const int width = 6 + round;
        PlanarTriangulation t(axis, false, PointView{{-1000, -1000, 0}}, PointView{{1000, -1000, 0}},
                              PointView{{0, 1000, 0}}, no_crossing());
        std::vector<int> points;
        std::uniform_int_distribution<int> coordinate(0, width), thin(0, 3);
        for (int k = 0; k < 150; ++k) {
            // Half of them near a line, so that the faces there are long.
            const double x = coordinate(random), y = k % 2 ? coordinate(random) : thin(random);
            points.push_back(t.insert(PointView{{x, y, 0}}));
        }
        if (round % 2) t.improve();
        for (const std::size_t hub : {std::size_t{0}, std::size_t{1}}) {
            PlanarTriangulation own = t;
            for (const int p : points) {
                const double length = norm(own.point(p).approx - own.point(points[hub]).approx);
                own.constrain(points[hub], p, p);
                check_sound(own, 4e6);
                // Where it lies on one that is there already, that one is lengthened.
                if (p != points[hub]) CHECK(length_on(own, p) <= length * (1 + 1e-12));
            }
            double reached = 0, sum = 0;
            for (const int p : std::set<int>(points.begin(), points.end())) reached += length_on(own, p);
            std::map<std::pair<double, double>, double> farthest;  // by direction
            for (const int p : points) {
                const Vec3 d = own.point(p).approx - own.point(points[hub]).approx;
                if (norm(d) == 0) continue;
                const double g = std::gcd(std::abs(static_cast<int>(d.x)), std::abs(static_cast<int>(d.y)));
                auto& far = farthest[{d.x / g, d.y / g}];
                far = std::max(far, norm(d));
            }
            for (const auto& [direction, length] : farthest) sum += length;
            CHECK(reached == Approx(sum));
        }
    }
}

TEST_CASE("a segment that gives way goes in only where nothing is on its way") {
    PlanarTriangulation t = PlanarTriangulation::around({{0, 0, 0}, {8, 8, 0}}, axis, false, [&](int, int) {
        FAIL("nothing is to be crossed");
        return PointView{};
    });
    const double around = area2(t, t.faces()[0]);
    const int a = t.insert(PointView{{0, 0, 0}}), b = t.insert(PointView{{8, 0, 0}}),
              c = t.insert(PointView{{8, 8, 0}}), d = t.insert(PointView{{0, 8, 0}}),
              middle = t.insert(PointView{{4, 6, 0}});
    t.constrain(a, c, 0);
    CHECK(!t.constrain_if_free(b, d, 1));  // it would cross the first
    CHECK(t.constrain_if_free(a, b, 2));
    CHECK(t.constrain_if_free(c, d, 3));
    CHECK(t.constrain_if_free(a, middle, 4));
    const int beyond = t.insert(PointView{{6, 9, 0}});
    CHECK(!t.constrain_if_free(a, beyond, 5));  // a point lies on its way
    CHECK(t.constrain_if_free(a, c, 6));        // it is there already
    check_sound(t, around);
    std::set<int> lines;
    for (const auto& f : t.faces())
        for (const int c_ : f.c)
            if (c_ >= 0) lines.insert(t.constraint(c_).line);
    CHECK(lines == std::set<int>{0, 2, 3, 4});
}

TEST_CASE("a triangulation that is stopped ends its long work early") {
    Progress progress;
    PlanarTriangulation t = PlanarTriangulation::around({{0, 0, 0}, {8, 8, 0}}, axis, false, [&](int, int) {
        progress.cancel();  // half-way: at the first crossing
        return PointView{{4, 4, 0}};
    });
    t.stop_by(progress);
    std::vector<PointView> points;
    for (const Vec3& p : {Vec3{0, 0, 0}, Vec3{8, 0, 0}, Vec3{8, 8, 0}, Vec3{0, 8, 0}}) points.push_back(PointView{p});
    const auto v = t.insert_all(points);
    CHECK(t.point_count() == 7);
    std::vector<PlanarTriangulation::Segment> segments{{v[0], v[2], 0}, {v[1], v[3], 1}};
    CHECK(!t.constrain_all(segments));
    const std::size_t so_far = t.point_count();
    for (PointView& p : points) p.approx = p.approx * 0.5 + Vec3{1, 2, 0};
    t.insert_all(points);
    CHECK(t.point_count() == so_far);
    int passed = 0;
    const auto covers = covers_of<int>(t, [&](int& over, const PlanarTriangulation::Face&, int) { over = ++passed; });
    CHECK(passed == 0);
    CHECK(covers.of_face.size() == t.faces().size());
}
