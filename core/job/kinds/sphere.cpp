// A sphere.
#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

const RegisterKind sphere_registered({.word = "sphere",
                                      .of = KindClass::shape,
                                      .says = "A ball, of even faces",
                                      .order = 4,
                                      .fields = with_facets({measure_field("diameter", 20, "diameter", "of the ball")}),
                                      .make =
                                          [](const Values& values) {
                                              const KindValues m(*find_shape("sphere"), values);
                                              return sphere_shape({m["diameter"], facets_of(m)});
                                          },
                                      .handles = [](const Values& values) -> std::vector<MeasureHandle> {
                                          const KindValues m(*find_shape("sphere"), values);
                                          return {{"diameter", {0, 0, m["diameter"]}, {0, 0, 1}}};
                                      }});

}  // namespace
}  // namespace anvil
