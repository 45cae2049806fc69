#pragma once

#include <array>

#include "core/exact/implicit_point.h"
#include "core/spatial/box_tree.h"

namespace anvil {

/// Exact axis-parallel rays against a list of triangles. Refers to the points, the faces and the tree over their boxes,
/// which must outlive it.
class RayWinding {
  public:
    RayWinding(std::span<const Vec3> points, std::span<const Triangle> faces, const BoxTree& tree)
        : points_(points), faces_(faces), tree_(tree) {}

    /// Shoots a ray from right beside the middle of a piece of face (its three corners, in the plane of `plane` and
    /// wound like it) and calls hit(face, sign) for every face that it passes, sign being what the passage adds to
    /// the winding number at the start: +1 out of a front, -1 out of a back. Faces in the piece's own plane at the
    /// start are not passed. Returns whether the start lies in front of the piece (else behind it). Ties at corners
    /// and edges are broken by an infinitely small, fixed move of the ray, so each passage counts once.
    /// Preconditions: `plane` is not degenerate; no face of another plane crosses the inside of the piece.
    template <class Hit>
    bool beside_face(const std::array<PointView, 3>& corners, const Triangle& plane, const Hit& hit) const {
        const Ray ray = start(corners, plane);
        tree_.descend([&](const FloatBox& box) { return in_reach(ray, box.widened()); },
                      [&](std::uint32_t item) {
                          if (const int sign = passage(ray, item)) hit(item, sign);
                      });
        return ray.front;
    }

  private:
    struct Ray {
        HomogeneousPoint exact;
        Vec3 approx;
        int axis;
        bool front;
    };
    Ray start(const std::array<PointView, 3>& corners, const Triangle& plane) const;
    static bool in_reach(const Ray& ray, const Box& box);
    int passage(const Ray& ray, std::uint32_t item) const;

    std::span<const Vec3> points_;
    std::span<const Triangle> faces_;
    const BoxTree& tree_;
};

}  // namespace anvil
