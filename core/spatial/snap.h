#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/mesh/transform.h"

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

FlatSide placed(const FlatSide& side, const Transform& stands);  ///< `stands`: without scale

/// How a body that goes along a direction comes face to face with another.
struct FaceToFace {
    double travel = 0;      ///< mm along the direction
    std::size_t other = 0;  ///< which of the other sides
    bool onto = true;       ///< the two look at each other; else the same way, and are flush
};
/// So that a side comes into the plane of another one: of all pairs what is nearest to a travel of `freely`, less than
/// `reach` from it. `own`: as they stand before it. `along` has length 1.
std::optional<FaceToFace> face_to_face(std::span<const FlatSide> own, std::span<const FlatSide> others,
                                       const Vec3& along, double freely, double reach);

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
