// A wedge.
#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

const RegisterKind wedge_registered(
    {.word = "wedge",
     .of = KindClass::shape,
     .says = "A ramp, rising along x",
     .order = 9,
     .fields = {measure_field("x", 20, "length", "along x"), measure_field("y", 20, "width", "along y"),
                measure_field("z", 20, "height", "along z"),
                measure_field("top", 0, "flat on top", "how long it is on top; 0: it ends in an edge", 0)},
     .make =
         [](const Values& values) {
             const KindValues m(*find_shape("wedge"), values);
             return wedge_shape({{m["x"], m["y"], m["z"]}, m["top"]});
         },
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const KindValues m(*find_shape("wedge"), values);
         return {{"x", {-m["x"] / 2, 0, 0}, {-1, 0, 0}, 2},
                 {"y", {0, m["y"] / 2, 0}, {0, 1, 0}, 2},
                 {"z", {m["x"] / 2, 0, m["z"]}, {0, 0, 1}}};
     }});

}  // namespace
}  // namespace anvil
