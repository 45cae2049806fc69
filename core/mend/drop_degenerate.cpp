#include <algorithm>

#include "core/exact/predicates.h"
#include "core/mend/chosen.h"
#include "core/mend/edit_faces.h"
#include "core/mend/repairs.h"
#include "core/mesh/edge_table.h"

namespace anvil {
namespace {

/// The corner of a face without area that lies between the two others.
int middle_corner(const Mesh& mesh, const Triangle& t) {
    // Along an axis in which they differ; in line, all others agree with it.
    for (int axis = 0; axis < 3; ++axis)
        for (int k = 0; k < 3; ++k) {
            const double here = mesh.points[t[k]][axis], next = mesh.points[t[(k + 1) % 3]][axis],
                         last = mesh.points[t[(k + 2) % 3]][axis];
            if ((next < here && here < last) || (last < here && here < next)) return k;
        }
    return 0;  // never, for three distinct points in line
}

bool is_degenerate(const Mesh& mesh, const Triangle& t) {
    return collinear(mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]]);
}

/// Takes out faces without area that have no neighbour in common: what lies across the long side of each is split at
/// its middle corner, so that the short sides meet that. Returns how many went.
std::size_t take_out_some(Mesh& mesh, const Chosen& chosen, std::vector<Vec3>& places) {
    std::vector<FaceId> flat;
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        if (!repeats_corner(mesh.faces[f]) && is_degenerate(mesh, mesh.faces[f]) && chosen.has(mesh, mesh.faces[f]))
            flat.push_back(f);
    if (flat.empty()) return 0;
    const EdgeTable edges(mesh.faces.raw(), mesh.points.size());
    std::vector<char> touched(mesh.faces.size(), 0), gone(mesh.faces.size(), 0);
    std::size_t taken = 0;
    for (const FaceId f : flat) {
        const Triangle t = mesh.faces[f];
        const int k = middle_corner(mesh, t);
        const VertexId middle = t[k];
        const auto across = edges.uses(edges.edge_of(3 * f.value() + static_cast<std::uint32_t>((k + 1) % 3)));
        if (std::ranges::any_of(across, [&](std::uint32_t h) { return touched[h / 3] != 0; })) continue;
        for (const std::uint32_t h : across) {
            const FaceId g(h / 3);
            touched[g.value()] = 1;
            if (g == f) continue;
            const Triangle old = mesh.faces[g];
            Triangle other = old;
            mesh.faces[g][(h + 1) % 3] = middle;
            other[h % 3] = middle;
            add_face(mesh, other, g);
        }
        gone[f.value()] = 1;
        ++taken;
        if (places.size() < most_places) places.push_back(mesh.points[middle]);
    }
    keep_faces_of(mesh, [&](FaceId f) {
        const bool is_new = f.value() >= gone.size();
        return (is_new || !gone[f.value()]) && !((is_new || touched[f.value()]) && repeats_corner(mesh.faces[f]));
    });
    return taken;
}

}  // namespace

Result<Repaired> drop_degenerate(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::degenerate};
    Mesh own = mesh;
    const Chosen chosen(options);
    const std::size_t repeating = keep_faces_of(own, [&](FaceId f) {
        const bool goes = repeats_corner(own.faces[f]) && chosen.has(own, own.faces[f]);
        if (goes && out.places.size() < most_places) out.places.push_back(own.corner(f, 0));
        return !goes;
    });
    std::size_t flat = 0;
    // Flat faces side by side wait for each other; each round takes out some of every such heap.
    constexpr int most_rounds = 64;
    for (int round = 0; round < most_rounds; ++round) {
        if (progress.cancelled()) return cancelled_error();
        const std::size_t taken = take_out_some(own, chosen, out.places);
        flat += taken;
        if (taken == 0) break;
    }
    out.changed = repeating + flat;
    if (repeating > 0) out.said = count_text(repeating, "face", "faces") + " with an edge of zero length";
    if (flat > 0) out.said += (out.said.empty() ? "" : " and ") + count_text(flat, "face", "faces") + " without area";
    if (out.changed > 0) {
        out.said += out.changed == 1 ? " was dropped." : " were dropped.";
        mesh = welded(own);
    }
    return out;
}

}  // namespace anvil
