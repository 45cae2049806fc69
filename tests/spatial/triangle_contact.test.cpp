// How two triangles meet: a test for each pairing of corner, edge and face.
#include "core/spatial/triangle_contact.h"

#include <random>

#include "core/spatial/leaf_boxes.h"

#include "core/mesh/weld.h"
#include "core/spatial/box_tree.h"
#include "core/spatial/nearest.h"
#include "core/spatial/pick.h"
#include "tests/support/support.h"

using namespace anvil;

namespace {

Contact contact_of_faces(const Mesh& m, std::size_t f, std::size_t g) {
    return triangle_contact(corner_points(m.points.raw(), m.faces[FaceId(f)]),
                            corner_points(m.points.raw(), m.faces[FaceId(g)]));
}

Contact contact_of(const Vec3 (&a)[3], const Vec3 (&b)[3]) {
    Mesh m;
    for (const auto& t : {a, b}) {
        const VertexId p = m.points.push_back(t[0]), q = m.points.push_back(t[1]), r = m.points.push_back(t[2]);
        m.faces.push_back({p, q, r});
    }
    m = welded(m);
    const Contact c = contact_of_faces(m, 0, 1);
    // Which one is called first makes no difference, nor how they are wound.
    const Contact swapped = contact_of_faces(m, 1, 0);
    CHECK(swapped.kind == c.kind);
    CHECK(swapped.count == c.count);
    std::swap(m.faces[FaceId(0)][0], m.faces[FaceId(0)][1]);
    CHECK(contact_of_faces(m, 0, 1).kind == c.kind);
    return c;
}

const Vec3 flat[3] = {{0, 0, 0}, {4, 0, 0}, {0, 4, 0}};

}  // namespace

