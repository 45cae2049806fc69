#pragma once

#include <array>
#include <atomic>
#include <cstdint>
#include <utility>

#include "core/base/vec3.h"
#include "core/exact/packed_point.h"

namespace anvil {

HomogeneousPoint homogeneous(const Vec3& p);

/// Where the line through p and q meets the plane through r, s, t.
/// Precondition: the line is not parallel to the plane.
HomogeneousPoint line_plane_point(const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s, const Vec3& t);

/// Where two lines of one plane, (p, q) and (r, s), cross; `axis` is one along which that plane projects with area.
/// Precondition: the lines are coplanar and not parallel.
HomogeneousPoint line_line_point(const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s, int axis);

/// Where three planes meet, each given by three points in it.
/// Precondition: the normals are linearly independent.
HomogeneousPoint three_planes_point(const Vec3 (&a)[3], const Vec3 (&b)[3], const Vec3 (&c)[3]);

/// The nearest double to each coordinate. Equal points round to equal doubles.
Vec3 rounded(const HomogeneousPoint& p);

/// The centre of three points, exactly.
HomogeneousPoint centroid(const HomogeneousPoint& a, const HomogeneousPoint& b, const HomogeneousPoint& c);

/// What a point is exactly: its coordinates, or what defines it; then its coordinates are worked out when they are
/// first asked for, from any thread.
class ExactPoint {
  public:
    ExactPoint() = default;
    ExactPoint(const HomogeneousPoint& known) : known_(packed(known)) {}
    /// Of one that is defined, the definition only.
    ExactPoint(const ExactPoint& o);
    ExactPoint(ExactPoint&& o) noexcept;
    ExactPoint& operator=(ExactPoint o) noexcept;
    ~ExactPoint() { release(known_.load(std::memory_order_relaxed)); }

    /// Defines it as `line_plane_point` or `line_line_point`, and returns the point `rounded`. The points given must
    /// outlive it.
    Vec3 define_by_line_and_plane(const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s, const Vec3& t);
    Vec3 define_by_lines(const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s, int axis);

    /// Precondition: it is known or defined.
    HomogeneousPoint coordinates() const;
    /// Whether it is surely not the point that it is rounded to.
    bool is_surely_rounded() const { return surely_rounded_; }

  private:
    static constexpr int plane = -1;
    Vec3 round_definition();
    HomogeneousPoint construct() const;

    mutable std::atomic<PackedPoint*> known_{nullptr};
    std::array<const Vec3*, 5> by_{};  // a line and a plane, or two lines
    std::int8_t axis_ = plane;         // for two lines
    bool surely_rounded_ = false;
};

/// A point as the predicates take it: its coordinates rounded to the nearest doubles, and, unless those are the
/// point itself, what it is exactly. Refers to storage that must outlive it.
struct PointView {
    Vec3 approx;
    const ExactPoint* exact = nullptr;

    bool is_explicit() const { return exact == nullptr; }
};

/// Counterparts of the decisions in predicates.h for points that may be implicit; same signs, same laws.
int orient2d(const PointView& a, const PointView& b, const PointView& c, int axis);
int plane_side(const Vec3& a, const Vec3& b, const Vec3& c, const PointView& p);

/// Sign of a - b along an axis.
int compare(const PointView& a, const PointView& b, int axis);

/// `orient2d` for a third point that is moved by an infinitely small step along u and a still smaller one along v (see
/// Projection), so that it lies on no line: 0 only where a and b are one in the projection.
int orient2d_moved(const PointView& a, const PointView& b, const PointView& c, int axis);

/// Compares the heights at which the line through `at` along the axis meets the planes of two faces: sign of a's less
/// b's. Where they are equal, the line is moved as in `orient2d_moved`; 0 only for one and the same plane.
/// Precondition: orient2d of neither face along the axis is 0. Law: swapping the planes negates.
int compare_heights(const PointView& at, const Vec3 (&a)[3], const Vec3 (&b)[3], int axis);

/// Whether two points are the same point of space.
bool same_point(const PointView& a, const PointView& b);

/// Whether a point is the one that it is rounded to.
bool is_rounded_point(const PointView& p);

}  // namespace anvil
