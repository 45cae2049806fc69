// A cylinder.
#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

const RegisterKind cylinder_registered({.word = "cylinder",
                                        .of = KindClass::shape,
                                        .says = "A round bar, or a bore",
                                        .order = 2,
                                        .fields = with_facets({measure_field("diameter", 10, "diameter",
                                                                             "of the circle"),
                                                               measure_field("height", 20, "height", "along z")}),
                                        .make =
                                            [](const Values& values) {
                                                const KindValues m(*find_shape("cylinder"), values);
                                                return cylinder_shape({m["diameter"], m["height"], facets_of(m)});
                                            },
                                        .handles = [](const Values& values) -> std::vector<MeasureHandle> {
                                            const KindValues m(*find_shape("cylinder"), values);
                                            return {{"diameter", {m["diameter"] / 2, 0, m["height"] / 2}, {1, 0, 0}, 2},
                                                    {"height", {0, 0, m["height"]}, {0, 0, 1}}};
                                        }});

}  // namespace
}  // namespace anvil