TEST_CASE("face against face, crossing: a segment with two ends") {
    const Contact c = contact_of(flat, {{1, 1, -1}, {1, 1, 1}, {2, 2, 1}});
    CHECK(c.kind == Contact::crossing);
    CHECK(c.count == 2);
}
TEST_CASE("edge through face") {
    const Contact c = contact_of(flat, {{1, 1, -1}, {1, 1, 1}, {9, 9, 1}});
    CHECK(c.kind == Contact::crossing);
    CHECK(c.count == 2);
}
TEST_CASE("corner on face") {
    const Contact c = contact_of(flat, {{1, 1, 0}, {1, 1, 1}, {2, 2, 1}});
    CHECK(c.kind == Contact::crossing);
    CHECK(c.count == 1);
    CHECK(c.points[0].kind == ContactPoint::vertex);
}
TEST_CASE("corner on edge") {
    const Contact c = contact_of(flat, {{2, 0, 0}, {2, 0, 1}, {2, -1, 1}});
    CHECK(c.kind == Contact::crossing);
    CHECK(c.count == 1);
}
TEST_CASE("corner on corner is conforming") {
    CHECK(contact_of(flat, {{4, 0, 0}, {5, 0, 1}, {5, 1, 1}}).kind == Contact::conforming);
}
TEST_CASE("edge on edge, common: conforming") {
    CHECK(contact_of(flat, {{0, 0, 0}, {4, 0, 0}, {1, 1, 3}}).kind == Contact::conforming);
}
TEST_CASE("edge across edge") {
    const Contact c = contact_of(flat, {{2, -1, 0}, {2, 1, 0}, {2, 0, 3}});
    CHECK(c.kind == Contact::crossing);
    CHECK(c.count == 2);
    const Contact touch = contact_of(flat, {{2, -1, -1}, {2, 1, 1}, {2, -3, 1}});
    CHECK(touch.kind == Contact::crossing);
    CHECK(touch.count == 1);
    CHECK(touch.points[0].kind == ContactPoint::edge_edge);
}
TEST_CASE("edge on edge, in line but longer") {
    const Contact c = contact_of(flat, {{1, 0, 0}, {3, 0, 0}, {2, 0, 3}});
    CHECK(c.kind == Contact::crossing);
    CHECK(c.count == 2);
}
TEST_CASE("edge inside a face, lying in its plane") {
    const Contact c = contact_of(flat, {{1, 1, 0}, {1.5, 1, 0}, {1, 1, 3}});
    CHECK(c.kind == Contact::crossing);
    CHECK(c.count == 2);
}
TEST_CASE("a common corner and a segment from it") {
    const Contact c = contact_of(flat, {{0, 0, 0}, {2, 2, 1}, {2, 2, -1}});
    CHECK(c.kind == Contact::crossing);
    CHECK(c.count == 2);
}
TEST_CASE("one plane: apart, touching in a corner, in part of an edge, overlapping, nested, doubled, turned over") {
    CHECK(contact_of(flat, {{9, 9, 0}, {10, 9, 0}, {9, 10, 0}}).kind == Contact::apart);
    CHECK(contact_of(flat, {{4, 0, 0}, {8, 0, 0}, {8, 4, 0}}).kind == Contact::conforming);
    CHECK(contact_of(flat, {{4, 0, 0}, {0, 4, 0}, {4, 4, 0}}).kind == Contact::conforming);
    CHECK(contact_of(flat, {{3, 1, 0}, {1, 3, 0}, {4, 4, 0}}).kind == Contact::coplanar);
    CHECK(contact_of(flat, {{2, 0, 0}, {2, -3, 0}, {4, -3, 0}}).kind == Contact::coplanar);
    CHECK(contact_of(flat, {{1, 1, 0}, {5, 1, 0}, {1, 5, 0}}).kind == Contact::coplanar);
    CHECK(contact_of(flat, {{1, 1, 0}, {1.5, 1, 0}, {1, 1.5, 0}}).kind == Contact::coplanar);
    CHECK(contact_of(flat, {{0, 0, 0}, {4, 0, 0}, {1, 1, 0}}).kind == Contact::coplanar);
    CHECK(contact_of(flat, {{0, 0, 0}, {0, 4, 0}, {4, 0, 0}}).kind == Contact::coplanar);
    CHECK(contact_of(flat, {{0, 0, 0}, {8, 1, 0}, {1, 8, 0}}).kind == Contact::coplanar);
}
TEST_CASE("where nothing coincides, two faces cross where an edge of one goes through the other, by whole numbers") {
    // Determinants of small whole numbers, which nothing rounds: an edge goes through a face if its ends lie on both
    // sides, and all edges of the face lie the same way round it.
    using Point = std::array<long long, 3>;
    auto volume = [](const Point& a, const Point& b, const Point& c, const Point& d) {
        Point u, v, w;
        for (std::size_t k = 0; k < 3; ++k) u[k] = b[k] - a[k], v[k] = c[k] - a[k], w[k] = d[k] - a[k];
        const long long n = u[0] * (v[1] * w[2] - v[2] * w[1]) + u[1] * (v[2] * w[0] - v[0] * w[2]) +
                            u[2] * (v[0] * w[1] - v[1] * w[0]);
        return n > 0 ? 1 : n < 0 ? -1 : 0;
    };
    std::mt19937 random(4242);
    std::uniform_int_distribution<int> small(-9, 9);
    int general = 0, crossings = 0;
    for (int run = 0; run < 40000; ++run) {
        Point t[2][3];
        Vec3 at[2][3];
        for (std::size_t s = 0; s < 2; ++s)
            for (std::size_t k = 0; k < 3; ++k) {
                for (std::size_t axis = 0; axis < 3; ++axis) t[s][k][axis] = small(random);
                at[s][k] = {double(t[s][k][0]), double(t[s][k][1]), double(t[s][k][2])};
            }
        bool is_general = true;
        std::vector<std::pair<int, int>> expected;  // side, edge
        for (std::size_t s = 0; s < 2; ++s)
            for (std::size_t i = 0; i < 3; ++i) {
                const auto &p = t[s][i], &q = t[s][(i + 1) % 3], *o = t[1 - s];
                const int from = volume(o[0], o[1], o[2], p), to = volume(o[0], o[1], o[2], q);
                int turns = 0;
                for (std::size_t k = 0; k < 3; ++k) {
                    const int turn = volume(p, q, o[k], o[(k + 1) % 3]);
                    turns += turn;
                    is_general = is_general && turn != 0;
                }
                is_general = is_general && from != 0;
                if (from * to < 0 && std::abs(turns) == 3) expected.emplace_back(s, i);
            }
        if (!is_general) continue;
        ++general;
        crossings += !expected.empty();
        auto corners = [&](std::size_t s) { return CornerPoints{&at[s][0], &at[s][1], &at[s][2]}; };
        const PlaneFilter planes[] = {{at[0][0], at[0][1], at[0][2]}, {at[1][0], at[1][1], at[1][2]}};
        for (const bool with_planes : {false, true}) {
            const Contact c = with_planes ? triangle_contact(corners(0), corners(1), &planes[0], &planes[1])
                                          : triangle_contact(corners(0), corners(1));
            std::vector<std::pair<int, int>> found;
            for (int k = 0; k < c.count; ++k) {
                REQUIRE(c.points[k].kind == ContactPoint::edge_face);
                found.emplace_back(c.points[k].side, c.points[k].i);
            }
            REQUIRE((c.kind == Contact::crossing) == !expected.empty());
            REQUIRE(found == expected);
        }
    }
    CHECK(general > 10000);
    CHECK(crossings > 1000);
}
TEST_CASE("kept planes change no answer, also where corners and edges are shared or coincide") {
    std::mt19937 random(77);
    std::uniform_int_distribution<int> tiny(0, 2), corner(0, 5);
    int beyond = 0, conforming = 0;
    for (int run = 0; run < 40000; ++run) {
        std::vector<Vec3> points;
        for (int k = 0; k < 6; ++k) points.emplace_back(tiny(random), tiny(random), tiny(random));
        auto face = [&] {
            const auto pick = [&] { return &points[std::size_t(corner(random))]; };
            return CornerPoints{pick(), pick(), pick()};
        };
        const CornerPoints a = face(), b = face();
        if (collinear(*a[0], *a[1], *a[2]) || collinear(*b[0], *b[1], *b[2])) continue;
        const PlaneFilter plane_a(*a[0], *a[1], *a[2]), plane_b(*b[0], *b[1], *b[2]);
        const Contact plain = triangle_contact(a, b), kept = triangle_contact(a, b, &plane_a, &plane_b);
        REQUIRE(plain.kind == kept.kind);
        if (plain.beyond_shared()) REQUIRE(plain.count == kept.count);
        beyond += plain.beyond_shared();
        conforming += plain.kind == Contact::conforming;
    }
    CHECK(beyond > 1000);
    CHECK(conforming > 1000);
}
TEST_CASE("near misses by one bit are misses") {
    const double above = std::nextafter(0.0, 1.0);
    CHECK(contact_of(flat, {{1, 1, above}, {1, 1, 1}, {2, 2, 1}}).kind == Contact::apart);
    CHECK(contact_of(flat, {{4, std::nextafter(0.0, -1.0), 0}, {5, -1, 1}, {5, -1, -1}}).kind == Contact::apart);
}

