#include <algorithm>
#include <map>

#include "core/exact/implicit_point.h"
#include "core/inspect/checks.h"
#include "core/mesh/disjoint_sets.h"
#include "core/spatial/ray_winding.h"

namespace anvil::inspect_detail {

void check_shells(CheckContext& context) {
    const Mesh& mesh = context.mesh;
    const EdgeTable& edges = context.edges;
    // Sheets of faces that hang together across edges of exactly two faces wound alike; a non-manifold edge parts
    // them, since the two sides of a wall may differ from one sheet to the next.
    DisjointSets sets(mesh.faces.size());
    std::vector<char> bad(mesh.faces.size(), 0);
    for (FaceId f : ids<FaceId>(mesh.faces.size()))
        if (!context.clean_face[f.value()]) bad[f.value()] = 1;
    for (EdgeId e : ids<EdgeId>(edges.size())) {
        const auto uses = edges.uses(e);
        if (uses.size() == 2) sets.join(uses[0] / 3, uses[1] / 3);
        long balance = 0;
        for (std::uint32_t h : uses) balance += edges.forward(h) ? 1 : -1;
        if (balance != 0 || (uses.size() == 2 && edges.forward(uses[0]) == edges.forward(uses[1])))
            for (std::uint32_t h : uses) bad[h / 3] = 1;
    }
    std::vector<std::uint32_t> sheet_of;
    const std::uint32_t sheets = sets.number(sheet_of);
    // Inside and outside are only told for sheets that are sound in themselves, among others that are.
    std::vector<char> told(sheets, 1);
    for (std::size_t f = 0; f < bad.size(); ++f)
        if (bad[f]) told[sheet_of[f]] = 0;
    for (const Finding& finding : context.findings)
        if (finding.kind == FindingKind::self_intersections)
            for (FaceId f : finding.faces) told[sheet_of[f.value()]] = 0;

    // What lies before a face: the same for all copies of it, of which there may be thousands.
    std::map<Triangle, std::int32_t> known;
    auto winding_before = [&](FaceId f) {
        Triangle t = mesh.faces[f];
        std::rotate(t.begin(), std::ranges::min_element(t), t.end());
        const auto [at, is_new] = known.try_emplace(t, 0);
        if (!is_new) return at->second;
        std::int32_t winding = 0;
        const auto& points = mesh.points.raw();
        const SideRay ray(corner_points(points, mesh.faces[f]));
        ray.cast(points, mesh.faces.raw(), *context.tree,
                 [&](std::uint32_t face, int sign) { winding += bad[face] ? 0 : sign; });
        return at->second = ray.in_front() ? winding : winding - 1;
    };
    std::vector<char> interior(sheets, 0), visited(sheets, 0);
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        const std::uint32_t sheet = sheet_of[f.value()];
        if (told[sheet] && !visited[sheet]) {
            if (context.progress.cancelled()) return;
            visited[sheet] = 1;
            const std::int32_t front = winding_before(f);
            if (front > 0) interior[sheet] = 1;
            if (front < 0) context.findings.push_back({FindingKind::inverted_shells, face_middle(mesh, f), {}, {f}});
        }
        if (interior[sheet]) {
            context.findings.push_back({FindingKind::interior_faces, face_middle(mesh, f), {}, {f}});
        }
    }
}

}  // namespace anvil::inspect_detail
