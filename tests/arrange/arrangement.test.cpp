// The pairing matrix: each kind of element of one solid on each kind of the other, every arrangement judged with
// rational numbers. Then random solids on a small grid of integers, where such meetings are the rule.
#include <set>

#include "tests/arrange/exact_check.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Mesh tetrahedron(const std::array<Vec3, 4>& p) {
    Mesh mesh;
    for (const Vec3& v : p) mesh.points.push_back(v);
    for (const auto& [a, b, c] : {std::array{0, 2, 1}, {0, 1, 3}, {1, 2, 3}, {2, 0, 3}})
        mesh.faces.push_back({VertexId(a), VertexId(b), VertexId(c)});
    if (signed_volume(mesh) < 0) turn_over(mesh);
    return mesh;
}

/// Corners (0,0,0), (4,0,0), (0,4,0), (0,0,4): an edge along each axis, a slanted face.
const Mesh corner_piece = tetrahedron({{{0, 0, 0}, {4, 0, 0}, {0, 4, 0}, {0, 0, 4}}});

/// Arranges and judges; `crossing` says whether anything may be found to cross or touch at all.
Arrangement judged(const std::vector<Mesh>& operands) {
    std::vector<const Mesh*> pointers;
    for (const Mesh& m : operands) pointers.push_back(&m);
    Progress progress;
    auto arrangement = arrange(pointers, progress);
    REQUIRE(arrangement);
    const ArrangementVerdict verdict = judge(*arrangement, operands);
    INFO(verdict.text());
    CHECK(verdict.sound());
    return std::move(*arrangement);
}
Arrangement against_corner_piece(const std::array<Vec3, 4>& other) {
    return judged({corner_piece, tetrahedron(other)});
}

}  // namespace

