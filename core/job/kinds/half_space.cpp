// A half space.
#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

const RegisterKind half_space_registered(
    {.word = "half-space",
     .of = KindClass::shape,
     .name = "half space",
     .says = "All beyond a plane, without end",
     .order = 13,
     .fields = {measure_field("side", 80, "shown as large as",
                              "of the square that stands for it in the view; it cuts without end")},
     .make =
         [](const Values& values) { return half_space_slab(KindValues(*find_shape("half-space"), values)["side"]); },
     .make_endless = half_space_within,
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const double side = KindValues(*find_shape("half-space"), values)["side"];
         return {{"side", {side / 2, 0, 0}, {1, 0, 0}, 2}};
     }});

}  // namespace
}  // namespace anvil
