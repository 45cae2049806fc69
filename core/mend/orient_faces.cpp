#include "core/arrange/orient.h"
#include "core/mend/chosen.h"
#include "core/mend/edit_faces.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

/// Takes over what was turned in the shells that hold a chosen place.
Repaired keep_turned(Mesh& mesh, const Mesh& turned, const Chosen& chosen) {
    Repaired out{.repair = Repair::orient};
    const Shells shells = find_shells(mesh);
    auto shell = [&](FaceId f) { return shells.shell_of[f]; };
    const std::vector<char> wanted = chosen.parts(mesh, shell, shells.count);
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        if (!wanted[shell(f)] || turned.faces[f] == mesh.faces[f]) continue;
        if (out.places.size() < most_places) out.places.push_back(mesh.corner(f, 0));
        mesh.faces[f] = turned.faces[f];
        ++out.changed;
    }
    if (out.changed > 0)
        out.said = count_text(out.changed, "face", "faces") + " of the chosen shells " +
                   (out.changed == 1 ? "was" : "were") + " turned.";
    return out;
}

}  // namespace

Result<Repaired> orient_faces(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::orient};
    Mesh own = mesh;
    auto half_edges = [&] { return find_half_edges(own.faces.raw(), own.points.size()); };
    HalfEdges edges = half_edges();
    const std::size_t faces = orient_alike(own, edges);
    if (progress.cancelled()) return cancelled_error();
    if (faces > 0) edges = half_edges();
    const std::size_t shells = turn_shells_outward(own, edges);
    if (faces + shells == 0) return out;
    if (const Chosen chosen(options); !chosen.everything()) return keep_turned(mesh, own, chosen);
    out.changed = faces + shells;
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        if (own.faces[f] != mesh.faces[f] && out.places.size() < most_places) out.places.push_back(mesh.corner(f, 0));
    if (faces > 0) out.said = count_text(faces, "face", "faces") + " that ran against the neighbours";
    if (shells > 0)
        out.said += (out.said.empty() ? "" : " and ") + count_text(shells, "shell that was", "shells that were") +
                    " inside out";
    out.said += out.changed == 1 ? " was turned." : " were turned.";
    mesh = std::move(own);
    return out;
}

}  // namespace anvil
