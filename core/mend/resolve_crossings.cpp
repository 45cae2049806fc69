#include "core/arrange/arrangement.h"
#include "core/combine/combine.h"
#include "core/inspect/inspect.h"
#include "core/mend/borders.h"
#include "core/mend/chosen.h"
#include "core/mend/edit_faces.h"
#include "core/mend/written.h"
#include "core/mesh/regions.h"

namespace anvil {
namespace {

Result<Repaired> resolve_all(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::crossings};
    if (!unbalanced_edges(mesh).empty()) {
        out.said = "Crossings were left alone: the surface is open.";
        out.refused = true;
        return out;
    }
    auto found = inspect(as_written(mesh, options.precision), progress);
    if (!found) return found.error();
    if (found->print_ready || mesh.empty()) return out;
    const Mesh* operand = &mesh;
    auto arranged = arrange(std::span(&operand, 1), progress, Taken::repaired);
    if (!arranged) return arranged.error();
    auto solid = combine(*arranged, {}, progress, {options.precision, options.contact, false});
    if (!solid) return solid.error();
    if (solid->empty) {
        out.said = "The faces enclose nothing: there is no solid in them.";
        out.refused = true;
        return out;
    }
    solid->take_materials(std::span(&operand, 1));
    for (const Finding& f : found->findings) {
        ++out.changed;
        if (out.places.size() < most_places) out.places.push_back(f.place);
    }
    out.largest_move = solid->largest_move + solid->contact_step;
    out.said = count_text(out.changed, "place", "places") +
               " where faces cross, lie inside, or bodies touch were resolved by the exact arrangement";
    if (out.changed == 1) out.said.replace(out.said.find("were resolved"), 4, "was");
    out.said += "; points moved by no more than " + short_text(out.largest_move) + " mm.";
    mesh = std::move(solid->mesh);
    return out;
}

/// The bodies that hold a chosen place are resolved among themselves; the others stay as they are.
Result<Repaired> resolve_some(Mesh& mesh, const Chosen& chosen, const MendOptions& options, Progress& progress) {
    std::vector<std::uint32_t> number;
    const std::uint32_t count = points_joined_by_faces(mesh).number(number);
    auto part = [&](FaceId f) { return number[mesh.faces[f][0].value()]; };
    const std::vector<char> wanted = chosen.parts(mesh, part, count);
    Mesh own = mesh, others = mesh;
    keep_faces_of(own, [&](FaceId f) { return wanted[part(f)] != 0; });
    keep_faces_of(others, [&](FaceId f) { return !wanted[part(f)]; });
    own = welded(own);
    auto out = resolve_all(own, options, progress);
    if (!out || out->changed == 0) return out;
    append(own, others);
    mesh = welded(own);
    return out;
}

}  // namespace

Result<Repaired> resolve_crossings(Mesh& mesh, const MendOptions& options, Progress& progress) {
    const Chosen chosen(options);
    return chosen.everything() ? resolve_all(mesh, options, progress) : resolve_some(mesh, chosen, options, progress);
}

}  // namespace anvil
