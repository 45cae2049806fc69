#include <numbers>
#include <random>
#include <tuple>

#include "core/mesh/display.h"
#include "core/mesh/edge_table.h"
#include "core/mesh/edge_uses.h"
#include "core/mesh/placement.h"
#include "core/mesh/polygon.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;
using std::numbers::pi;

TEST_CASE("primitives are sound and of the right size") {
    // Prism and frustum of regular polygons: area of the base times the height, h/3 (A + sqrt(A B) + B). Source:
    // Bronstein et al., "Handbook of Mathematics", solid geometry.
    auto polygon = [](double r, int n) { return n / 2.0 * r * r * std::sin(2 * pi / n); };
    struct Case {
        const char* name;
        Mesh mesh;
        double volume;
        long euler;
    };
    const Point2 l_shape[] = {{0, 0}, {4, 0}, {4, 1}, {1, 1}, {1, 3}, {0, 3}};
    const double a = polygon(3, 24), b = polygon(1, 24);
    const Case cases[] = {
        {"box", make_box({1, 2, 3}, {3, 5, 7}), 24, 2},
        {"cylinder", make_frustum(2, 2, 0, 5, 16), 5 * polygon(2, 16), 2},
        {"frustum", make_frustum(3, 1, -1, 2, 24), 3.0 / 3 * (a + std::sqrt(a * b) + b), 2},
        {"cone", make_frustum(3, 0, 0, 6, 24), 6 * a / 3, 2},
        {"prism", make_prism(l_shape, 0, 2), 12, 2},
        {"sphere", make_sphere({1, 1, 1}, 4, 64, 128), 4.0 / 3 * pi * 64, 2},
        {"icosphere", make_icosphere({0, 0, 0}, 4, 5), 4.0 / 3 * pi * 64, 2},
        {"torus", make_torus(5, 1, 128, 64), 2 * pi * pi * 5, 0},
    };
    for (const Case& c : cases) {
        INFO(c.name);
        CHECK(findings_text(inspected(c.mesh)) == "none");
        CHECK(signed_volume(c.mesh) == Approx(c.volume).epsilon(0.004));
        CHECK(euler_characteristic(c.mesh) == c.euler);
    }
    CHECK(signed_volume(cases[2].mesh) == Approx(cases[2].volume).epsilon(1e-13));
}

TEST_CASE("volume does not suffer from a place far away") {
    const Mesh near = make_box({0, 0, 0}, {1, 1, 1}), far = moved(near, {1e7, -1e7, 1e7});
    CHECK(signed_volume(far) == Approx(1).epsilon(1e-8));
    CHECK(surface_area(far) == Approx(6).epsilon(1e-8));
}

TEST_CASE("areas are told of bodies as large and as small as squares of lengths may be") {
    for (const int exponent : {-500, -300, -3, 0, 3, 300, 500}) {
        const double side = std::ldexp(1.0, exponent);
        CHECK(surface_area(make_box({-side, 0, 0}, {0, side, side})) == std::ldexp(6.0, 2 * exponent));
    }
    CHECK(surface_area(Mesh()) == 0);
}

TEST_CASE("welding makes bit-equal points one, and only those") {
    Mesh m;
    const double next = std::nextafter(1.0, 2.0);
    for (const Vec3& p : {Vec3{0, 0, 0}, {-0.0, 0, -0.0}, {1, 0, 0}, {next, 0, 0}, {5, 5, 5}}) m.points.push_back(p);
    m.faces.push_back({VertexId(0), VertexId(2), VertexId(3)});
    m.faces.push_back({VertexId(1), VertexId(3), VertexId(2)});
    const Mesh w = welded(m);
    CHECK(w.points.size() == 3);  // the last one is used by no face
    CHECK(w.faces[FaceId(0)][0] == w.faces[FaceId(1)][0]);
}

TEST_CASE("the edge table lists each edge once with the faces along it") {
    const Mesh box = make_box({0, 0, 0}, {1, 1, 1});
    const EdgeTable edges(box.faces.raw(), box.points.size());
    CHECK(edges.size() == 18);
    for (EdgeId e : ids<EdgeId>(edges.size())) {
        const auto uses = edges.uses(e);
        REQUIRE(uses.size() == 2);
        CHECK(edges.forward(uses[0]) != edges.forward(uses[1]));
        CHECK(edges.edge_of(uses[0]) == e);
    }
}

