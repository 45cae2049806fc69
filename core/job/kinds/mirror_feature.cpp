// A hole or a peg of the body, once more across a plane.
#include "core/cut/feature.h"

#include "core/job/kinds/cut_fields.h"
#include "core/job/kinds/shape_fields.h"

namespace anvil {
namespace {

std::vector<Field> fields() {
    std::vector<Field> out{{.name = "faces",
                            .type = Field::Type::held,
                            .usual = std::vector<Anchor>(),
                            .label = "faces",
                            .says = "of the feature: the walls of a hole, or all of what stands out",
                            .is_wanted = true,
                            .of = ElementKind::faces}};
    std::ranges::move(mirror_plane_fields(), std::back_inserter(out));
    out.push_back(
        folded(measure_field("over", 0.01, "over-travel", "how far its ends go beyond, so that no skin stays", 0)));
    return out;
}

const RegisterKind mirror_feature_registered(
    {.word = "mirror-feature",
     .of = KindClass::cut,
     .name = "mirror a feature",
     .says = "Makes a hole, a pocket or what stands out once more across a plane",
     .fields = fields(),
     .cut = [](const Values& values, const CutFor& of, Progress&) -> Result<Cut> {
         const KindValues m(*find_kind("mirror-feature"), values);
         const auto at = of.held.find("faces");
         if (at == of.held.end() || !of.body)
             return Error{ErrorCode::lost, "no face is chosen that could be mirrored", ""};
         const auto plane = mirror_plane(m, *of.body, of.held);
         if (!plane) return plane.error();
         return mirrored_feature(*of.body, at->second, {plane->place, plane->normal}, m["over"]);
     },
     .handles = [](const Values& values) { return mirror_plane_handles(*find_kind("mirror-feature"), values); }});

}  // namespace
}  // namespace anvil
