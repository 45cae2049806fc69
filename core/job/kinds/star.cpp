// A star prism.
#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

const RegisterKind star_registered(
    {.word = "star",
     .of = KindClass::shape,
     .says = "A star with any number of tips",
     .order = 8,
     .fields = {count_field("points", 5, "tips", "how many", 2, 180),
                measure_field("outer", 20, "tip diameter", "of the circle through the tips"),
                measure_field("inner", 8, "inner diameter", "of the circle through the corners between them"),
                measure_field("height", 10, "height", "along z")},
     .make =
         [](const Values& values) {
             const KindValues m(*find_shape("star"), values);
             return star_shape({m.count("points"), m["outer"], m["inner"], m["height"]});
         },
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const KindValues m(*find_shape("star"), values);
         return {{"outer", {0, m["outer"] / 2, m["height"] / 2}, {0, 1, 0}, 2},
                 {"height", {0, 0, m["height"]}, {0, 0, 1}}};
     }});

}  // namespace
}  // namespace anvil
