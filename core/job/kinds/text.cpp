// Letters, straight or round a cylinder.
#include <cmath>

#include "core/job/kinds/shape_fields.h"
#include "core/shape/fonts.h"
#include "core/shape/lettering.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

TextMeasures measures_of(const Values& values) {
    const KindValues m(*find_shape("text"), values);
    using Align = TextMeasures::Align;
    return {.text = m.word("text"),
            .font = m.word("font"),
            .bold = m.is("bold"),
            .size = m["size"],
            .height = m["height"],
            .spacing = m["spacing"],
            .lines = m["lines"],
            .align = m.word("align") == "right"    ? Align::right
                     : m.word("align") == "middle" ? Align::centre
                                                   : Align::left,
            .around = m["around"],
            .chord = m["chord"]};
}

/// On the highest point of the first letter.
std::vector<MeasureHandle> text_handles(TextMeasures m) {
    m.chord = m.size;  // corners are enough
    const auto letters = lettering(m);
    if (!letters || letters->empty()) return {};
    Point2 top = letters->front().loops.front().front();
    for (const auto& loop : letters->front().loops)
        for (const Point2& p : loop)
            if (p.v > top.v) top = p;
    if (m.around > 0) {
        const double r = m.around / 2, angle = top.u / r;
        const Vec3 out{std::sin(angle), -std::cos(angle), 0};
        return {{"height", Vec3{0, 0, top.v} + out * (r + m.height), out}};
    }
    // Letters grow from where the first line begins.
    const double away = std::hypot(top.u, top.v);
    return {{"height", {top.u, top.v, m.height}, {0, 0, 1}},
            {"size", {top.u, top.v, 0}, {top.u / away, top.v / away, 0}, m.size / away}};
}

const RegisterKind text_registered(
    {.word = "text",
     .of = KindClass::shape,
     .says = "Letters, to raise or to engrave",
     .order = 12,
     .fields =
         {{.name = "text",
           .type = Field::Type::text,
           .usual = std::string("Text"),
           .label = "text",
           .says = "what it reads; several lines if need be",
           .is_long = true},
          {.name = "font",
           .type = Field::Type::text,
           .usual = std::string(shipped_font),
           .label = "font",
           .says = "a font that is installed, or Lato, which comes with the program",
           .suggestions = installed_fonts},
          {.name = "bold", .type = Field::Type::yes_no, .usual = false, .label = "bold", .says = "its bold weight"},
          measure_field("size", 10, "letter height", "of capitals"),
          measure_field("height", 2, "height", "that the letters are raised by, along z"),
          {.name = "align",
           .type = Field::Type::choice,
           .usual = std::string("left"),
           .label = "align",
           .says = "lines to the left, in the middle, or to the right",
           .choices = {"left", "middle", "right"}},
          folded(measure_field("around", 0, "round a cylinder of",
                               "its diameter; the text stands upright on its outside; 0: straight", 0)),
          folded(measure_field("spacing", 0, "letter spacing", "more between letters than the font gives",
                               -most_measure)),
          {.name = "lines",
           .type = Field::Type::factor,
           .usual = 1.0,
           .label = "line spacing",
           .says = "as a factor of what the font gives",
           .least = 0.1,
           .most = 10,
           .is_folded = true},
          chord_field()},
     .make = [](const Values& values) -> Result<Solid> { return text_shape(measures_of(values)); },
     .handles = [](const Values& values) { return text_handles(measures_of(values)); }});

}  // namespace
}  // namespace anvil
