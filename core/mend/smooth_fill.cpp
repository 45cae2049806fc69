#include "core/mend/smooth_fill.h"

#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/triangulate_hole.h>
#include <CGAL/Surface_mesh.h>

#include <map>
#include <set>

namespace anvil {
namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Patch = CGAL::Surface_mesh<Kernel::Point_3>;

/// The faces within some rings round the rim: what the fill goes on from.
std::vector<FaceId> faces_around(const Mesh& mesh, std::span<const VertexId> rim) {
    constexpr int rings = 3;
    std::vector<char> reached(mesh.points.size(), 0);
    for (const VertexId v : rim) reached[v.value()] = 1;
    std::vector<FaceId> faces;
    for (int ring = 0; ring < rings; ++ring) {
        faces.clear();
        std::vector<char> next = reached;
        for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
            bool near = false;
            for (const VertexId v : mesh.faces[f]) near = near || reached[v.value()];
            if (!near || repeats_corner(mesh.faces[f])) continue;
            faces.push_back(f);
            for (const VertexId v : mesh.faces[f]) next[v.value()] = 1;
        }
        reached = std::move(next);
    }
    return faces;
}

}  // namespace

std::optional<std::vector<Triangle>> smooth_fill(Mesh& mesh, std::span<const VertexId> rim) {
    constexpr std::size_t longest_rim = 2000;
    if (rim.size() < 3 || rim.size() > longest_rim) return std::nullopt;
    Patch patch;
    std::map<VertexId, Patch::Vertex_index> inner;
    std::map<Patch::Vertex_index, VertexId> outer;
    auto vertex = [&](VertexId v) {
        const auto [at, fresh] = inner.try_emplace(v);
        if (fresh) {
            const Vec3& p = mesh.points[v];
            at->second = patch.add_vertex({p.x, p.y, p.z});
            outer[at->second] = v;
        }
        return at->second;
    };
    for (const FaceId f : faces_around(mesh, rim)) {
        const Triangle& t = mesh.faces[f];
        if (patch.add_face(vertex(t[0]), vertex(t[1]), vertex(t[2])) == Patch::null_face()) return std::nullopt;
    }
    std::set<Patch::Halfedge_index> border;
    for (std::size_t i = 0; i < rim.size(); ++i) {
        const auto from = inner.find(rim[i]), to = inner.find(rim[(i + 1) % rim.size()]);
        if (from == inner.end() || to == inner.end()) return std::nullopt;
        const auto h = patch.halfedge(from->second, to->second);
        if (h == Patch::null_halfedge() || !patch.is_border(h)) return std::nullopt;
        border.insert(h);
    }
    // The patch must see the same hole: no other way round at a point where holes touch.
    std::size_t round = 0;
    auto h = *border.begin();
    do {
        if (!border.contains(h) || ++round > rim.size()) return std::nullopt;
        h = patch.next(h);
    } while (h != *border.begin());
    if (round != rim.size()) return std::nullopt;

    std::vector<Patch::Face_index> faces;
    std::vector<Patch::Vertex_index> points;
    namespace PMP = CGAL::Polygon_mesh_processing;
    PMP::triangulate_refine_and_fair_hole(patch, *border.begin(), std::back_inserter(faces), std::back_inserter(points),
                                          CGAL::parameters::fairing_continuity(1));
    if (faces.empty()) return std::nullopt;
    for (const auto v : points) {
        const auto& p = patch.point(v);
        const Vec3 point{p.x(), p.y(), p.z()};
        if (!is_finite(point)) return std::nullopt;
        outer[v] = mesh.points.push_back(point);
    }
    std::vector<Triangle> out;
    for (const auto f : faces) {
        Triangle t;
        std::size_t k = 0;
        for (const auto v : patch.vertices_around_face(patch.halfedge(f))) t[k++] = outer.at(v);
        out.push_back(t);
    }
    return out;
}

}  // namespace anvil
