#include "core/mend/edit_faces.h"
#include "core/mend/repairs.h"
#include "core/mesh/edge_table.h"
#include "core/mesh/measures.h"

namespace anvil {

Result<Repaired> drop_small_shells(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::shells};
    if (!(options.smallest_shell > 0)) return out;
    const Shells shells = find_shells(mesh);
    std::vector<double> volume(shells.count, 0);
    std::vector<char> closed(shells.count, 1);
    const Vec3 origin = bounds(mesh).center();
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        volume[shells.shell_of[f]] +=
            dot(mesh.corner(f, 0) - origin, cross(mesh.corner(f, 1) - origin, mesh.corner(f, 2) - origin)) / 6;
    const EdgeTable edges(mesh.faces.raw(), mesh.points.size());
    for (const EdgeId e : ids<EdgeId>(edges.size()))
        if (edges.edge(e).count == 1) closed[shells.shell_of[FaceId(edges.uses(e)[0] / 3)]] = 0;
    if (progress.cancelled()) return cancelled_error();
    std::vector<char> gone(shells.count, 0);
    std::vector<char> told(shells.count, 0);
    for (std::size_t s = 0; s < shells.count; ++s) {
        gone[s] = closed[s] && std::fabs(volume[s]) < options.smallest_shell;
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
               " mm3 " + (out.changed == 1 ? "was" : "were") + " dropped.";
    return out;
}

}  // namespace anvil
