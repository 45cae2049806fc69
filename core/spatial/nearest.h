#pragma once

#include "core/spatial/box_tree.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {

/// The point of a closed triangle that is nearest to p, in doubles.
Vec3 closest_on_triangle(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c);

/// Squared distance between a point and a closed triangle, in doubles.
double point_triangle_distance2(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c);

/// Squared distance between two closed segments p-q and r-s, in doubles.
double segment_distance2(const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s);

/// Squared distance between two closed triangles that do not cross, in doubles.
double triangle_distance2(const CornerPoints& a, const CornerPoints& b);

/// Distances from points to a mesh, which must outlive it.
class NearestFace {
  public:
    explicit NearestFace(const Mesh& mesh);
    /// Distance in mm to the nearest point of any face; infinite for a mesh without faces.
    double distance(const Vec3& p) const { return nearest(p).distance; }
    struct Found {
        FaceId face;  ///< not valid for a mesh without faces
        double distance;
    };
    Found nearest(const Vec3& p) const;
    /// Over the boxes of the faces.
    const BoxTree& tree() const { return tree_; }

  private:
    const Mesh& mesh_;
    BoxTree tree_;
};

}  // namespace anvil
