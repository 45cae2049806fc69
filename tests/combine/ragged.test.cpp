// Surfaces in parts whose borders do not fit together: the generalized winding number tells what they enclose.
#include <numbers>

#include "core/spatial/delaunay.h"
#include "core/spatial/solid_angle.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Two triangles for each side of a box, each side moved outward by `gap`.
Mesh sides_apart(double size, double gap) {
    Mesh box = make_box({0, 0, 0}, {size, size, size}), out;
    for (const FaceId f : ids<FaceId>(box.faces.size())) {
        const Vec3 n = normalized(cross(box.corner(f, 1) - box.corner(f, 0), box.corner(f, 2) - box.corner(f, 0)));
        Triangle t;
        for (int k = 0; k < 3; ++k) t[static_cast<std::size_t>(k)] = out.points.push_back(box.corner(f, k) + n * gap);
        out.faces.push_back(t);
    }
    return welded(out);
}

const Mesh bore = make_box({3, 3, -5}, {5, 5, 15});

}  // namespace

TEST_CASE("directions covered by a face: an eighth, all of them from inside, none from its plane") {
    // An octant of directions is an eighth of them.
    CHECK(covered_directions({0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}) == Approx(0.125));
    CHECK(covered_directions({0, 0, 0}, {0, 1, 0}, {1, 0, 0}, {0, 0, 1}) == Approx(-0.125));
    CHECK(covered_directions({0.2, 0.2, 0}, {0, 0, 0}, {1, 0, 0}, {0, 1, 0}) == 0);
    const Mesh sphere = make_icosphere({0, 0, 0}, 2, 2);
    double inside = 0, outside = 0;
    for (const FaceId f : ids<FaceId>(sphere.faces.size())) {
        inside += covered_directions({0.3, 1, -0.4}, sphere.corner(f, 0), sphere.corner(f, 1), sphere.corner(f, 2));
        outside += covered_directions({3, 1, -0.4}, sphere.corner(f, 0), sphere.corner(f, 1), sphere.corner(f, 2));
    }
    CHECK(inside == Approx(1));
    CHECK(outside == Approx(0).margin(1e-12));
}

TEST_CASE("Delaunay faces: those of a tetrahedron, none of a flat set, and all spheres round them are empty") {
    const std::vector<Vec3> four{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
    CHECK(delaunay_faces(four).size() == 4);
    const std::vector<Vec3> flat{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {1, 1, 0}, {2, 3, 0}};
    CHECK(delaunay_faces(flat).empty());
    CHECK(delaunay_faces({}).empty());
    // Euler's formula for a triangulated ball of four points on its hull and one inside: 10 faces, 4 of them outside.
    const std::vector<Vec3> five{{0, 0, 0}, {4, 0, 0}, {0, 4, 0}, {0, 0, 4}, {1, 1, 1}};
    CHECK(delaunay_faces(five).size() == 10);
}

TEST_CASE("six sides of a box with gaps between them cut and are cut like the box") {
    for (const double gap : {0.01, 0.1, 0.3}) {
        INFO("gap " << gap);
        const Mesh apart = sides_apart(8, gap);
        REQUIRE(inspected(apart).count(FindingKind::holes) == 6);
        const Combined result = combined(Operation::difference, {apart, bore});
        CHECK(!result.empty);
        CHECK(says(result, "Operand 1: It was open, in 6 parts with 6 borders"));
        CHECK(result.closed_holes.size() == 6);
        // Between the box itself and the one that its sides lie on, less the bore's hole.
        CHECK(signed_volume(result.mesh) >= 512 - 4 * 8 - 1e-9);
        CHECK(signed_volume(result.mesh) <= std::pow(8 + 2 * gap, 3) - 4 * (8 + 2 * gap) + 1e-9);
        // What was there is still there, and says where it comes from.
        std::size_t kept = 0;
        for (const FaceSource& s : result.source) kept += s.operand == 0 && s.face.valid();
        CHECK(kept >= 12);
    }
}

TEST_CASE("a sphere in loose parts with cracks between them keeps its volume") {
    const Mesh sphere = make_icosphere({4, 4, 4}, 3.5, 4);
    Mesh parts;
    // Eight octants, each moved outward by a hundredth of the radius.
    for (const FaceId f : ids<FaceId>(sphere.faces.size())) {
        const Vec3 middle =
            (sphere.corner(f, 0) + sphere.corner(f, 1) + sphere.corner(f, 2)) * (1.0 / 3) - Vec3{4, 4, 4};
        const Vec3 out =
            Vec3{std::copysign(1, middle.x), std::copysign(1, middle.y), std::copysign(1, middle.z)} * 0.02;
        Triangle t;
        for (int k = 0; k < 3; ++k) t[static_cast<std::size_t>(k)] = parts.points.push_back(sphere.corner(f, k) + out);
        parts.faces.push_back(t);
    }
    parts = welded(parts);
    const Combined result = combined(Operation::union_of, {parts, make_box({20, 0, 0}, {21, 1, 1})});
    CHECK(says(result, "in 8 parts"));
    // At least the sphere, at most one that is larger by as much as the parts moved.
    const double grown = std::pow(1 + 0.02 * std::sqrt(3) / 3.5, 3);
    CHECK(signed_volume(result.mesh) > signed_volume(sphere) + 1);
    CHECK(signed_volume(result.mesh) < signed_volume(sphere) * grown + 1);
}

TEST_CASE("sheets stay sheets: a flat one, two far apart, an array of cutters that look the same way") {
    const Mesh base = make_box({0, 0, 0}, {8, 8, 8});
    Mesh array;
    for (const double z : {2.0, 4.0, 6.0}) append(array, moved(make_plate({0, 0, 0}, 30, 30), {4, 4, z}));
    const Combined sliced = combined_only(Operation::split, {base, array});
    CHECK(sliced.pieces() == 4);
    for (std::size_t k = 0; k < sliced.pieces(); ++k) CHECK(findings_text(inspected(sliced.piece(k))) == "none");
    CHECK(signed_volume(sliced.mesh) == Approx(512));
    Mesh far = moved(make_plate({0, 0, 0}, 10, 10), {4, 4, 2}), other = moved(make_plate({0, 0, 0}, 10, 10), {4, 4, 7});
    turn_over(far);
    append(far, other);
    CHECK(combined_only(Operation::split, {base, far}).pieces() == 3);
}
