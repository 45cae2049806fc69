#include "core/spatial/delaunay.h"

#include <CGAL/Delaunay_triangulation_3.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_vertex_base_with_info_3.h>

#include <algorithm>

namespace anvil {

std::vector<Triangle> delaunay_faces(std::span<const Vec3> points) {
    using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
    using Vertex = CGAL::Triangulation_vertex_base_with_info_3<std::uint32_t, Kernel>;
    using Triangulation = CGAL::Delaunay_triangulation_3<Kernel, CGAL::Triangulation_data_structure_3<Vertex>>;
    std::vector<std::pair<Kernel::Point_3, std::uint32_t>> numbered;
    for (const Vec3& p : points) numbered.emplace_back(Kernel::Point_3(p.x, p.y, p.z), numbered.size());
    const Triangulation triangulation(numbered.begin(), numbered.end());
    std::vector<Triangle> faces;
    if (triangulation.dimension() < 3) return faces;
    for (const auto& [cell, opposite] : triangulation.finite_facets()) {
        Triangle t;
        for (int k = 0; k < 3; ++k)
            t[static_cast<std::size_t>(k)] = VertexId(cell->vertex((opposite + 1 + k) % 4)->info());
        std::sort(t.begin(), t.end());
        faces.push_back(t);
    }
    std::sort(faces.begin(), faces.end());
    return faces;
}

}  // namespace anvil