TEST_CASE("apart: the outside, and what each encloses") {
    const Arrangement a = against_corner_piece({{{9, 9, 9}, {10, 9, 9}, {9, 10, 9}, {9, 9, 10}}});
    CHECK(a.crossing_pairs() + a.coplanar_pairs() == 0);
    CHECK(a.cells.count == 3);
}
TEST_CASE("regions that several surfaces bound are one cell, whichever way they lie to each other") {
    // A box with bodies in it, one of those with a body in it, all in a row along each axis in turn, so that rays pass
    // through neighbours, corners and edges; and bodies beside it.
    for (int axis = 0; axis < 3; ++axis) {
        std::vector<Mesh> operands{make_box({0, 0, 0}, {20, 20, 20})};
        for (const double at : {2.0, 7.0, 12.0, 30.0}) {
            Mesh inner = make_box({2, 2, 2}, {5, 5, 5});
            for (Vec3& p : inner.points) p[axis] += at - 2;
            operands.push_back(inner);
        }
        operands.push_back(make_icosphere({3.5, 3.5, 3.5}, 1, 1));
        const Arrangement a = judged(operands);
        CHECK(a.cells.count == 1 + operands.size());
        // The box's inside: one cell, in front of all three bodies in it and behind its own skin.
        std::set<std::uint32_t> between;
        for (std::uint32_t p = 0; p < a.patches.size(); ++p) {
            const std::uint32_t o = a.patches.list[p].operand;
            if (o <= 3) between.insert(a.cells.of_patch[p][o == 0 ? 1 : 0]);
        }
        CHECK(between.size() == 1);
    }
}
TEST_CASE("corner on corner: nothing is split, the corner is one point") {
    const Arrangement a = against_corner_piece({{{0, 0, 0}, {-1, -1, -3}, {-3, -1, -1}, {-1, -3, -1}}});
    CHECK(all_faces(a).corners.size() == 8);
    std::set<VertexId> points;
    for (const Triangle& t : all_faces(a).corners) points.insert(t.begin(), t.end());
    CHECK(points.size() == 7);
    CHECK(a.cells.count == 3);
}
TEST_CASE("corner on edge splits the edge's two faces") {
    const Arrangement a = against_corner_piece({{{2, 0, 0}, {2, -1, -3}, {1, -3, -1}, {3, -2, -2}}});
    CHECK(all_faces(a).corners.size() == 4 + 4 + 2);
}
TEST_CASE("corner on face splits the face in three") {
    const Arrangement a = against_corner_piece({{{1, 1, 0}, {1, 1, -3}, {2, 1, -3}, {1, 2, -3}}});
    CHECK(all_faces(a).corners.size() == 4 + 4 + 2);
}
TEST_CASE("edge across edge: both are split where they cross") {
    const Arrangement a = against_corner_piece({{{2, -1, -1}, {2, 1, 1}, {2, -5, 1}, {1, -5, 1}}});
    CHECK(a.crossing_pairs() > 0);
}
TEST_CASE("edges touch crosswise from outside") {
    const Arrangement a = against_corner_piece({{{2, 1, -1}, {2, -1, 1}, {2, -2, -2}, {3, -2, -2}}});
    CHECK(all_faces(a).corners.size() > 8);
    CHECK(a.cells.count == 3);  // they touch in one point: no volume in common
}
TEST_CASE("edge on edge: in part, and in whole") {
    CHECK(against_corner_piece({{{1, 0, 0}, {3, 0, 0}, {1, -1, -1}, {1, -2, -1}}}).cells.count == 3);
    CHECK(against_corner_piece({{{3, 0, 0}, {6, 0, 0}, {1, -1, -1}, {1, -2, -1}}}).cells.count == 3);
    CHECK(against_corner_piece({{{0, 0, 0}, {4, 0, 0}, {1, -1, -1}, {1, -2, -1}}}).cells.count == 3);
}
TEST_CASE("edge lies in a face") {
    CHECK(against_corner_piece({{{1, 1, 0}, {2, 1, 0}, {1, 1, -2}, {2, 2, -2}}}).cells.count == 3);
}
TEST_CASE("edge runs through a face and ends in another") {
    against_corner_piece({{{1, 1, -1}, {1, 1, 2}, {-3, -3, -1}, {-3, -2, -1}}});
}
TEST_CASE("face on face: over each other in part, nested, the same, and sharing an edge") {
    CHECK(against_corner_piece({{{1, 1, 0}, {6, 1, 0}, {1, 6, 0}, {1, 1, -4}}}).coplanar_pairs() > 0);
    CHECK(against_corner_piece({{{1, 1, 0}, {2, 1, 0}, {1, 2, 0}, {1, 1, -4}}}).coplanar_pairs() > 0);
    CHECK(against_corner_piece({{{0, 0, 0}, {4, 0, 0}, {0, 4, 0}, {0, 0, -4}}}).cells.count == 3);
    CHECK(against_corner_piece({{{0, 0, 0}, {4, 0, 0}, {0, -4, 0}, {0, 0, -4}}}).cells.count == 3);
    // The same faces from the same side: the larger body holds the smaller one.
    CHECK(against_corner_piece({{{0, 0, 0}, {2, 0, 0}, {0, 2, 0}, {0, 0, 2}}}).cells.count == 3);
}
TEST_CASE("crossing, nested, identical, reversed") {
    CHECK(against_corner_piece({{{1, 1, 1}, {5, 1, 1}, {1, 5, 1}, {1, 1, 5}}}).cells.count == 4);
    CHECK(against_corner_piece({{{0.5, 0.5, 0.5}, {1, 0.5, 0.5}, {0.5, 1, 0.5}, {0.5, 0.5, 1}}}).cells.count == 3);
    const Arrangement same = judged({corner_piece, corner_piece});
    CHECK(same.cells.count == 2);
    CHECK(all_faces(same).corners.size() == 4);
    CHECK(same.faces.sources[same.faces.source[0]].size() == 2);
    Mesh reversed = corner_piece;
    turn_over(reversed);
    const Arrangement against = judged({corner_piece, reversed});
    CHECK(against.cells.count == 2);
    CHECK(against.faces.sources[against.faces.source[0]][1].reversed);
}
TEST_CASE("three planes through one point make one point of three crossings") {
    const Mesh x = make_box({-3, -1, -1}, {3, 1, 1}), y = make_box({-1, -3, -1}, {1, 3, 1}),
               z = make_box({-1, -1, -3}, {1, 1, 3});
    const Arrangement a = judged({x, y, z});
    std::int32_t most = 0;
    for (std::uint32_t c = 0; c < a.cells.count; ++c)
        most = std::max(most, a.cells.winding_of(c)[0] + a.cells.winding_of(c)[1] + a.cells.winding_of(c)[2]);
    CHECK(most == 3);
    CHECK(a.cells.count == 1 + 1 + 6);  // outside, the middle, six arms
}
TEST_CASE("a face laid over itself twice within one operand is wound twice") {
    Mesh twice = corner_piece;
    append(twice, corner_piece);
    const Arrangement a = judged({twice});
    CHECK(all_faces(a).corners.size() == 4);
    std::int32_t most = 0;
    for (std::int32_t w : a.cells.winding) most = std::max(most, w);
    CHECK(most == 2);
}

