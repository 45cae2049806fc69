#include "tests/reference/cgal_reference.h"

#include <CGAL/Exact_predicates_exact_constructions_kernel.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/border.h>
#include <CGAL/Polygon_mesh_processing/clip.h>
#include <CGAL/Polygon_mesh_processing/connected_components.h>
#include <CGAL/Polygon_mesh_processing/corefinement.h>
#include <CGAL/Polygon_mesh_processing/manifoldness.h>
#include <CGAL/Polygon_mesh_processing/measure.h>
#include <CGAL/Polygon_mesh_processing/orientation.h>
#include <CGAL/Polygon_mesh_processing/polygon_soup_to_polygon_mesh.h>
#include <CGAL/Polygon_mesh_processing/self_intersections.h>
#include <CGAL/Surface_mesh.h>
#include <CGAL/box_intersection_d.h>

#include <variant>

namespace anvil::test {
namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Exact = CGAL::Exact_predicates_exact_constructions_kernel;
using SurfaceMesh = CGAL::Surface_mesh<Kernel::Point_3>;
namespace PMP = CGAL::Polygon_mesh_processing;

using Polygons = std::vector<std::vector<std::size_t>>;

std::pair<std::vector<Kernel::Point_3>, Polygons> soup_of(const Mesh& mesh) {
    std::pair<std::vector<Kernel::Point_3>, Polygons> soup;
    for (const Vec3& p : mesh.points) soup.first.emplace_back(p.x, p.y, p.z);
    for (const Triangle& t : mesh.faces) soup.second.push_back({t[0].value(), t[1].value(), t[2].value()});
    return soup;
}

/// With constructions, one pair at a time: what two triangles have in common, against the corners that they share.
bool meets_beyond_shared(const Mesh& mesh, FaceId f, FaceId g) {
    auto triangle = [&](FaceId id) {
        auto p = [&](int k) {
            const Vec3& v = mesh.corner(id, k);
            return Exact::Point_3(v.x, v.y, v.z);
        };
        return Exact::Triangle_3(p(0), p(1), p(2));
    };
    std::vector<Exact::Point_3> shared;
    for (VertexId v : mesh.faces[f])
        for (VertexId w : mesh.faces[g])
            if (v == w) shared.emplace_back(mesh.points[v].x, mesh.points[v].y, mesh.points[v].z);
    const auto common = CGAL::intersection(triangle(f), triangle(g));
    if (!common) return false;
    if (const auto* p = boost::get<Exact::Point_3>(&*common)) return !(shared.size() == 1 && shared[0] == *p);
    if (const auto* s = boost::get<Exact::Segment_3>(&*common))
        return !(shared.size() == 2 && ((s->source() == shared[0] && s->target() == shared[1]) ||
                                        (s->source() == shared[1] && s->target() == shared[0])));
    return true;
}

bool degenerate(const Mesh& mesh, FaceId f) {
    auto p = [&](int k) { return Kernel::Point_3(mesh.corner(f, k).x, mesh.corner(f, k).y, mesh.corner(f, k).z); };
    return CGAL::collinear(p(0), p(1), p(2));
}

std::size_t pairs_of_soup(const Mesh& mesh) {
    using Box = CGAL::Box_intersection_d::Box_with_info_d<double, 3, FaceId>;
    std::vector<Box> boxes;
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        if (degenerate(mesh, f)) continue;
        CGAL::Bbox_3 box;
        for (int k = 0; k < 3; ++k)
            box += Kernel::Point_3(mesh.corner(f, k).x, mesh.corner(f, k).y, mesh.corner(f, k).z).bbox();
        boxes.emplace_back(box, f);
    }
    std::size_t count = 0;
    CGAL::box_self_intersection_d(boxes.begin(), boxes.end(), [&](const Box& a, const Box& b) {
        count += meets_beyond_shared(mesh, a.info(), b.info());
    });
    return count;
}

}  // namespace

