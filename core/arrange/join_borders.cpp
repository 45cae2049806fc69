#include "core/arrange/join_borders.h"

#include <algorithm>
#include <tuple>

#include "core/mesh/disjoint_sets.h"

namespace anvil {

JoinedBorders join_borders(Mesh& mesh, std::span<const UnbalancedEdge> unbalanced, double reach) {
    std::vector<VertexId> border;
    for (const UnbalancedEdge& e : unbalanced) border.insert(border.end(), {e.from, e.to});
    std::sort(border.begin(), border.end());
    border.erase(std::unique(border.begin(), border.end()), border.end());
    std::sort(border.begin(), border.end(),
              [&](VertexId a, VertexId b) { return std::tie(mesh.points[a].x, a) < std::tie(mesh.points[b].x, b); });
    DisjointSets sets(mesh.points.size());
    for (std::size_t i = 0; i < border.size(); ++i)
        for (std::size_t j = i + 1; j < border.size(); ++j) {
            const Vec3 d = mesh.points[border[j]] - mesh.points[border[i]];
            if (d.x > reach) break;
            if (norm(d) <= reach) sets.join(border[i].value(), border[j].value());
        }
    JoinedBorders joined;
    for (const VertexId v : border) {
        const VertexId root(sets.find(v.value()));
        if (root == v) continue;
        ++joined.points;
        joined.largest_move = std::max(joined.largest_move, norm(mesh.points[root] - mesh.points[v]));
    }
    if (joined.points > 0)
        for (Triangle& t : mesh.faces)
            for (VertexId& v : t) v = VertexId(sets.find(v.value()));
    return joined;
}

}  // namespace anvil