TEST_CASE("a mirrored placement keeps the outside outside; quarter turns are exact") {
    Transform mirror = Transform::Identity();
    mirror.linear()(0, 0) = -1;
    CHECK(signed_volume(transformed(make_box({0, 0, 0}, {1, 2, 3}), mirror)) == Approx(6));
    const Mesh turned = transformed(make_box({0, 0, 0}, {1, 2, 3}), Placement{{0, 0, 0}, {90, -90, 450}}.transform());
    for (const Vec3& p : turned.points)
        for (int k = 0; k < 3; ++k) CHECK(p[k] == std::round(p[k]));
}

TEST_CASE("polygons are cut into triangles that keep their area, concave ones too") {
    const Point2 comb[] = {{0, 0}, {7, 0}, {7, 3}, {6, 3}, {6, 1}, {5, 1},
                           {5, 3}, {4, 3}, {4, 1}, {3, 1}, {3, 3}, {0, 3}};
    double area = 0;
    const auto triangles = triangulate_outline(comb);
    CHECK(triangles.size() == 10);
    for (const auto& [a, b, c] : triangles) {
        const double twice =
            (comb[b].u - comb[a].u) * (comb[c].v - comb[a].v) - (comb[b].v - comb[a].v) * (comb[c].u - comb[a].u);
        CHECK(twice > 0);
        area += twice / 2;
    }
    CHECK(area == Approx(17));
    const Vec3 upright[] = {{0, 5, 0}, {4, 5, 0}, {4, 5, 1}, {1, 5, 1}, {1, 5, 3}, {0, 5, 3}};
    CHECK(triangulate_polygon(upright).size() == 4);
}

TEST_CASE("the display draws no creases on a smooth wall between two pieces") {
    Mesh cup = make_icosphere({0, 0, 0}, 5, 4);
    const std::size_t alone = make_display(cup).creases.size();
    turn_over(cup);  // a pocket, and what fills it
    append(cup, make_icosphere({0, 0, 0}, 5, 4));
    CHECK(make_display(cup).creases.size() == alone);
}

TEST_CASE("the display draws the creases of a box and none on a smooth sphere") {
    const DisplayMesh box = make_display(make_box({0, 0, 0}, {2, 2, 2}));
    CHECK(box.creases.size() == 12 * 8);
    CHECK(box.triangles.size() == 36);
    CHECK(make_display(make_icosphere({0, 0, 0}, 1, 3)).creases.empty());
}

TEST_CASE("the uses of edges are those of all faces, by the edge and then by the face") {
    std::mt19937 random(8);
    for (const std::uint32_t points : {40u, 3000u, 4000000u}) {
        std::vector<Triangle> faces;
        for (int f = 0; f < 2000; ++f) {
            Triangle t;
            for (VertexId& v : t) v = VertexId(1000 + random() % points);
            faces.push_back(t);
        }
        for (const std::size_t count : {std::size_t{3}, faces.size()}) {
            const std::span<const Triangle> some(faces.data(), count);
            std::vector<std::tuple<VertexId, VertexId, std::uint32_t, bool>> expected, found;
            for (std::uint32_t f = 0; f < count; ++f)
                for (std::size_t k = 0; k < 3; ++k) {
                    const VertexId p = some[f][k], q = some[f][(k + 1) % 3];
                    expected.emplace_back(std::min(p, q), std::max(p, q), f, p < q);
                }
            for (const EdgeUse& use : edge_uses(some)) found.emplace_back(use.low, use.high, use.face, use.forward);
            // A face that has a corner twice uses an edge twice, in no order.
            CHECK(std::ranges::is_sorted(
                found, {}, [](const auto& u) { return std::tuple(std::get<0>(u), std::get<1>(u), std::get<2>(u)); }));
            std::ranges::sort(expected);
            std::ranges::sort(found);
            CHECK(found == expected);
        }
    }
}
