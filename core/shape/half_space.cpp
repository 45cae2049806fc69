// A half space: it ends at a plane, and nowhere else.
#include <cmath>

#include "core/mesh/primitives.h"
#include "core/shape/shapes.h"

namespace anvil {

Result<Solid> half_space_slab(double side) {
    Solid out{make_box({-side / 2, -side / 2, 0}, {side / 2, side / 2, side / 40}), {}};
    for (FaceId f : ids<FaceId>(out.mesh.faces.size())) {
        bool in_plane = true;
        for (int k = 0; k < 3; ++k) in_plane = in_plane && out.mesh.corner(f, k).z == 0;
        out.side.push_back(in_plane ? 0 : 1);
    }
    return out;
}

Solid half_space_within(double reach) {
    // A power of two, so that a body that grows a little meets the same faces.
    double r = 1;
    while (r < reach) r *= 2;
    while (r / 2 > reach) r /= 2;
    // The plane is one triangle, whose edges stay 8 r from the origin; at the height r they still do 7 r.
    Solid out;
    for (const Vec3& p : {Vec3{-16, -8, 0}, Vec3{16, -8, 0}, Vec3{0, 24, 0}, Vec3{0, 0, 16}})
        out.mesh.points.push_back(p * r);
    const VertexId a(0), b(1), c(2), top(3);
    for (const Triangle& t : {Triangle{a, c, b}, Triangle{a, b, top}, Triangle{b, c, top}, Triangle{c, a, top}}) {
        out.side.push_back(out.mesh.faces.empty() ? 0 : 1);
        out.mesh.faces.push_back(t);
    }
    return out;
}

}  // namespace anvil
