// What a combine reports beside its result: curves, flush areas, closed holes.
#include <numbers>

#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("curves: a bore through a plate leaves two closed ones, as long as its polygon") {
    const int sides = 48;
    const Combined c =
        combined(Operation::difference, {make_box({-5, -5, 0}, {5, 5, 2}), make_frustum(2, 2, -1, 3, sides)});
    REQUIRE(c.curves.size() == 2);
    for (const CrossingCurve& curve : c.curves) {
        CHECK(curve.closed);
        CHECK(curve.a == 0);
        CHECK(curve.b == 1);
        // The circumference of a regular polygon: 2 n r sin(pi / n).
        CHECK(curve.length() == Approx(2 * sides * 2 * std::sin(std::numbers::pi / sides)));
        for (const Vec3& p : curve.points) CHECK((p.z == 0 || p.z == 2));
    }
}

TEST_CASE(
    "curves: two spheres meet in one circle; the union of bodies apart has none; three operands name their pairs") {
    // Spheres of radius 5, 6 apart: a circle of radius 4.
    const Combined lens =
        combined(Operation::union_of, {make_icosphere({0, 0, 0}, 5, 4), make_icosphere({6, 0, 0}, 5, 4)});
    REQUIRE(lens.curves.size() == 1);
    CHECK(lens.curves[0].closed);
    CHECK(lens.curves[0].length() == Approx(2 * std::numbers::pi * 4).epsilon(0.01));
    CHECK(
        combined(Operation::union_of, {make_box({0, 0, 0}, {1, 1, 1}), make_box({2, 0, 0}, {3, 1, 1})}).curves.empty());
    const Combined cross =
        combined(Operation::difference,
                 {make_box({0, 0, 0}, {10, 10, 2}), make_box({1, 1, -1}, {4, 4, 3}), make_box({3, 3, -1}, {6, 6, 3})});
    std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs;
    for (const CrossingCurve& curve : cross.curves) pairs.emplace_back(curve.a, curve.b);
    std::sort(pairs.begin(), pairs.end());
    pairs.erase(std::unique(pairs.begin(), pairs.end()), pairs.end());
    CHECK(pairs == std::vector<std::pair<std::uint32_t, std::uint32_t>>{{0, 1}, {0, 2}, {1, 2}});
}

TEST_CASE("curves: what scribe draws is one, though nothing of the operand is in the result") {
    const Combined c =
        combined(Operation::scribe, {make_box({0, 0, 0}, {10, 10, 10}), make_box({3, 3, 8}, {7, 6, 12})});
    REQUIRE(c.curves.size() == 1);
    CHECK(c.curves[0].closed);
    CHECK(c.curves[0].length() == Approx(2 * (4 + 3)));
    CHECK(c.curves[0].a == 0);
    CHECK(c.curves[0].b == 0);
}

TEST_CASE("flush areas: bodies side by side, and one within the other against the same wall") {
    const Mesh base = make_box({0, 0, 0}, {10, 10, 10});
    const Combined ear = combined(Operation::union_of, {base, make_box({10, 2, 3}, {14, 6, 8})});
    REQUIRE(ear.flush.size() == 1);
    CHECK(ear.flush[0].facing);
    CHECK(ear.flush[0].area == Approx(4 * 5));
    CHECK(ear.flush[0].place.x == 10);
    const Combined notch = combined(Operation::difference, {base, make_box({2, 2, 5}, {4, 5, 10})});
    REQUIRE(notch.flush.size() == 1);
    CHECK(!notch.flush[0].facing);
    CHECK(notch.flush[0].area == Approx(2 * 3));
    CHECK(combined(Operation::union_of, {base, make_box({3, 3, 3}, {14, 6, 8})}).flush.empty());
}

TEST_CASE("closed holes are reported with their operand and rim") {
    Mesh open = make_box({0, 0, 0}, {8, 8, 8});
    open.faces.raw().pop_back();
    const Combined c = combined(Operation::difference, {make_box({-9, -9, -9}, {9, 9, 9}), open});
    REQUIRE(c.closed_holes.size() == 1);
    CHECK(c.closed_holes[0].operand == 1);
    CHECK(c.closed_holes[0].rim.size() == 3);
}

TEST_CASE("materials survive: each face of the result has that of the face it is a part of") {
    auto painted = [](Mesh mesh, std::vector<Material> materials) {
        mesh.materials = std::move(materials);
        for (std::uint32_t f = 0; f < mesh.faces.size(); ++f)
            mesh.material.push_back(f % static_cast<std::uint32_t>(mesh.materials.size()));
        return mesh;
    };
    const Mesh body = painted(make_icosphere({0, 0, 0}, 5, 2), {{"brass", {}}, {"red", {{200, 0, 0}}}});
    const Mesh cutter = painted(make_box({0, -1, -1}, {9, 1, 1}), {{"red", {{200, 0, 0}}}, {"blue", {{0, 0, 200}}}});
    const Mesh plain = make_box({-9, -1, -1}, {0, 1, 1});
    const Combined c = combined(Operation::difference, {body, cutter, plain});
    REQUIRE(c.mesh.material.size() == c.mesh.faces.size());
    CHECK(c.mesh.materials.size() == 3);
    for (FaceId f : ids<FaceId>(c.mesh.faces.size())) {
        const FaceSource& s = c.source[f.value()];
        if (s.operand == 2) {
            CHECK(c.mesh.material[f] == no_material);
            continue;
        }
        const Mesh& from = s.operand == 0 ? body : cutter;
        CHECK(c.mesh.materials[c.mesh.material[f]] == from.materials[from.material[s.face]]);
    }
    const Combined pieces = combined_only(Operation::inlay, {body, cutter});
    for (std::size_t k = 0; k < pieces.pieces(); ++k)
        CHECK(pieces.piece(k).material.size() == pieces.piece(k).faces.size());
    CHECK(combined(Operation::union_of, {plain, moved(plain, {1, 0, 0})}).mesh.material.empty());
}
