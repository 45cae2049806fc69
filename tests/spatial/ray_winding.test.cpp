#include "core/spatial/ray_winding.h"

#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// From beside every face, the rays' count equals the solid angle there.
void check_against_solid_angles(const Mesh& mesh) {
    const auto& points = mesh.points.raw();
    const auto& faces = mesh.faces.raw();
    const BoxTree tree(points, faces);
    std::size_t wrong = 0;
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        int winding = 0;
        const SideRay ray(corner_points(points, mesh.faces[f]));
        ray.cast(points, faces, tree, [&](std::uint32_t, int sign) { winding += sign; });
        const bool front = ray.in_front();
        const Vec3 normal =
            normalized(cross(mesh.corner(f, 1) - mesh.corner(f, 0), mesh.corner(f, 2) - mesh.corner(f, 0)));
        const Vec3 start = face_middle(mesh, f) + normal * (front ? 1e-6 : -1e-6);
        wrong += std::fabs(winding_number(mesh, start) - winding) > 0.01;
    }
    CHECK(wrong == 0);
}

}  // namespace

TEST_CASE("rays tell a box's outside from its inside, through corners and edges too") {
    // Along an axis each ray from a face of a box meets the diagonals and edges of others: every tie there is.
    check_against_solid_angles(make_box({0, 0, 0}, {2, 2, 2}));
    Mesh row = make_box({0, 0, 0}, {2, 2, 2});
    for (int k = 1; k < 4; ++k) append(row, make_box({3.0 * k, 0, 0}, {3.0 * k + 2, 2, 2}));
    check_against_solid_angles(row);
}

TEST_CASE("rays count how often a place is wound round: nested, doubled, inside out") {
    Mesh nested = make_box({0, 0, 0}, {8, 8, 8});
    append(nested, make_box({1, 1, 1}, {7, 7, 7}));
    append(nested, make_box({2, 2, 2}, {6, 6, 6}));
    check_against_solid_angles(nested);
    Mesh hollow = make_icosphere({0, 0, 0}, 5, 2), inner = make_icosphere({0.1, 0.2, 0.3}, 3, 2);
    turn_over(inner);
    append(hollow, inner);
    check_against_solid_angles(hollow);
    check_against_solid_angles(make_torus(5, 2, 16, 10));
    Mesh inside_out = make_icosphere({0, 0, 0}, 2, 1);
    turn_over(inside_out);
    check_against_solid_angles(inside_out);
}
