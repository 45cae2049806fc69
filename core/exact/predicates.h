#pragma once

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/vec3.h"
#include "core/exact/bounded.h"

namespace anvil {

/// Exact decisions about points given by doubles. Each is staged: a floating-point filter, bounded arithmetic,
/// exact sums of doubles, exact integers; the answer is always the true one. Coordinates must be finite.

/// Sign of the volume of the tetrahedron (a, b, c, d): +1 where d lies on the side of the plane (a, b, c) from
/// which a, b, c run clockwise, that is, below a face whose normal is (b - a) x (c - a); -1 on the normal's side.
///
/// Laws: 0 exactly where the four are coplanar; swapping two points negates; turning three points (a, b, c ->
/// b, c, a) keeps; turning all four negates.
int orient3d(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d);

/// The same decision in the words of a face: +1 where p lies on the side that the normal (b - a) x (c - a) points
/// to, -1 behind, 0 in the plane.
inline int plane_side(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& p) { return -orient3d(a, b, c, p); }

/// The plane of a face kept for many questions about it: a rounded normal and what its rounding can do.
class PlaneFilter {
  public:
    PlaneFilter() = default;
    PlaneFilter(const Vec3& a, const Vec3& b, const Vec3& c) : normal_(cross(b - a, c - a)) {
        // Per component of the normal: 2 u from the differences of each factor, 1 u from each product and the sum, over
        // two products: less than 10 u of the largest |b - a| times the largest |c - a|. The scalar product below takes
        // three of them, each again with less than 4 u of twice that product: 54 u in all.
        error_ = 64 * Bounded::u * largest_component(b - a) * largest_component(c - a);
    }
    /// `plane_side` of p, where a is the first of the three points; unsure near the plane.
    Sign side(const Vec3& a, const Vec3& p) const {
        const Vec3 d = p - a;
        const double height = dot(normal_, d), bound = error_ * largest_component(d);
        if (!(bound > 1e-200)) return Sign::unsure;  // products may have lost bits to underflow
        return height > bound ? Sign::positive : height < -bound ? Sign::negative : Sign::unsure;
    }
    /// Whether three points certainly lie on one side.
    bool surely_beside(const Vec3& a, const std::array<const Vec3*, 3>& points) const {
        const Sign first = side(a, *points[0]);
        return first != Sign::unsure && side(a, *points[1]) == first && side(a, *points[2]) == first;
    }

  private:
    Vec3 normal_;
    double error_ = 0;
};

/// Which two coordinates are kept when space is projected along an axis: (u, v) such that (u, v, axis) is a right
/// system. Axis 0 keeps (y, z), 1 keeps (z, x), 2 keeps (x, y).
struct Projection {
    int u, v;
    explicit constexpr Projection(int axis) : u((axis + 1) % 3), v((axis + 2) % 3) {}
};

/// Sign of the area of (a, b, c) seen against the given axis: +1 where counter-clockwise, 0 where in line.
/// Laws: swapping two points negates, turning keeps; it is the sign of the axis' component of (b - a) x (c - a).
int orient2d(const Vec3& a, const Vec3& b, const Vec3& c, int axis);

/// Whether a, b, c lie on one line (or coincide).
bool collinear(const Vec3& a, const Vec3& b, const Vec3& c);

/// The axis along which (a, b, c) projects with the largest area, or -1 where the three are in line.
/// orient2d along the returned axis is never 0.
int projection_axis(const Vec3& a, const Vec3& b, const Vec3& c);

namespace exact_detail {
/// The single stages, for tests and for counting.
Sign orient3d_filter(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d);
Sign orient3d_bounded(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d);
Sign orient3d_expansion(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d);
int orient3d_exact(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d);
Sign orient2d_filter(const Vec3& a, const Vec3& b, const Vec3& c, int axis);
Sign orient2d_expansion(const Vec3& a, const Vec3& b, const Vec3& c, int axis);
int orient2d_exact(const Vec3& a, const Vec3& b, const Vec3& c, int axis);
}  // namespace exact_detail

}  // namespace anvil
