// Flat regions as single faces.
#include "core/base/number_text.h"
#include "core/cut/flat_regions.h"
#include "core/job/kinds/kind_values.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

Result<Treated> merged(const std::shared_ptr<const Mesh>& body, const Values& values, const TreatSettings&,
                       Progress& progress) {
    const Mesh mesh = welded(*body);
    auto done = merged_flat(mesh, KindValues(*find_kind("merge-flat"), values)["within"], progress);
    if (!done) return done.error();
    if (done->points_gone == 0) return Treated{.mesh = body, .said = "Its flat regions are single faces already."};
    Treated out;
    out.said = count_text(done->regions, "flat region is a single face now: ", "flat regions are single faces now: ") +
               count_text(mesh.faces.size() - done->mesh.faces.size(), "face", "faces") + " less.";
    if (done->regions_left > 0)
        out.said += " " + count_text(done->regions_left, "region stays as it was, since its outline touches itself.",
                                     "regions stay as they were, since their outlines touch themselves.");
    out.mesh = std::make_shared<const Mesh>(std::move(done->mesh));
    return out;
}

const RegisterKind merge_flat_registered({
    .word = "merge-flat",
    .of = KindClass::treat,
    .name = "merge flat faces",
    .says = "Makes each flat region a single face, of as few triangles as its outline needs",
    .fields = {{.name = "within",
                .type = Field::Type::length,
                .usual = 1e-4,
                .label = "flat within",
                .says = "how far from flat a region may be, and a line from straight; the surface moves by no more",
                .least = 0,
                .most = 1}},
    .treat = merged,
});

}  // namespace
}  // namespace anvil
