// Based on: H. Edelsbrunner, E. P. Muecke, "Simulation of Simplicity" (1990), for the ties: the ray is moved by
// infinitely small amounts instead of being shot again.
#include "core/spatial/ray_winding.h"

namespace anvil {

SideRay::SideRay(const std::array<PointView, 3>& corners, const CornerPoints& plane) {
    auto exact = [](const PointView& p) { return p.exact ? p.exact->coordinates() : homogeneous(p.approx); };
    axis_ = projection_axis(*plane[0], *plane[1], *plane[2]);
    exact_ = centroid(exact(corners[0]), exact(corners[1]), exact(corners[2]));
    approx_ = rounded(exact_.coordinates());
    // The ray runs along +axis and starts just off the face, on the side to which it points.
    front_ = orient2d(*plane[0], *plane[1], *plane[2], axis_) > 0;
}

bool SideRay::in_reach(const Box& box) const {
    // Rounding to nearest keeps the order, so a box of doubles that holds the point holds its rounded twin.
    const Projection k(axis_);
    auto within = [&](int i) { return box.low[i] <= approx_[i] && approx_[i] <= box.high[i]; };
    return within(k.u) && within(k.v) && box.high[axis_] >= approx_[axis_];
}

int SideRay::passes(const std::array<PointView, 3>& corners) const {
    const int s = orient2d_moved(corners[0], corners[1], start(), axis_);
    if (s == 0 || orient2d_moved(corners[1], corners[2], start(), axis_) != s) return 0;
    return orient2d_moved(corners[2], corners[0], start(), axis_) == s ? s : 0;
}

int SideRay::compare_heights(const CornerPoints& a, const CornerPoints& b) const {
    return anvil::compare_heights(start(), {*a[0], *a[1], *a[2]}, {*b[0], *b[1], *b[2]}, axis_);
}

int SideRay::passage(const CornerPoints& face) const {
    const int s = passes(views(face));
    if (s == 0) return 0;
    return plane_side(*face[0], *face[1], *face[2], start()) == -s ? s : 0;  // else behind the start, or through it
}

}  // namespace anvil