TEST_CASE("the box tree finds the pairs that trying all finds") {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> place(0, 10), size(0, 1);
    std::vector<Box> boxes(700);
    for (Box& b : boxes) {
        const Vec3 p{place(random), place(random), place(random)};
        b.add(p);
        b.add(p + Vec3{size(random), size(random), size(random)});
    }
    std::vector<std::pair<std::uint32_t, std::uint32_t>> expected, found;
    for (std::uint32_t i = 0; i < boxes.size(); ++i)
        for (std::uint32_t j = i + 1; j < boxes.size(); ++j)
            if (boxes[i].meets(boxes[j])) expected.emplace_back(i, j);
    std::vector<std::vector<std::pair<std::uint32_t, std::uint32_t>>> lists;
    const BoxTree tree(boxes);
    CHECK(tree.self_pairs([&](std::size_t n) { lists.resize(n); },
                          [&](std::size_t t, std::uint32_t i, std::uint32_t j) { lists[t].emplace_back(i, j); }));
    for (const auto& l : lists) found.insert(found.end(), l.begin(), l.end());
    std::sort(found.begin(), found.end());
    CHECK(std::includes(found.begin(), found.end(), expected.begin(), expected.end()));
    // Others only nearly meet: single precision, rounded outward, is within 1e-6 here.
    for (const auto& [i, j] : found) {
        Box wider = boxes[i];
        wider.low = wider.low - Vec3{2e-6, 2e-6, 2e-6};
        wider.high = wider.high + Vec3{2e-6, 2e-6, 2e-6};
        CHECK(wider.meets(boxes[j]));
    }
    CHECK(std::adjacent_find(found.begin(), found.end()) == found.end());
    // Beyond the range of single precision everything is far away from what is near, and nothing is lost.
    const std::vector<Box> far{{{1e300, 0, 0}, {1e301, 1, 1}}, {{2e300, 0, 0}, {3e300, 1, 1}}, {{-1, 0, 0}, {1, 1, 1}}};
    std::vector<std::uint32_t> met;
    BoxTree(far).overlapping(far[0], [&](std::uint32_t item) { met.push_back(item); });
    CHECK(met == std::vector<std::uint32_t>{0, 1});
}

