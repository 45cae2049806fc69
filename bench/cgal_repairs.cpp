#include "bench/cgal_repairs.h"

#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/border.h>
#include <CGAL/Polygon_mesh_processing/corefinement.h>
#include <CGAL/Polygon_mesh_processing/manifoldness.h>
#include <CGAL/Polygon_mesh_processing/orient_polygon_soup.h>
#include <CGAL/Polygon_mesh_processing/orientation.h>
#include <CGAL/Polygon_mesh_processing/polygon_soup_to_polygon_mesh.h>
#include <CGAL/Polygon_mesh_processing/repair_degeneracies.h>
#include <CGAL/Polygon_mesh_processing/repair_polygon_soup.h>
#include <CGAL/Polygon_mesh_processing/repair_self_intersections.h>
#include <CGAL/Polygon_mesh_processing/self_intersections.h>
#include <CGAL/Polygon_mesh_processing/stitch_borders.h>
#include <CGAL/Polygon_mesh_processing/triangulate_hole.h>
#include <CGAL/Surface_mesh.h>

namespace anvil::bench {
namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using SurfaceMesh = CGAL::Surface_mesh<Kernel::Point_3>;
namespace PMP = CGAL::Polygon_mesh_processing;

}  // namespace

struct CgalSoup::Impl {
    std::vector<Kernel::Point_3> points;
    std::vector<std::vector<std::size_t>> faces;

    SurfaceMesh surface() {
        SurfaceMesh out;
        PMP::orient_polygon_soup(points, faces);
        PMP::polygon_soup_to_polygon_mesh(points, faces, out);
        return out;
    }
};

CgalSoup::CgalSoup(const Mesh& mesh) : impl(std::make_unique<Impl>()) {
    for (const Vec3& p : mesh.points) impl->points.emplace_back(p.x, p.y, p.z);
    for (const Triangle& t : mesh.faces) impl->faces.push_back({t[0].value(), t[1].value(), t[2].value()});
}
CgalSoup::~CgalSoup() = default;
CgalSoup::CgalSoup(const CgalSoup& other) : impl(std::make_unique<Impl>(*other.impl)) {}

static void fill_all(SurfaceMesh& mesh) {
    std::vector<SurfaceMesh::Halfedge_index> cycles;
    PMP::extract_boundary_cycles(mesh, std::back_inserter(cycles));
    for (const auto h : cycles) {
        std::vector<SurfaceMesh::Face_index> faces;
        PMP::triangulate_hole(mesh, h, std::back_inserter(faces));
    }
}

static std::size_t quick_checks(SurfaceMesh& mesh) {
    std::vector<SurfaceMesh::Halfedge_index> borders, pinches;
    PMP::extract_boundary_cycles(mesh, std::back_inserter(borders));
    PMP::non_manifold_vertices(mesh, std::back_inserter(pinches));
    std::vector<SurfaceMesh::Face_index> degenerate;
    PMP::degenerate_faces(mesh, std::back_inserter(degenerate));
    return borders.size() + pinches.size() + degenerate.size();
}

std::size_t cgal_quick_checks(CgalSoup& soup) {
    SurfaceMesh mesh = soup.impl->surface();
    return quick_checks(mesh);
}

std::size_t cgal_all_checks(CgalSoup& soup) {
    SurfaceMesh mesh = soup.impl->surface();
    quick_checks(mesh);
    std::vector<std::pair<SurfaceMesh::Face_index, SurfaceMesh::Face_index>> crossings;
    PMP::self_intersections<CGAL::Parallel_tag>(CGAL::faces(mesh), mesh, std::back_inserter(crossings));
    return crossings.size();
}

std::size_t cgal_drop_duplicates(CgalSoup& soup) {
    PMP::merge_duplicate_polygons_in_polygon_soup(soup.impl->points, soup.impl->faces);
    return soup.impl->faces.size();
}

std::size_t cgal_drop_degenerate(CgalSoup& soup) {
    SurfaceMesh mesh = soup.impl->surface();
    PMP::remove_degenerate_faces(mesh);
    return mesh.number_of_faces();
}

std::size_t cgal_orient(CgalSoup& soup) {
    SurfaceMesh mesh = soup.impl->surface();
    PMP::orient_to_bound_a_volume(mesh);
    return mesh.number_of_faces();
}

std::size_t cgal_fill_holes(CgalSoup& soup) {
    SurfaceMesh mesh = soup.impl->surface();
    fill_all(mesh);
    return mesh.number_of_faces();
}

std::size_t cgal_remove_crossings(CgalSoup& soup) {
    SurfaceMesh mesh = soup.impl->surface();
    PMP::experimental::autorefine_and_remove_self_intersections(mesh);
    return mesh.number_of_faces();
}

std::size_t cgal_mend(CgalSoup& soup) {
    auto& [points, faces] = *soup.impl;
    PMP::repair_polygon_soup(points, faces);
    SurfaceMesh mesh = soup.impl->surface();
    PMP::stitch_borders(mesh);
    PMP::remove_degenerate_faces(mesh);
    fill_all(mesh);
    PMP::experimental::remove_self_intersections(mesh);
    fill_all(mesh);
    if (CGAL::is_closed(mesh)) PMP::orient_to_bound_a_volume(mesh);
    mesh.collect_garbage();
    return mesh.number_of_faces();
}

}  // namespace anvil::bench
