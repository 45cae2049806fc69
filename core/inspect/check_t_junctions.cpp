#include <algorithm>

#include "core/exact/predicates.h"
#include "core/inspect/checks.h"
#include "core/spatial/box_tree.h"

namespace anvil::inspect_detail {

void check_t_junctions(CheckContext& context) {
    const Mesh& mesh = context.mesh;
    const EdgeTable& edges = context.edges;
    std::vector<EdgeId> open;
    std::vector<VertexId> ends;
    std::vector<Box> boxes;
    for (EdgeId e : ids<EdgeId>(edges.size())) {
        if (edges.edge(e).count != 1) continue;
        open.push_back(e);
        Box box;
        for (VertexId v : {edges.edge(e).low, edges.edge(e).high}) {
            ends.push_back(v);
            box.add(mesh.points[v]);
        }
        boxes.push_back(box);
    }
    if (open.empty()) return;
    std::sort(ends.begin(), ends.end());
    ends.erase(std::unique(ends.begin(), ends.end()), ends.end());
    const BoxTree tree(boxes);
    for (VertexId v : ends) {
        const Vec3& p = mesh.points[v];
        Box here;
        here.add(p);
        // Lying in the box of an edge and in line with it, a point lies on it.
        std::vector<EdgeId> on;
        tree.overlapping(here, [&](std::uint32_t item) {
            if (!boxes[item].meets(here)) return;
            const auto& edge = edges.edge(open[item]);
            if (edge.low != v && edge.high != v && collinear(mesh.points[edge.low], mesh.points[edge.high], p))
                on.push_back(open[item]);
        });
        if (on.empty()) continue;
        std::sort(on.begin(), on.end());
        Finding finding{FindingKind::t_junctions, p, {v}, {}};
        for (EdgeId e : on) finding.faces.push_back(FaceId(edges.uses(e)[0] / 3));
        context.findings.push_back(std::move(finding));
    }
}

}  // namespace anvil::inspect_detail
