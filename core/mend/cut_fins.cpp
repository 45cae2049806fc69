#include <algorithm>

#include "core/inspect/fins.h"
#include "core/mend/chosen.h"
#include "core/mend/edit_faces.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

/// Whether a fin hangs at a chosen edge, or has a chosen face.
bool is_chosen(const Mesh& mesh, const EdgeTable& edges, const std::vector<FaceId>& fin, const Chosen& chosen) {
    return std::ranges::any_of(fin, [&](FaceId f) {
        if (chosen.has(mesh, mesh.faces[f])) return true;
        for (std::uint32_t k = 0; k < 3; ++k) {
            const EdgeId e = edges.edge_of(3 * f.value() + k);
            if (e.valid() && edges.edge(e).count > 2 && chosen.has(mesh, {edges.edge(e).low, edges.edge(e).high}))
                return true;
        }
        return false;
    });
}

}  // namespace

Result<Repaired> cut_fins(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::fins};
    Mesh own = mesh;
    const Chosen chosen(options);
    std::size_t faces = 0;
    while (true) {  // a fin may hang on another
        if (progress.cancelled()) return cancelled_error();
        const EdgeTable edges(own.faces.raw(), own.points.size());
        auto fins = find_fins(own, edges);
        std::erase_if(fins, [&](const auto& fin) { return !is_chosen(own, edges, fin, chosen); });
        if (fins.empty()) break;
        std::vector<char> cut(own.faces.size(), 0);
        for (const auto& fin : fins) {
            ++out.changed;
            if (out.places.size() < most_places) out.places.push_back(face_middle(own, fin.front()));
            for (const FaceId f : fin) cut[f.value()] = 1;
        }
        faces += keep_faces_of(own, [&](FaceId f) { return !cut[f.value()]; });
    }
    if (faces == 0) return out;
    mesh = welded(own);
    out.said = count_text(out.changed, "fin of ", "fins of ") + count_text(faces, "face", "faces") + " " +
               (out.changed == 1 ? "was" : "were") + " cut off.";
    return out;
}

}  // namespace anvil
