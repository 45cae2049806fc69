// A body here is what hangs together across regular edges and is closed in itself. Two of them touch where they share a
// point; that point is a non-manifold one, or an end of a non-manifold edge.
#include <algorithm>
#include <map>

#include "core/inspect/checks.h"
#include "core/mesh/disjoint_sets.h"

namespace anvil::inspect_detail {

void check_touching(CheckContext& context) {
    const Mesh& mesh = context.mesh;
    const EdgeTable& edges = context.edges;
    std::vector<char> shared(mesh.points.size(), 0);
    bool any = false;
    for (const Finding& f : context.findings)
        if (f.kind == FindingKind::nonmanifold_vertices || f.kind == FindingKind::nonmanifold_edges)
            for (const VertexId v : f.vertices) shared[v.value()] = any = true;
    if (!any) return;
    DisjointSets sets(mesh.faces.size());
    for (const EdgeId e : ids<EdgeId>(edges.size())) {
        const auto uses = edges.uses(e);
        if (edges.is_regular(e)) sets.join(uses[0] / 3, uses[1] / 3);
    }
    std::vector<std::uint32_t> body;
    std::vector<char> closed(sets.number(body), 1);
    std::map<std::uint32_t, int> balance;
    for (const EdgeId e : ids<EdgeId>(edges.size())) {
        const auto uses = edges.uses(e);
        balance.clear();
        for (const std::uint32_t h : uses) balance[body[h / 3]] += edges.forward(h) ? 1 : -1;
        for (const auto& [b, sum] : balance)
            if (sum != 0) closed[b] = 0;
    }
    std::vector<std::pair<VertexId, std::uint32_t>> at;
    std::vector<FaceId> first(closed.size());
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const std::uint32_t b = body[f.value()];
        if (!closed[b]) continue;
        if (!first[b].valid()) first[b] = f;
        for (const VertexId v : mesh.faces[f])
            if (shared[v.value()]) at.emplace_back(v, b);
    }
    std::sort(at.begin(), at.end());
    at.erase(std::unique(at.begin(), at.end()), at.end());
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<VertexId>> pairs;
    for (std::size_t i = 0; i < at.size(); ++i)
        for (std::size_t j = i + 1; j < at.size() && at[j].first == at[i].first; ++j)
            pairs[{at[i].second, at[j].second}].push_back(at[i].first);
    for (auto& [two, points] : pairs) {
        const Vec3 place = mesh.points[points.front()];
        context.findings.push_back(
            {FindingKind::touching_bodies, place, std::move(points), {first[two.first], first[two.second]}});
    }
}

}  // namespace anvil::inspect_detail
