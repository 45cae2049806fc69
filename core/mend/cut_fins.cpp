#include <algorithm>

#include "core/arrange/half_edges.h"
#include "core/mend/edit_faces.h"
#include "core/mend/repairs.h"
#include "core/mesh/disjoint_sets.h"
#include "core/mesh/edge_table.h"

namespace anvil {
namespace {

/// Faces that hang together across regular edges.
std::vector<std::uint32_t> patches_of(const Mesh& mesh, std::uint32_t& count) {
    const HalfEdges half = find_half_edges(mesh.faces.raw(), mesh.points.size());
    DisjointSets sets(mesh.faces.size());
    for (std::uint32_t h = 0; h < half.twin.size(); ++h)
        if (half.twin[h] != HalfEdges::none) sets.join(h / 3, half.twin[h] / 3);
    std::vector<std::uint32_t> patch;
    count = sets.number(patch);
    return patch;
}

/// Cuts off the patches that have a free border, and hang at edges that are sound without them. Returns their faces.
std::size_t cut_some(Mesh& mesh, Repaired& out) {
    const EdgeTable edges(mesh.faces.raw(), mesh.points.size());
    std::uint32_t count = 0;
    bool any = false;
    for (const EdgeId e : ids<EdgeId>(edges.size())) any = any || edges.edge(e).count > 2;
    if (!any) return 0;
    const std::vector<std::uint32_t> patch = patches_of(mesh, count);
    std::vector<char> free(count, 0), hangs(count, 0), needed(count, 0);
    std::vector<double> area(count, 0);
    double total = 0;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Triangle& t = mesh.faces[f];
        const double a = triangle_area(mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]]);
        area[patch[f.value()]] += a;
        total += a;
    }
    for (const EdgeId e : ids<EdgeId>(edges.size())) {
        const auto uses = edges.uses(e);
        if (uses.size() == 1) free[patch[uses[0] / 3]] = 1;
        if (uses.size() <= 2) continue;
        for (const std::uint32_t h : uses) {
            const std::uint32_t own = patch[h / 3];
            int balance = 0;
            std::size_t left = 0;
            for (const std::uint32_t other : uses)
                if (patch[other / 3] != own) balance += edges.forward(other) ? 1 : -1, ++left;
            (left >= 2 && balance == 0 ? hangs : needed)[own] = 1;
        }
    }
    std::vector<char> cut(count, 0);
    std::size_t fins = 0;
    for (std::uint32_t p = 0; p < count; ++p)
        if (free[p] && hangs[p] && !needed[p] && area[p] < total / 2) cut[p] = 1, ++fins;
    if (fins == 0) return 0;
    out.changed += fins;
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        if (cut[patch[f.value()]] && out.places.size() < most_places) out.places.push_back(mesh.corner(f, 0));
    return keep_faces_of(mesh, [&](FaceId f) { return !cut[patch[f.value()]]; });
}

}  // namespace

Result<Repaired> cut_fins(Mesh& mesh, const MendOptions&, Progress& progress) {
    Repaired out{.repair = Repair::fins};
    Mesh own = mesh;
    std::size_t faces = 0;
    while (const std::size_t cut = cut_some(own, out)) {
        faces += cut;
        if (progress.cancelled()) return cancelled_error();
    }
    if (faces == 0) return out;
    mesh = welded(own);
    out.said = count_text(out.changed, "fin of ", "fins of ") + count_text(faces, "face", "faces") + " " +
               (out.changed == 1 ? "was" : "were") + " cut off.";
    return out;
}

}  // namespace anvil
