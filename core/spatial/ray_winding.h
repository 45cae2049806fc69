#pragma once

#include <array>

#include "core/exact/implicit_point.h"
#include "core/spatial/box_tree.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {

/// An exact axis-parallel ray from right beside the middle of a piece of face, against any number of surfaces.
/// Ties at corners and edges are broken by an infinitely small, fixed move of the ray, so each passage counts once.
class SideRay {
  public:
    /// `corners`: of the piece, in the plane of `plane` and wound like it.
    /// Preconditions: `plane` is not degenerate; no face of another plane crosses the inside of the piece.
    SideRay(const std::array<PointView, 3>& corners, const CornerPoints& plane);
    /// From a whole face.
    explicit SideRay(const CornerPoints& face) : SideRay(views(face), face) {}

    /// Whether it starts in front of the piece (else behind it).
    bool in_front() const { return front_; }

    /// The axis along which it runs, upward.
    int axis() const { return axis_; }

    /// Calls hit(face, sign) for every face that the ray passes, sign being what the passage adds to the winding number
    /// at the start: +1 out of a front, -1 out of a back. Faces in the piece's own plane at the start are not passed.
    /// `tree`: over the boxes of the faces.
    template <class Hit>
    void cast(std::span<const Vec3> points, std::span<const Triangle> faces, const BoxTree& tree,
              const Hit& hit) const {
        tree.descend([&](const FloatBox& box) { return in_reach(box.widened()); },
                     [&](std::uint32_t item) {
                         if (const int sign = passage(corner_points(points, faces[item]))) hit(item, sign);
                     });
    }

    /// Calls hit(face) for every face above the start that the ray passes, and for those through the start; some below
    /// it may be among them.
    template <class Hit>
    void through(std::span<const Vec3> points, std::span<const Triangle> faces, const BoxTree& tree,
                 const Hit& hit) const {
        tree.descend([&](const FloatBox& box) { return in_reach(box.widened()); },
                     [&](std::uint32_t item) {
                         const CornerPoints c = corner_points(points, faces[item]);
                         if (passes(views(c)) != 0) hit(item);
                     });
    }

    /// What passing that face adds to the winding number at the start; 0 where it is not passed.
    int passage(const CornerPoints& face) const;
    /// Around the ray up to that height: faces that it passes meet it.
    Box box_up_to(double height) const {
        Box box{approx_, approx_};
        box.high[axis_] = std::max(box.high[axis_], height);
        return box;
    }

    /// Whether the ray's line passes through a triangle: +1 counter-clockwise as seen from above, -1 clockwise, 0 not.
    int passes(const std::array<PointView, 3>& corners) const;

    /// Sign of the height at which the line meets the plane of `a`, less that for `b`. 0 only for one plane.
    /// Precondition: it passes both faces.
    int compare_heights(const CornerPoints& a, const CornerPoints& b) const;

  private:
    static std::array<PointView, 3> views(const CornerPoints& c) {
        return {PointView{*c[0]}, PointView{*c[1]}, PointView{*c[2]}};
    }
    bool in_reach(const Box& box) const;
    PointView start() const { return {approx_, &exact_}; }

    ExactPoint exact_;
    Vec3 approx_;
    int axis_;
    bool front_;
};

}  // namespace anvil
