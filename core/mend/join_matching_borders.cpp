#include "core/mend/borders.h"
#include "core/mend/chosen.h"
#include "core/mend/edit_faces.h"
#include "core/mend/repairs.h"

namespace anvil {

Result<Repaired> join_matching_borders(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::borders};
    auto open = unbalanced_edges(mesh);
    const Chosen chosen(options);
    std::erase_if(open, [&](const UnbalancedEdge& e) { return !chosen.has(mesh, {e.from, e.to}); });
    if (open.empty()) return out;
    Mesh own = mesh;
    const JoinedBorders joined = join_borders(own, open, border_reach(mesh, options));
    if (joined.points == 0) return out;
    drop_repeating(own);
    if (progress.cancelled()) return cancelled_error();
    // Joined the wrong way, borders are more than before.
    if (unbalanced_edges(own).size() >= unbalanced_edges(mesh).size()) return out;
    out.changed = joined.points;
    out.largest_move = joined.largest_move;
    out.said = count_text(joined.points, "border point was", "border points were") + " joined with others up to " +
               short_text(joined.largest_move) + " mm away.";
    for (std::size_t i = 0; i < open.size() && out.places.size() < most_places; ++i)
        out.places.push_back(mesh.points[open[i].from]);
    mesh = welded(own);
    return out;
}

}  // namespace anvil
