#include "bench/cgal_work.h"

#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/IO/STL.h>
#include <CGAL/Polygon_mesh_processing/border.h>
#include <CGAL/Polygon_mesh_processing/clip.h>
#include <CGAL/Polygon_mesh_processing/corefinement.h>
#include <CGAL/Polygon_mesh_processing/manifoldness.h>
#include <CGAL/Polygon_mesh_processing/orientation.h>
#include <CGAL/Polygon_mesh_processing/polygon_soup_to_polygon_mesh.h>
#include <CGAL/Polygon_mesh_processing/repair.h>
#include <CGAL/Polygon_mesh_processing/self_intersections.h>
#include <CGAL/Surface_mesh.h>

namespace anvil::bench {
namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using SurfaceMesh = CGAL::Surface_mesh<Kernel::Point_3>;
namespace PMP = CGAL::Polygon_mesh_processing;
#ifdef CGAL_LINKED_WITH_TBB
using Concurrency = CGAL::Parallel_tag;
#else
using Concurrency = CGAL::Sequential_tag;
#endif

}  // namespace

struct CgalMesh::Impl {
    SurfaceMesh mesh;
};

CgalMesh::CgalMesh(const Mesh& mesh) : impl(std::make_unique<Impl>()) {
    std::vector<Kernel::Point_3> points;
    std::vector<std::array<std::size_t, 3>> faces;
    for (const Vec3& p : mesh.points) points.emplace_back(p.x, p.y, p.z);
    for (const Triangle& t : mesh.faces) faces.push_back({t[0].value(), t[1].value(), t[2].value()});
    PMP::polygon_soup_to_polygon_mesh(points, faces, impl->mesh);
}
CgalMesh::~CgalMesh() = default;
CgalMesh::CgalMesh(const CgalMesh& other) : impl(std::make_unique<Impl>(*other.impl)) {}

std::size_t cgal_read_stl(const std::filesystem::path& file) {
    std::vector<Kernel::Point_3> points;
    std::vector<std::array<std::size_t, 3>> faces;
    CGAL::IO::read_STL(file.string(), points, faces);
    return faces.size();
}

std::size_t cgal_corefine(CgalMesh& a, CgalMesh& b) {
    PMP::corefine(a.impl->mesh, b.impl->mesh);
    return a.impl->mesh.number_of_faces() + b.impl->mesh.number_of_faces();
}

std::size_t cgal_differences(CgalMesh& base, std::vector<CgalMesh>& cutters) {
    for (CgalMesh& cutter : cutters)
        PMP::corefine_and_compute_difference(base.impl->mesh, cutter.impl->mesh, base.impl->mesh);
    return base.impl->mesh.number_of_faces();
}

std::size_t cgal_clip(CgalMesh& mesh, const Vec3& origin, const Vec3& normal) {
    SurfaceMesh& m = mesh.impl->mesh;
    const Kernel::Plane_3 plane(Kernel::Point_3(origin.x, origin.y, origin.z),
                                Kernel::Vector_3(normal.x, normal.y, normal.z));
    PMP::clip(m, plane, CGAL::parameters::clip_volume(true));
    return m.number_of_faces();
}

std::size_t cgal_union(CgalMesh& a, CgalMesh& b) {
    SurfaceMesh out;
    PMP::corefine_and_compute_union(a.impl->mesh, b.impl->mesh, out);
    return out.number_of_faces();
}

std::size_t cgal_inspect(const CgalMesh& mesh) {
    const SurfaceMesh& m = mesh.impl->mesh;
    std::size_t defects = 0;
    std::vector<SurfaceMesh::Halfedge_index> borders, pinches;
    PMP::extract_boundary_cycles(m, std::back_inserter(borders));
    PMP::non_manifold_vertices(m, std::back_inserter(pinches));
    std::vector<SurfaceMesh::Face_index> degenerate;
    PMP::degenerate_faces(m, std::back_inserter(degenerate));
    std::vector<std::pair<SurfaceMesh::Face_index, SurfaceMesh::Face_index>> crossings;
    PMP::self_intersections<Concurrency>(CGAL::faces(m), m, std::back_inserter(crossings));
    defects = borders.size() + pinches.size() + degenerate.size() + crossings.size();
    if (borders.empty()) defects += !PMP::is_outward_oriented(m);
    return defects;
}

}  // namespace anvil::bench