TEST_CASE("distances to a sphere's mesh are those to the sphere, to within the facets") {
    const Mesh sphere = make_icosphere({1, 2, 3}, 5, 5);
    const NearestFace nearest(sphere);
    std::mt19937 random(9);
    std::uniform_real_distribution<double> u(-12, 12);
    for (int k = 0; k < 200; ++k) {
        const Vec3 p{u(random), u(random), u(random)};
        CHECK(nearest.distance(p) == Approx(std::fabs(norm(p - Vec3{1, 2, 3}) - 5)).margin(0.005));
    }
    CHECK(nearest.distance(sphere.points[VertexId(7)]) == 0);
}

TEST_CASE("picking hits the near side, and nothing beside the body") {
    const Mesh box = make_box({0, 0, 0}, {2, 2, 2});
    const Picker picker(box);
    const auto hit = picker.first_hit({1.3, 1.2, 10}, {0, 0, -1});
    REQUIRE(hit);
    CHECK(hit->distance == Approx(8));
    CHECK(box.corner(hit->face, 0).z == 2);
    CHECK(!picker.first_hit({5, 5, 10}, {0, 0, -1}));
    CHECK(!Picker(Mesh{}).first_hit({0, 0, 0}, {1, 0, 0}));
}

TEST_CASE("distances between segments and between triangles equal those of dense sampling") {
    CHECK(segment_distance2({0, 0, 0}, {1, 0, 0}, {0, 1, 1}, {1, 1, 1}) == Approx(2));       // side by side
    CHECK(segment_distance2({0, 0, 0}, {2, 0, 0}, {1, -1, 3}, {1, 1, 3}) == Approx(9));      // across
    CHECK(segment_distance2({0, 0, 0}, {1, 0, 0}, {4, 4, 0}, {5, 5, 0}) == Approx(9 + 16));  // end to end
    CHECK(segment_distance2({0, 0, 0}, {0, 0, 0}, {3, 4, 0}, {3, 4, 0}) == Approx(25));      // points
    for (unsigned seed = 1; seed <= 50; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> u(-2, 2);
        auto p = [&] { return Vec3{u(random), u(random), u(random)}; };
        const Vec3 a = p(), b = p(), c = p(), d = p();
        double least = 1e300;
        for (int i = 0; i <= 200; ++i)
            for (int j = 0; j <= 200; ++j) {
                const Vec3 e = a + (b - a) * (i / 200.0) - (c + (d - c) * (j / 200.0));
                least = std::min(least, dot(e, e));
            }
        CHECK(std::sqrt(segment_distance2(a, b, c, d)) == Approx(std::sqrt(least)).margin(0.03));
        CHECK(segment_distance2(a, b, c, d) <= least + 1e-12);
    }
    // Two spheres: the distance of their centres less both radii, to within the facets.
    auto distance = [](const Mesh& a, const Mesh& b) {
        double least2 = HUGE_VAL;
        for (const Triangle& t : a.faces)
            for (const Triangle& u : b.faces)
                least2 = std::min(
                    least2, triangle_distance2(corner_points(a.points.raw(), t), corner_points(b.points.raw(), u)));
        return std::sqrt(least2);
    };
    // Only the faces that look at the other sphere can be the nearest ones.
    auto facing = [](Mesh sphere, const Vec3& center, const Vec3& other, double radius) {
        std::erase_if(sphere.faces.raw(), [&](const Triangle& t) {
            return dot(sphere.points[t[0]] - center, normalized(other - center)) < 0.97 * radius;
        });
        return sphere;
    };
    const Vec3 here{0, 0, 0}, there{7, 8, 9};
    CHECK(distance(facing(make_icosphere(here, 5, 5), here, there, 5),
                   facing(make_icosphere(there, 3, 4), there, here, 3)) == Approx(std::sqrt(194.0) - 8).margin(0.02));
    CHECK(distance(make_box({0, 0, 0}, {1, 1, 1}), make_box({2, 2, 2}, {3, 3, 3})) == Approx(std::sqrt(3.0)));
}

