// A sheet's two offsets and the walls along its borders make a closed surface, which may cross itself where the sheet
// bends sharply: the arrangement resolves that.
#include "core/mend/borders.h"
#include "core/mend/edit_faces.h"
#include "core/mend/repairs.h"

namespace anvil {
namespace {

/// Per point: the mean direction of the faces round it, each counting with its angle there.
std::vector<Vec3> point_normals(const Mesh& mesh) {
    std::vector<Vec3> normal(mesh.points.size());
    for (const Triangle& t : mesh.faces)
        for (std::size_t k = 0; k < 3; ++k) {
            const Vec3& p = mesh.points[t[k]];
            const Vec3 u = normalized(mesh.points[t[(k + 1) % 3]] - p), w = normalized(mesh.points[t[(k + 2) % 3]] - p);
            const Vec3 n = cross(u, w);
            normal[t[k].value()] = normal[t[k].value()] + normalized(n) * std::atan2(norm(n), dot(u, w));
        }
    for (Vec3& n : normal) n = normalized(n);
    return normal;
}

}  // namespace

Result<Repaired> thicken_sheet(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::thicken};
    if (options.sheets != SheetRule::thicken || !(options.thickness > 0)) return out;
    const auto open = unbalanced_edges(mesh);
    if (open.empty()) return out;
    if (progress.cancelled()) return cancelled_error();
    const std::vector<Vec3> normal = point_normals(mesh);
    const auto n = mesh.points.size();
    Mesh own = mesh;
    for (const VertexId v : ids<VertexId>(n)) {
        own.points[v] = mesh.points[v] + normal[v.value()] * (options.thickness / 2);
        own.points.push_back(mesh.points[v] - normal[v.value()] * (options.thickness / 2));
    }
    auto below = [&](VertexId v) { return VertexId(v.value() + n); };
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Triangle& t = mesh.faces[f];
        add_face(own, {below(t[0]), below(t[2]), below(t[1])}, f);
    }
    // The wall runs along the upper border the way that it is missing.
    for (const UnbalancedEdge& e : open)
        for (int k = 0; k < e.missing; ++k) {
            add_face(own, {e.from, e.to, below(e.to)});
            add_face(own, {e.from, below(e.to), below(e.from)});
        }
    out.changed = mesh.faces.size();
    out.largest_move = options.thickness / 2;
    for (std::size_t i = 0; i < open.size() && out.places.size() < most_places; ++i)
        out.places.push_back(mesh.points[open[i].from]);
    out.said = "The sheet was given a thickness of " + short_text(options.thickness) + " mm, half to each side.";
    mesh = std::move(own);
    return out;
}

}  // namespace anvil
