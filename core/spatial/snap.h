#pragma once

#include <vector>

#include "core/mesh/mesh.h"

namespace anvil {

/// A place on a body that can be meant exactly.
struct SnapPlace {
    enum class Kind { corner, edge_middle, face_middle, circle_centre } kind{};
    Vec3 place;
    Vec3 normal;        ///< of the flat face that it belongs to
    double radius = 0;  ///< mm, of a circle
};

/// A flat face of a body: faces in one plane that hang together.
struct FlatSide {
    Vec3 place, normal;  ///< a point of it, and where it looks
    double area = 0;     ///< mm2
};

/// Finds such places about a face: its corners and edges that are no lines within a flat face; the middle of the flat
/// face that it belongs to (faces in one plane that hang together); and the centres of its outlines that are circles.
class SnapPlaces {
  public:
    /// Keeps the mesh, welded.
    explicit SnapPlaces(const Mesh& mesh);
    std::vector<SnapPlace> about(FaceId face) const;
    /// The largest flat faces, at most 64, the largest first.
    const std::vector<FlatSide>& sides() const { return sides_; }

  private:
    std::vector<FaceId> flat_face(FaceId face) const;

    void find_sides();

    Mesh mesh_;
    std::vector<FlatSide> sides_;
    std::vector<std::uint32_t> first_, faces_;  // by point: the faces round it
};

/// The middle and radius of the circle that all points lie on, within a thousandth of the radius; radius 0 where there
/// is none. Points: at least eight, in a plane.
struct FittedCircle {
    Vec3 centre;
    double radius = 0;
};
FittedCircle circle_through(const std::vector<Vec3>& points);

/// Degrees between two planes' normals, 0 to 180.
double angle_between(const Vec3& normal_a, const Vec3& normal_b);

}  // namespace anvil
