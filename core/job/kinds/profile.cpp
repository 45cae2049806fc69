// An outline pushed to a height.
#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

const RegisterKind profile_registered(
    {.word = "profile",
     .of = KindClass::shape,
     .says = "A drawing from a file, pushed to a height",
     .order = 11,
     .fields = {{.name = "outline",
                 .type = Field::Type::text,
                 .usual = std::string("0 0\n20 0\n20 4\n4 4\n4 20\n0 20\n"),
                 .label = "outline",
                 .says = "an SVG drawing, or a point x y a line, in mm; an empty line begins another loop",
                 .files = "*.svg *.txt *.xy *.csv *.dat"},
                measure_field("height", 10, "height", "along z"),
                {.name = "scale",
                 .type = Field::Type::factor,
                 .usual = 1.0,
                 .label = "scale",
                 .says = "of the outline",
                 .least = 0.0001,
                 .most = 10000},
                {.name = "rule",
                 .type = Field::Type::choice,
                 .usual = std::string("even-odd"),
                 .label = "inside is",
                 .says =
                     "what the loops of points go round an odd number of times, or any number of times; an SVG says it "
                     "itself",
                 .choices = {"even-odd", "non-zero"}},
                chord_field()},
     .make = [](const Values& values) -> Result<Solid> {
         const KindValues m(*find_shape("profile"), values);
         auto drawing =
             drawing_from(m.word("outline"), m.word("rule") == "non-zero" ? FillRule::non_zero : FillRule::even_odd,
                          m["chord"] / m["scale"]);
         if (!drawing) return drawing.error();
         return profile_shape({std::move(*drawing), m["height"], m["scale"]});
     },
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const KindValues m(*find_shape("profile"), values);
         const auto drawing = drawing_from(m.word("outline"), FillRule::even_odd, 1);
         if (!drawing || drawing->empty() || drawing->front().loops.empty()) return {};
         const Point2& p = drawing->front().loops.front().front();
         return {{"height", {p.u * m["scale"], p.v * m["scale"], m["height"]}, {0, 0, 1}}};
     }});

}  // namespace
}  // namespace anvil