TEST_CASE("with the faces' boxes in doubles, the pairs that nearly meet are dropped, and no other") {
    // Faces between planes 1e-9 apart, where single precision has steps of 1e-6.
    std::mt19937 random(11);
    std::uniform_real_distribution<double> place(9, 10), size(-0.1, 0.1);
    std::vector<Vec3> points;
    std::vector<Triangle> faces;
    for (std::uint32_t f = 0; f < 600; ++f) {
        const double low = 9 + 1e-9 * static_cast<double>(random() % 20);
        const Vec3 p{place(random), place(random), low};
        points.push_back(p);
        points.push_back(p + Vec3{size(random), size(random), 0.9e-9});
        points.push_back(p + Vec3{size(random), size(random), 0});
        faces.push_back({VertexId(3 * f), VertexId(3 * f + 1), VertexId(3 * f + 2)});
    }
    auto box = [&](std::uint32_t f) { return box_of(corner_points(points, faces[f])); };
    using Pairs = std::vector<std::pair<std::uint32_t, std::uint32_t>>;
    Pairs expected;
    for (std::uint32_t i = 0; i < faces.size(); ++i)
        for (std::uint32_t j = i + 1; j < faces.size(); ++j)
            if (box(i).meets(box(j))) expected.emplace_back(i, j);
    const BoxTree tree(points, faces);
    const LeafBoxes boxes(tree, points, faces);
    auto found = [&](const auto& drop) {
        std::vector<Pairs> lists;
        tree.self_pairs([&](std::size_t n) { lists.resize(n); },
                        [&](std::size_t t, std::uint32_t i, std::uint32_t j) { lists[t].emplace_back(i, j); }, nullptr,
                        drop);
        Pairs all;
        for (const Pairs& list : lists) all.insert(all.end(), list.begin(), list.end());
        std::sort(all.begin(), all.end());
        return all;
    };
    CHECK(found([&](auto a, auto b, unsigned pairs) { return boxes.apart(a, b, pairs); }) == expected);
    CHECK(found([](auto, auto, unsigned) { return 0u; }).size() > 3 * expected.size());
    REQUIRE(expected.size() > 100);
}

