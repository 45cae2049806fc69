// A box.
#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

const RegisterKind box_registered(
    {.word = "box",
     .of = KindClass::shape,
     .says = "A box with sharp or round edges",
     .order = 1,
     .fields = with_facets({measure_field("x", 20, "length", "along x"), measure_field("y", 20, "width", "along y"),
                            measure_field("z", 20, "height", "along z"),
                            measure_field("edge_radius", 0, "edge radius", "of all edges; 0: sharp", 0)}),
     .make =
         [](const Values& values) {
             const KindValues m(*find_shape("box"), values);
             return box_shape({{m["x"], m["y"], m["z"]}, m["edge_radius"], facets_of(m)});
         },
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const KindValues m(*find_shape("box"), values);
         return {{"x", {m["x"] / 2, 0, m["z"] / 2}, {1, 0, 0}, 2},
                 {"y", {0, m["y"] / 2, m["z"] / 2}, {0, 1, 0}, 2},
                 {"z", {0, 0, m["z"]}, {0, 0, 1}}};
     }});

}  // namespace
}  // namespace anvil
