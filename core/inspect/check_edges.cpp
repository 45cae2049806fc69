#include <algorithm>

#include "core/inspect/checks.h"

namespace anvil::inspect_detail {
namespace {

/// Follows the open edges from face to face round each hole. At a point where several holes meet, the walk turns about
/// the point within one fan of faces, so touching holes stay apart.
void find_holes(CheckContext& context, const std::vector<std::uint32_t>& open) {
    const EdgeTable& edges = context.edges;
    const Mesh& mesh = context.mesh;
    std::vector<char> is_open(mesh.faces.size() * 3, 0), seen(mesh.faces.size() * 3, 0);
    for (std::uint32_t h : open) is_open[h] = 1;
    // From an open half-edge a->b to the next one at b: turn about b across the faces' edges.
    auto across = [&](std::uint32_t h) -> std::uint32_t {
        const EdgeId e = edges.edge_of(h);
        if (!e.valid() || edges.edge(e).count != 2) return h;
        const auto uses = edges.uses(e);
        return uses[0] == h ? uses[1] : uses[0];
    };
    for (std::uint32_t start : open) {
        if (seen[start]) continue;
        std::vector<VertexId> loop;
        std::uint32_t h = start;
        bool closes = false;
        while (!seen[h]) {
            seen[h] = 1;
            const VertexId from = mesh.faces[FaceId(h / 3)][h % 3];
            const VertexId to = mesh.faces[FaceId(h / 3)][(h % 3 + 1) % 3];
            loop.push_back(from);
            // In the face of h, go on to the other edge at `to`, and across it, until an open edge comes.
            std::uint32_t g = h / 3 * 3 + (h % 3 + 1) % 3;
            std::size_t guard = mesh.faces.size() + 1;
            while (!is_open[g] && guard-- > 0) {
                const std::uint32_t other = across(g);
                if (other == g) break;  // a non-manifold edge ends the walk
                const std::uint32_t f = other / 3;
                const bool starts_here = mesh.faces[FaceId(f)][other % 3] == to;
                g = starts_here ? f * 3 + (other % 3 + 2) % 3 : f * 3 + (other % 3 + 1) % 3;
            }
            if (!is_open[g]) break;
            h = g;
            closes = h == start;
        }
        if (!closes && loop.size() < 3) continue;
        // A walk that comes by a point twice went round two holes that touch there: they are counted as two.
        std::vector<VertexId> path;
        auto report = [&](std::vector<VertexId> hole) {
            Vec3 middle;
            for (VertexId v : hole) middle = middle + mesh.points[v] * (1.0 / static_cast<double>(hole.size()));
            context.findings.push_back({FindingKind::holes, middle, std::move(hole), {FaceId(start / 3)}});
        };
        for (VertexId v : loop) {
            if (const auto again = std::find(path.begin(), path.end(), v); again != path.end()) {
                report({again, path.end()});
                path.erase(again, path.end());
            }
            path.push_back(v);
        }
        report(std::move(path));
    }
}

}  // namespace

void check_edges(CheckContext& context) {
    const EdgeTable& edges = context.edges;
    const Mesh& mesh = context.mesh;
    std::vector<std::uint32_t> open;
    for (EdgeId e : ids<EdgeId>(edges.size())) {
        const auto& edge = edges.edge(e);
        const auto uses = edges.uses(e);
        FindingKind kind;
        if (edge.count == 1) {
            kind = FindingKind::open_edges;
            open.push_back(uses[0]);
        } else if (edge.count > 2) {
            kind = FindingKind::nonmanifold_edges;
        } else if (edges.forward(uses[0]) == edges.forward(uses[1])) {
            kind = FindingKind::misoriented_edges;
        } else {
            continue;
        }
        Finding finding{kind, (mesh.points[edge.low] + mesh.points[edge.high]) * 0.5, {edge.low, edge.high}, {}};
        for (std::uint32_t h : uses) finding.faces.push_back(FaceId(h / 3));
        context.findings.push_back(std::move(finding));
    }
    std::sort(open.begin(), open.end());
    find_holes(context, open);
}

}  // namespace anvil::inspect_detail
