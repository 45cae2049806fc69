#include <algorithm>

#include "core/inspect/checks.h"
#include "core/mesh/disjoint_sets.h"

namespace anvil::inspect_detail {

void check_vertices(CheckContext& context) {
    const Mesh& mesh = context.mesh;
    const EdgeTable& edges = context.edges;
    // A fan is a set of faces round a point that hang together across edges at that point. Corners are joined along
    // every edge at both of its ends; each point should be left with one set of corners.
    DisjointSets corners(mesh.faces.size() * 3);
    for (EdgeId e : ids<EdgeId>(edges.size())) {
        const auto uses = edges.uses(e);
        auto corner_at = [&](std::uint32_t h, bool low) {
            return edges.forward(h) == low ? h : h / 3 * 3 + (h % 3 + 1) % 3;
        };
        for (std::uint32_t h : uses.subspan(1))
            for (bool low : {true, false}) corners.join(corner_at(uses[0], low), corner_at(h, low));
    }
    std::vector<std::uint32_t> first(mesh.points.size(), 0xffffffffu);
    std::vector<char> reported(mesh.points.size(), 0);
    for (std::uint32_t c = 0; c < mesh.faces.size() * 3; ++c) {
        const Triangle& t = mesh.faces[FaceId(c / 3)];
        if (repeats_corner(t)) continue;
        const VertexId v = t[c % 3];
        const std::uint32_t root = corners.find(c);
        if (first[v.value()] == 0xffffffffu) first[v.value()] = root;
        if (first[v.value()] == root || reported[v.value()]) continue;
        reported[v.value()] = 1;
        context.findings.push_back(
            {FindingKind::nonmanifold_vertices, mesh.points[v], {v}, {FaceId(first[v.value()] / 3), FaceId(c / 3)}});
    }
}

}  // namespace anvil::inspect_detail