ReferenceCounts reference_counts(const Mesh& mesh) {
    ReferenceCounts counts;
    for (FaceId f : ids<FaceId>(mesh.faces.size())) counts.degenerate_faces += degenerate(mesh, f);
    auto [points, polygons] = soup_of(mesh);
    counts.is_manifold_mesh = PMP::is_polygon_soup_a_polygon_mesh(polygons);
    if (!counts.is_manifold_mesh) {
        counts.self_intersections = pairs_of_soup(mesh);
        return counts;
    }
    SurfaceMesh surface;
    PMP::polygon_soup_to_polygon_mesh(points, polygons, surface);
    std::vector<SurfaceMesh::Halfedge_index> borders;
    PMP::extract_boundary_cycles(surface, std::back_inserter(borders));
    counts.holes = borders.size();
    for (auto h : surface.halfedges()) counts.open_edges += surface.is_border(h);
    std::vector<SurfaceMesh::Halfedge_index> pinches;
    PMP::non_manifold_vertices(surface, std::back_inserter(pinches));
    counts.nonmanifold_vertices = pinches.size();
    std::vector<std::pair<SurfaceMesh::Face_index, SurfaceMesh::Face_index>> pairs;
    if (counts.degenerate_faces == 0) {
        PMP::self_intersections(surface, std::back_inserter(pairs));
        counts.self_intersections = pairs.size();
    } else {
        counts.self_intersections = pairs_of_soup(mesh);
    }
    if (CGAL::is_closed(surface)) {
        counts.volume = PMP::volume(surface);
        counts.outward = pairs.empty() && counts.degenerate_faces == 0 && PMP::does_bound_a_volume(surface) &&
                         PMP::is_outward_oriented(surface);
    }
    return counts;
}

namespace {

std::optional<SurfaceMesh> surface_of(const Mesh& mesh) {
    auto [points, polygons] = soup_of(mesh);
    if (!PMP::is_polygon_soup_a_polygon_mesh(polygons)) return std::nullopt;
    SurfaceMesh out;
    PMP::polygon_soup_to_polygon_mesh(points, polygons, out);
    return out;
}
Kernel::Plane_3 plane_of(const Vec3& o, const Vec3& n) {
    return {Kernel::Point_3(o.x, o.y, o.z), Kernel::Vector_3(n.x, n.y, n.z)};
}

}  // namespace

std::optional<double> reference_clipped_volume(const Mesh& mesh, const Vec3& origin, const Vec3& normal) {
    auto surface = surface_of(mesh);
    if (!surface) return std::nullopt;
    try {
        if (!PMP::clip(*surface, plane_of(origin, normal),
                       CGAL::parameters::clip_volume(true).throw_on_self_intersection(true)))
            return std::nullopt;
        return CGAL::is_closed(*surface) ? std::optional(PMP::volume(*surface)) : std::nullopt;
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

std::optional<ReferenceSplit> reference_split(const Mesh& mesh, const Vec3& origin, const Vec3& normal) {
    auto surface = surface_of(mesh);
    if (!surface) return std::nullopt;
    try {
        PMP::split(*surface, plane_of(origin, normal), CGAL::parameters::throw_on_self_intersection(true));
        auto number = surface->add_property_map<SurfaceMesh::Face_index, std::size_t>("f:part").first;
        return ReferenceSplit{PMP::connected_components(*surface, number), PMP::area(*surface)};
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

std::optional<double> reference_combined_volume(Operation operation, const Mesh& a, const Mesh& b) {
    SurfaceMesh meshes[2], out;
    for (int i = 0; i < 2; ++i) {
        auto [points, polygons] = soup_of(i == 0 ? a : b);
        if (!PMP::is_polygon_soup_a_polygon_mesh(polygons)) return std::nullopt;
        PMP::polygon_soup_to_polygon_mesh(points, polygons, meshes[i]);
    }
    try {
        const auto checked = CGAL::parameters::throw_on_self_intersection(true);
        bool done = false;
        switch (operation) {
            case Operation::union_of: done = PMP::corefine_and_compute_union(meshes[0], meshes[1], out, checked); break;
            case Operation::difference:
                done = PMP::corefine_and_compute_difference(meshes[0], meshes[1], out, checked);
                break;
            case Operation::intersection:
                done = PMP::corefine_and_compute_intersection(meshes[0], meshes[1], out, checked);
                break;
        }
        if (!done) return std::nullopt;
        return PMP::volume(out);
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

}  // namespace anvil::test
