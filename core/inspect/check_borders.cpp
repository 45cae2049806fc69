#include <algorithm>

#include "core/exact/predicates.h"
#include "core/inspect/checks.h"
#include "core/spatial/box_tree.h"
#include "core/spatial/nearest.h"

namespace anvil::inspect_detail {
namespace {

struct OpenEdges {
    std::vector<EdgeId> edges;
    std::vector<Box> boxes;
    std::vector<VertexId> ends;  // each once, in order
};

OpenEdges find_open(const CheckContext& context) {
    OpenEdges open;
    for (const EdgeId e : ids<EdgeId>(context.edges.size())) {
        if (context.edges.edge(e).count != 1) continue;
        open.edges.push_back(e);
        Box& box = open.boxes.emplace_back();
        for (const VertexId v : {context.edges.edge(e).low, context.edges.edge(e).high}) {
            open.ends.push_back(v);
            box.add(context.mesh.points[v]);
        }
    }
    std::sort(open.ends.begin(), open.ends.end());
    open.ends.erase(std::unique(open.ends.begin(), open.ends.end()), open.ends.end());
    return open;
}

/// Points that lie on open edges without being joined to them, exactly.
void find_t_junctions(CheckContext& context, const OpenEdges& open, const BoxTree& tree) {
    const Mesh& mesh = context.mesh;
    for (const VertexId v : open.ends) {
        const Vec3& p = mesh.points[v];
        Box here;
        here.add(p);
        // Lying in the box of an edge and in line with it, a point lies on it.
        std::vector<EdgeId> on;
        tree.overlapping(here, [&](std::uint32_t item) {
            if (!open.boxes[item].meets(here)) return;
            const auto& edge = context.edges.edge(open.edges[item]);
            if (edge.low != v && edge.high != v && collinear(mesh.points[edge.low], mesh.points[edge.high], p))
                on.push_back(open.edges[item]);
        });
        if (on.empty()) continue;
        std::sort(on.begin(), on.end());
        Finding finding{FindingKind::t_junctions, p, {v}, {}};
        for (const EdgeId e : on) finding.faces.push_back(FaceId(context.edges.uses(e)[0] / 3));
        context.findings.push_back(std::move(finding));
    }
}

/// Open edges that have others beside them all along: at three places of each, some other is within reach.
void find_cracks(CheckContext& context, const OpenEdges& open, const BoxTree& tree) {
    const Mesh& mesh = context.mesh;
    const double reach = context.options.crack_below;
    if (!(reach > 0)) return;
    for (std::size_t i = 0; i < open.edges.size(); ++i) {
        const auto& edge = context.edges.edge(open.edges[i]);
        const Vec3 &a = mesh.points[edge.low], &b = mesh.points[edge.high];
        Finding finding{FindingKind::cracks, (a + b) * 0.5, {edge.low, edge.high}, {}};
        finding.faces.push_back(FaceId(context.edges.uses(open.edges[i])[0] / 3));
        bool along = true;
        for (const double t : {0.25, 0.5, 0.75}) {
            const Vec3 p = a + (b - a) * t, wide{reach, reach, reach};
            bool near = false;
            tree.overlapping({p - wide, p + wide}, [&](std::uint32_t item) {
                if (item == i) return;
                const auto& other = context.edges.edge(open.edges[item]);
                const Vec3 &c = mesh.points[other.low], &d = mesh.points[other.high];
                if (segment_distance2(p, p, c, d) > reach * reach) return;
                near = true;
                finding.faces.push_back(FaceId(context.edges.uses(open.edges[item])[0] / 3));
            });
            along = along && near;
        }
        if (!along) continue;
        std::sort(finding.faces.begin() + 1, finding.faces.end());
        finding.faces.erase(std::unique(finding.faces.begin() + 1, finding.faces.end()), finding.faces.end());
        context.findings.push_back(std::move(finding));
    }
}

}  // namespace

void check_borders(CheckContext& context) {
    const OpenEdges open = find_open(context);
    if (open.edges.empty()) return;
    const BoxTree tree(open.boxes);
    find_t_junctions(context, open, tree);
    if (context.progress.cancelled()) return;
    find_cracks(context, open, tree);
}

}  // namespace anvil::inspect_detail
