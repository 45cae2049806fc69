#include "core/arrange/orient.h"
#include "core/mend/edit_faces.h"
#include "core/mend/repairs.h"

namespace anvil {

Result<Repaired> orient_faces(Mesh& mesh, const MendOptions&, Progress& progress) {
    Repaired out{.repair = Repair::orient};
    Mesh own = mesh;
    auto half_edges = [&] { return find_half_edges(own.faces.raw(), own.points.size()); };
    HalfEdges edges = half_edges();
    const std::size_t faces = orient_alike(own, edges);
    if (progress.cancelled()) return cancelled_error();
    if (faces > 0) edges = half_edges();
    const std::size_t shells = turn_shells_outward(own, edges);
    if (faces + shells == 0) return out;
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