namespace {

/// Two tetrahedra or three whose corners are whole numbers of 0 to 4: corners, edges and faces meet in every way.
void judge_on_grid(unsigned seed) {
    std::mt19937 random(seed);  // one number repeats one case
    auto pick = [&] {
        auto c = [&] { return static_cast<double>(random() % 5); };
        return Vec3{c(), c(), c()};
    };
    std::vector<Mesh> operands;
    while (operands.size() < 2 + seed % 2) {
        const Mesh t = tetrahedron({pick(), pick(), pick(), pick()});
        if (std::fabs(signed_volume(t)) > 0.1) operands.push_back(t);
    }
    INFO("seed " << seed);
    judged(operands);
}
constexpr unsigned some_seeds = instrumented ? 16 : 40;

}  // namespace

TEST_CASE("random solids on a grid of integers: every arrangement is exact") {
    for (unsigned seed = 1; seed <= some_seeds; ++seed) judge_on_grid(seed);
}

TEST_CASE("many random solids on a grid of integers: every arrangement is exact", "[.long]") {
    for (unsigned seed = some_seeds + 1; seed <= 400; ++seed) judge_on_grid(seed);
}

TEST_CASE("random solids in general and in nearly flush position: every arrangement is exact") {
    for (unsigned seed = 1; seed <= (instrumented ? 3 : 12); ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> coordinate(0, 4);
        auto pick = [&] { return Vec3{coordinate(random), coordinate(random), coordinate(random)}; };
        INFO("seed " << seed);
        judged({tetrahedron({pick(), pick(), pick(), pick()}), tetrahedron({pick(), pick(), pick(), pick()})});
    }
    for (const double angle : {1e-3, 1e-12}) {
        INFO("turned by " << angle);
        // Skins thinner than the step by which windings are sampled are left to the inclusion tests of combine.
        std::vector<Mesh> operands{make_box({0, 0, 0}, {2, 2, 2}),
                                   turned(make_box({0, 0, 0}, {2, 2, 2}), angle, {1, 2, 3})};
        std::vector<const Mesh*> pointers{&operands[0], &operands[1]};
        Progress progress;
        const auto arrangement = arrange(pointers, progress);
        REQUIRE(arrangement);
        const ArrangementVerdict verdict = judge(*arrangement, operands);
        CHECK(verdict.badly_met == 0);
        CHECK(verdict.degenerate == 0);
    }
}

TEST_CASE("one operand used twice is arranged as two") {
    Progress progress;
    const auto operand = make_operand(corner_piece, {}, progress);
    REQUIRE(operand);
    const auto a = arrange({*operand, *operand}, progress);
    REQUIRE(a);
    CHECK(a->cells.count == 2);
    CHECK(all_faces(*a).corners.size() == 4);
}

TEST_CASE("where one operand moved, kept contacts give the same arrangement as new ones") {
    Progress progress;
    ContactCache cache;
    const Mesh body = make_icosphere({0, 0, 0}, 4, 2), bar = make_box({-1, -1, -9}, {1, 1, 9});
    const auto fixed = make_operand(body, {}, progress), other = make_operand(bar, {}, progress);
    REQUIRE(fixed);
    REQUIRE(other);
    for (const double x : {-6.0, -3.5, 0.25, 3.0}) {
        const auto cutter = make_operand(moved(make_box({-1, -1, -1}, {1, 1, 1}), {x, 0.3, 0.1}), {}, progress);
        REQUIRE(cutter);
        const auto with = arrange({*fixed, *other, *cutter}, progress, &cache);
        const auto without = arrange({*fixed, *other, *cutter}, progress);
        REQUIRE(with);
        REQUIRE(without);
        CHECK(all_faces(*with).corners == all_faces(*without).corners);
        CHECK(with->cells.winding == without->cells.winding);
        CHECK(cache.of.size() <= 3);
    }
}

TEST_CASE("links of a chain lie over each other in turns, and are told from the outside all the same") {
    const Mesh ring = make_torus(10, 2, 24, 12);
    const Mesh other = moved(turned(ring, 1.5707, {1, 0, 0}), {10, 0, 0});
    for (int k = 0; k < 60; ++k) {
        INFO("pose " << k);
        const Vec3 axis{1, static_cast<double>(k % 5), static_cast<double>(k % 3)};
        Mesh both = turned(ring, 0.37 * k, axis);
        append(both, turned(other, 0.37 * k, axis));
        const Mesh* operand = &both;
        Progress progress;
        const auto arrangement = arrange(std::span(&operand, 1), progress);
        REQUIRE(arrangement);
        const auto solid = combine(*arrangement, {}, progress);
        REQUIRE(solid);
        CHECK(signed_volume(solid->mesh) == Approx(2 * signed_volume(ring)));
    }
}
