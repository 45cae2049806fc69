#pragma once

#include <optional>
#include <string>

#include "core/combine/operation.h"
#include "core/mesh/mesh.h"

namespace anvil::test {

/// The same counts by CGAL, over the welded triangles.
struct ReferenceCounts {
    bool is_manifold_mesh = false;  ///< CGAL takes the triangles as a polygon mesh; the next four hold only then
    std::size_t open_edges = 0, holes = 0, nonmanifold_vertices = 0;
    bool outward = false;  ///< closed and bounding a volume with outward faces
    std::size_t degenerate_faces = 0;
    std::size_t self_intersections = 0;  ///< pairs of non-degenerate faces that meet beyond what they share
    double volume = 0;
};
ReferenceCounts reference_counts(const Mesh& welded_mesh);

/// CGAL's corefinement of two meshes; nothing where CGAL refuses or fails. Volume of the result in mm3.
std::optional<double> reference_combined_volume(Operation operation, const Mesh& a, const Mesh& b);

/// CGAL's clip of a closed mesh by a plane: the volume of what is left behind it, closed there. Nothing where CGAL
/// refuses or fails.
std::optional<double> reference_clipped_volume(const Mesh& mesh, const Vec3& origin, const Vec3& normal);

/// CGAL's split of a closed mesh by a plane, which leaves it open there.
struct ReferenceSplit {
    std::size_t components = 0;
    double area = 0;  ///< mm2, of all of them
};
std::optional<ReferenceSplit> reference_split(const Mesh& mesh, const Vec3& origin, const Vec3& normal);

}  // namespace anvil::test