TEST_CASE("a box that a triangle's plane surely misses has all its corners on one side, and near ones are found out") {
    std::mt19937 random(23);
    std::uniform_real_distribution<double> place(-1, 1);
    auto point = [&] { return Vec3{place(random), place(random), place(random)}; };
    int missed = 0;
    for (int n = 0; n < 20'000; ++n) {
        const Vec3 t[3] = {point(), point(), point()};
        const Vec3 low = point(), size = point() * std::pow(10.0, -4 * (n % 4));
        Box box;
        box.add(low), box.add(low + size);
        const FloatBox around(box);
        int sides[3] = {0, 0, 0};
        for (int k = 0; k < 8; ++k)
            ++sides[1 + orient3d(t[0], t[1], t[2],
                                 {k & 1 ? around.high[0] : around.low[0], k & 2 ? around.high[1] : around.low[1],
                                  k & 4 ? around.high[2] : around.low[2]})];
        const bool misses = sides[0] == 8 || sides[2] == 8;
        CHECK(plane_surely_misses({&t[0], &t[1], &t[2]}, around) == misses);  // at random none is too near to tell
        missed += misses;
    }
    CHECK(missed > 10'000);
    // A box that touches the plane with one corner, and a triangle without a plane, are never missed.
    const Vec3 slanted[3] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}, line[3] = {{0, 0, 0}, {1, 1, 1}, {3, 3, 3}};
    const float low[3] = {-1, -1, 0.5f}, high[3] = {0.25f, 0.25f, 0.5f};
    CHECK(!plane_surely_misses({&slanted[0], &slanted[1], &slanted[2]}, FloatBox(low, high)));
    CHECK(!plane_surely_misses({&line[0], &line[1], &line[2]}, FloatBox(low, high)));
}

TEST_CASE(
    "a large slanted face is not held against what lies in its box and beside its plane; contacts stay the same") {
    const Mesh ball = make_icosphere({0, 0, 0}, 10, 5);
    const Mesh large = make_icosphere({9, 12, 13}, 20, 0);
    const BoxTree fine(ball.points.raw(), ball.faces.raw()), coarse(large.points.raw(), large.faces.raw());
    auto beside = [&](bool of_large, std::uint32_t f, const FloatBox& box) {
        const Mesh& mesh = of_large ? large : ball;
        return plane_surely_misses(corner_points(mesh.points.raw(), mesh.faces[FaceId(f)]), box);
    };
    struct Found {
        std::vector<std::pair<std::uint32_t, std::uint32_t>> contacts;
        std::size_t looked_at = 0;
    };
    auto found = [&](const auto& search) {
        std::vector<Found> lists;
        search([&](std::size_t n) { lists.resize(n); },
               [&](std::size_t task, std::uint32_t i, std::uint32_t j) {
                   ++lists[task].looked_at;
                   if (triangle_contact(corner_points(ball.points.raw(), ball.faces[FaceId(i)]),
                                        corner_points(large.points.raw(), large.faces[FaceId(j)]))
                           .kind != Contact::apart)
                       lists[task].contacts.emplace_back(i, j);
               });
        Found all;
        for (const Found& list : lists) {
            all.contacts.insert(all.contacts.end(), list.contacts.begin(), list.contacts.end());
            all.looked_at += list.looked_at;
        }
        std::ranges::sort(all.contacts);
        return all;
    };
    const Found plain = found([&](const auto& begin, const auto& visit) { fine.pairs(coarse, begin, visit); });
    const Found fewer =
        found([&](const auto& begin, const auto& visit) { fine.pairs(coarse, begin, visit, nullptr, {}, beside); });
    REQUIRE(plain.contacts.size() > 100);
    CHECK(fewer.contacts == plain.contacts);
    CHECK(fewer.looked_at * 3 < plain.looked_at);
}
