// One half of a body, mirrored and welded to itself.
#include "core/cut/symmetry.h"

#include "core/base/number_text.h"
#include "core/job/kinds/cut_fields.h"
#include "core/mesh/measures.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

Result<Treated> made(const std::shared_ptr<const Mesh>& body, const Values& values, const TreatSettings& settings,
                     Progress& progress) {
    const Kind& kind = *find_kind("symmetry");
    const KindValues m(kind, values);
    const Mesh mesh = welded(*body);
    const auto plane = mirror_plane(m, mesh, settings.held);
    if (!plane) return plane.error();
    auto done = made_symmetric(mesh, {plane->place, plane->normal, m.word("keep") == "front", m["weld"]},
                               {.precision = settings.precision, .contact = settings.contact}, progress);
    if (!done) return done.error();
    if (done->was_symmetric)
        return Treated{.mesh = body, .said = "It is symmetric across that plane already, to the bit."};
    std::string said = count_text(done->met, "point meets", "points meet") + " in the plane.";
    if (done->moved > 0)
        said += " " + count_text(done->moved, "point was", "points were") + " put onto it, by up to " +
                short_text(done->largest_move) + " mm.";
    Treated out{.mesh = std::make_shared<const Mesh>(std::move(done->mesh)), .said = std::move(said)};
    out.largest_move = done->largest_move;
    return out;
}

std::vector<Field> symmetry_fields() {
    std::vector<Field> out = mirror_plane_fields();
    out.push_back(
        choice_field("keep", "keep", "the half in front of the plane, or the one behind it", {"front", "back"}));
    out.push_back({.name = "weld",
                   .type = Field::Type::length,
                   .usual = 0.0,
                   .label = "weld within",
                   .says = "points no farther from the plane are put onto it, so that the halves meet there",
                   .least = 0,
                   .most = 1e6});
    return out;
}

const RegisterKind symmetry_registered({
    .word = "symmetry",
    .of = KindClass::treat,
    .name = "mirror and weld",
    .says = "Keeps one half and welds it to its mirror image: symmetric to the bit, without a wall inside",
    .fields = symmetry_fields(),
    .treat = made,
    .handles = [](const Values& values) { return mirror_plane_handles(*find_kind("symmetry"), values); },
});

}  // namespace
}  // namespace anvil
