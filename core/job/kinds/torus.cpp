// A torus.
#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

const RegisterKind torus_registered(
    {.word = "torus",
     .of = KindClass::shape,
     .says = "A ring with a round section",
     .order = 5,
     .fields = with_facets({measure_field("ring", 30, "ring diameter", "of the circle along the middle of the tube"),
                            measure_field("tube", 8, "tube diameter", "of the round that runs along it")}),
     .make =
         [](const Values& values) {
             const KindValues m(*find_shape("torus"), values);
             return torus_shape({m["ring"], m["tube"], facets_of(m)});
         },
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const KindValues m(*find_shape("torus"), values);
         return {{"ring", {m["ring"] / 2, 0, m["tube"]}, {1, 0, 0}, 2},
                 {"tube", {0, m["ring"] / 2, m["tube"]}, {0, 0, 1}}};
     }});

}  // namespace
}  // namespace anvil
