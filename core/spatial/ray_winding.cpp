// Based on: H. Edelsbrunner, E. P. Muecke, "Simulation of Simplicity" (1990), for the ties: the ray is moved by
// infinitely small amounts instead of being shot again.
#include "core/spatial/ray_winding.h"

#include "core/exact/predicates.h"

namespace anvil {
namespace {

/// orient2d(a, b, p) for a point p that is moved by an infinitely small step along u and a still smaller one along v,
/// so that it lies on no line: 0 only where a and b are one in the projection.
int orient2d_moved(const Vec3& a, const Vec3& b, const PointView& p, int axis) {
    if (const int s = orient2d(PointView{a}, PointView{b}, p, axis); s != 0) return s;
    const Projection k(axis);
    if (a[k.v] != b[k.v]) return a[k.v] > b[k.v] ? 1 : -1;
    if (a[k.u] != b[k.u]) return b[k.u] > a[k.u] ? 1 : -1;
    return 0;
}

}  // namespace

SideRay::SideRay(const std::array<PointView, 3>& corners, const CornerPoints& plane) {
    auto exact = [](const PointView& p) { return p.exact ? *p.exact : homogeneous(p.approx); };
    axis_ = projection_axis(*plane[0], *plane[1], *plane[2]);
    exact_ = centroid(exact(corners[0]), exact(corners[1]), exact(corners[2]));
    approx_ = rounded(exact_);
    // The ray runs along +axis and starts just off the face, on the side to which it points.
    front_ = orient2d(*plane[0], *plane[1], *plane[2], axis_) > 0;
}

bool SideRay::in_reach(const Box& box) const {
    // Rounding to nearest keeps the order, so a box of doubles that holds the point holds its rounded twin.
    const Projection k(axis_);
    auto within = [&](int i) { return box.low[i] <= approx_[i] && approx_[i] <= box.high[i]; };
    return within(k.u) && within(k.v) && box.high[axis_] >= approx_[axis_];
}

int SideRay::passage(const CornerPoints& face) const {
    const Vec3 &p = *face[0], &q = *face[1], &r = *face[2];
    const PointView origin{approx_, &exact_};
    const int s = orient2d_moved(p, q, origin, axis_);
    if (s == 0 || orient2d_moved(q, r, origin, axis_) != s || orient2d_moved(r, p, origin, axis_) != s) return 0;
    return plane_side(p, q, r, origin) == -s ? s : 0;  // else behind the start, or through it
}

}  // namespace anvil
