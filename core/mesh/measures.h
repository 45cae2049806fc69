#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "core/mesh/edge_table.h"

namespace anvil {

/// Box around all points that faces use.
Box bounds(const Mesh& mesh);

/// The mean of a face's corners.
inline Vec3 face_middle(const Mesh& mesh, FaceId f) {
    return (mesh.corner(f, 0) + mesh.corner(f, 1) + mesh.corner(f, 2)) * (1.0 / 3);
}

/// Twice a face's area, as a vector along its normal, mm2.
inline Vec3 area_vector(const Mesh& mesh, const Triangle& face) {
    const Vec3& p = mesh.points[face[0]];
    return cross(mesh.points[face[1]] - p, mesh.points[face[2]] - p);
}
inline Vec3 area_vector(const Mesh& mesh, FaceId f) { return area_vector(mesh, mesh.faces[f]); }
/// The same of a loop of points (Newell's).
Vec3 area_vector(const Mesh& mesh, std::span<const VertexId> loop);

/// A face's normal of length 1; 0 for a face without area.
inline Vec3 face_normal(const Mesh& mesh, FaceId f) { return normalized(area_vector(mesh, f)); }

/// Sum of the face areas, mm2.
double surface_area(const Mesh& mesh);

/// Volume by the divergence theorem, mm3: positive where faces are wound outward. A closed mesh only; of an open one
/// it is meaningless. Summed about the centre of the bounds, with compensation, so that a part far from the origin
/// loses nothing.
double signed_volume(const Mesh& mesh);

/// Shells: faces connected across edges. Edges are those of the given indices; weld first where points are doubled.
struct Shells {
    std::uint32_t count = 0;
    bool closed = true;  ///< no edge has one face only
    IdVector<FaceId, std::uint32_t> shell_of;
};
Shells find_shells(const Mesh& mesh);
Shells find_shells(const Mesh& mesh, const EdgeTable& edges);

/// V - E + F over the vertices that faces use.
long euler_characteristic(const Mesh& mesh);

/// What the measures panel and the reports show.
struct Measures {
    std::size_t vertices = 0, triangles = 0;
    std::uint32_t shells = 0;
    double volume = 0, area = 0;
    Box bounds;
    bool closed = false;  ///< has faces, and no edge with one face only: else the volume means nothing
};
/// Precondition: welded(mesh).
Measures measure(const Mesh& mesh);
Measures measure(const Mesh& mesh, const EdgeTable& edges);
/// The same for a mesh that has changed a little, for a moment: shells, and whether it is closed, as they were before.
Measures measure_as(const Measures& before, const Mesh& mesh);

}  // namespace anvil
