// A regular prism.
#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

const RegisterKind prism_registered(
    {.word = "prism",
     .of = KindClass::shape,
     .says = "A bar with even flats, such as a nut",
     .order = 7,
     .fields = {count_field("sides", 6, "sides", "how many flats go round it", 3, 360),
                measure_field("across", 20, "size", "over flats or corners, as below"),
                {.name = "over",
                 .type = Field::Type::choice,
                 .usual = std::string("flats"),
                 .label = "measured over",
                 .says = "flats, as a spanner does, or the circle through the corners",
                 .choices = {"flats", "corners"}},
                measure_field("height", 20, "height", "along z")},
     .make =
         [](const Values& values) {
             const KindValues m(*find_shape("prism"), values);
             return prism_shape({m.count("sides"), m["across"], m.word("over") == "corners", m["height"]});
         },
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const KindValues m(*find_shape("prism"), values);
         return {{"across", {0, -m["across"] / 2, m["height"] / 2}, {0, -1, 0}, 2},
                 {"height", {0, 0, m["height"]}, {0, 0, 1}}};
     }});

}  // namespace
}  // namespace anvil
