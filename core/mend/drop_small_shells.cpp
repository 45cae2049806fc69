#include "core/inspect/tiny_shells.h"
#include "core/mend/chosen.h"
#include "core/mend/edit_faces.h"

namespace anvil {

Result<Repaired> drop_small_shells(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::shells};
    if (!(options.smallest_shell > 0)) return out;
    const EdgeTable edges(mesh.faces.raw(), mesh.points.size());
    const Shells shells = find_shells(mesh, edges);
    std::vector<char> gone = find_tiny_shells(mesh, edges, shells, options.smallest_shell);
    if (progress.cancelled()) return cancelled_error();
    const Chosen chosen(options);
    const std::vector<char> wanted = chosen.parts(
        mesh, [&](FaceId f) { return shells.shell_of[f]; }, shells.count);
    std::vector<char> told(shells.count, 0);
    for (std::size_t s = 0; s < shells.count; ++s) {
        gone[s] = gone[s] && wanted[s];
        out.changed += gone[s];
    }
    if (out.changed == 0) return out;
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        if (const std::size_t s = shells.shell_of[f]; gone[s] && !told[s] && out.places.size() < most_places) {
            told[s] = 1;
            out.places.push_back(mesh.corner(f, 0));
        }
    keep_faces_of(mesh, [&](FaceId f) { return !gone[shells.shell_of[f]]; });
    mesh = welded(mesh);
    out.said = count_text(out.changed, "shell", "shells") + " of less than " + short_text(options.smallest_shell) +
               " mm³ " + (out.changed == 1 ? "was" : "were") + " dropped.";
    return out;
}

}  // namespace anvil
