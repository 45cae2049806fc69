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

RayWinding::Ray RayWinding::start(const std::array<PointView, 3>& corners, const Triangle& plane) const {
    const Vec3 &a = points_[plane[0].value()], &b = points_[plane[1].value()], &c = points_[plane[2].value()];
    auto exact = [](const PointView& p) { return p.exact ? *p.exact : homogeneous(p.approx); };
    Ray ray;
    ray.axis = projection_axis(a, b, c);
    ray.exact = centroid(exact(corners[0]), exact(corners[1]), exact(corners[2]));
    ray.approx = rounded(ray.exact);
    // The ray runs along +axis and starts just off the face, on the side to which it points.
    ray.front = orient2d(a, b, c, ray.axis) > 0;
    return ray;
}

bool RayWinding::in_reach(const Ray& ray, const Box& box) {
    // Rounding to nearest keeps the order, so a box of doubles that holds the point holds its rounded twin.
    const Projection k(ray.axis);
    auto within = [&](int i) { return box.low[i] <= ray.approx[i] && ray.approx[i] <= box.high[i]; };
    return within(k.u) && within(k.v) && box.high[ray.axis] >= ray.approx[ray.axis];
}

int RayWinding::passage(const Ray& ray, std::uint32_t item) const {
    const Vec3& p = points_[faces_[item][0].value()];
    const Vec3& q = points_[faces_[item][1].value()];
    const Vec3& r = points_[faces_[item][2].value()];
    const PointView origin{ray.approx, &ray.exact};
    const int s = orient2d_moved(p, q, origin, ray.axis);
    if (s == 0 || orient2d_moved(q, r, origin, ray.axis) != s || orient2d_moved(r, p, origin, ray.axis) != s) return 0;
    return plane_side(p, q, r, origin) == -s ? s : 0;  // else behind the start, or through it
}

}  // namespace anvil
