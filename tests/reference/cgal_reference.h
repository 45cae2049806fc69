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

}  // namespace anvil::test
