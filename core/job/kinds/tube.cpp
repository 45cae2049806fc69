// A tube.
#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

const RegisterKind tube_registered({.word = "tube",
                                    .of = KindClass::shape,
                                    .says = "A pipe or a round bushing",
                                    .order = 6,
                                    .fields = with_facets({measure_field("outer", 20, "outer diameter", "outside"),
                                                           measure_field("inner", 16, "inner diameter",
                                                                         "of the bore; 0: none", 0),
                                                           measure_field("height", 20, "height", "along z")}),
                                    .make =
                                        [](const Values& values) {
                                            const KindValues m(*find_shape("tube"), values);
                                            return tube_shape({m["outer"], m["inner"], m["height"], facets_of(m)});
                                        },
                                    .handles = [](const Values& values) -> std::vector<MeasureHandle> {
                                        const KindValues m(*find_shape("tube"), values);
                                        return {{"outer", {m["outer"] / 2, 0, m["height"] / 2}, {1, 0, 0}, 2},
                                                {"inner", {0, m["inner"] / 2, m["height"]}, {0, 1, 0}, 2},
                                                {"height", {-m["outer"] / 2, 0, m["height"]}, {0, 0, 1}}};
                                    }});

}  // namespace
}  // namespace anvil
