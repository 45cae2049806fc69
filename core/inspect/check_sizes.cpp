#include "core/inspect/checks.h"
#include "core/inspect/tiny_shells.h"

namespace anvil {

std::vector<char> find_tiny_shells(const Mesh& mesh, const EdgeTable& edges, const Shells& shells, double below) {
    std::vector<double> volume(shells.count, 0);
    std::vector<char> tiny(shells.count, 1);
    const Vec3 origin = bounds(mesh).center();
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        volume[shells.shell_of[f]] +=
            dot(mesh.corner(f, 0) - origin, cross(mesh.corner(f, 1) - origin, mesh.corner(f, 2) - origin)) / 6;
    for (const EdgeId e : ids<EdgeId>(edges.size()))
        if (edges.edge(e).count == 1) tiny[shells.shell_of[FaceId(edges.uses(e)[0] / 3)]] = 0;
    for (std::size_t s = 0; s < shells.count; ++s) tiny[s] = tiny[s] && std::fabs(volume[s]) < below;
    return tiny;
}

namespace inspect_detail {
namespace {

void find_short_edges(CheckContext& context) {
    const Mesh& mesh = context.mesh;
    const double below2 = context.options.short_below * context.options.short_below;
    if (!(below2 > 0)) return;
    for (const EdgeId e : ids<EdgeId>(context.edges.size())) {
        const auto& edge = context.edges.edge(e);
        const Vec3 &a = mesh.points[edge.low], &b = mesh.points[edge.high];
        if (!(norm2(b - a) < below2)) continue;
        Finding finding{FindingKind::short_edges, (a + b) * 0.5, {edge.low, edge.high}, {}};
        for (const std::uint32_t h : context.edges.uses(e)) finding.faces.push_back(FaceId(h / 3));
        context.findings.push_back(std::move(finding));
    }
}

void find_needles(CheckContext& context) {
    const Mesh& mesh = context.mesh;
    const double above = context.options.needle_above;
    if (!(above > 0)) return;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        if (!context.clean_face[f.value()]) continue;
        const Vec3 u = mesh.corner(f, 1) - mesh.corner(f, 0), v = mesh.corner(f, 2) - mesh.corner(f, 0), w = v - u;
        const double longest2 = std::max({norm2(u), norm2(v), norm2(w)});
        // length / height, and height = twice the area / length
        if (longest2 > above * norm(cross(u, v)))
            context.findings.push_back({FindingKind::needle_faces, face_middle(mesh, f), {}, {f}});
    }
}

void find_tiny(CheckContext& context) {
    if (!(context.options.tiny_below > 0)) return;
    const Mesh& mesh = context.mesh;
    const Shells shells = find_shells(mesh, context.edges);
    const std::vector<char> tiny = find_tiny_shells(mesh, context.edges, shells, context.options.tiny_below);
    const std::size_t first = context.findings.size();
    std::vector<std::size_t> found(shells.count, 0);  // counted from 1
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const std::uint32_t s = shells.shell_of[f];
        if (!tiny[s]) continue;
        if (found[s] == 0) {
            context.findings.push_back({FindingKind::tiny_shells, face_middle(mesh, f), {}, {}});
            found[s] = context.findings.size() - first;
        }
        context.findings[first + found[s] - 1].faces.push_back(f);
    }
}

}  // namespace

void check_sizes(CheckContext& context) {
    find_short_edges(context);
    find_needles(context);
    if (!context.progress.cancelled()) find_tiny(context);
}

}  // namespace inspect_detail
}  // namespace anvil
