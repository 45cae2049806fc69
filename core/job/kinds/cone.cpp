// A cone or frustum.
#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

const RegisterKind cone_registered(
    {.word = "cone",
     .of = KindClass::shape,
     .says = "A cone, pointed or cut off",
     .order = 3,
     .fields = with_facets({measure_field("bottom", 20, "bottom diameter", "at z = 0; 0: a point", 0),
                            measure_field("top", 0, "top diameter", "at its height; 0: a point", 0),
                            measure_field("height", 20, "height", "along z")}),
     .make =
         [](const Values& values) {
             const KindValues m(*find_shape("cone"), values);
             return cone_shape({m["bottom"], m["top"], m["height"], facets_of(m)});
         },
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const KindValues m(*find_shape("cone"), values);
         return {{"bottom", {m["bottom"] / 2, 0, 0}, {1, 0, 0}, 2},
                 {"top", {0, m["top"] / 2, m["height"]}, {0, 1, 0}, 2},
                 {"height", {0, 0, m["height"]}, {0, 0, 1}}};
     }});

}  // namespace
}  // namespace anvil
