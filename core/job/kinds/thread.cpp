// A screw thread. Sizes and coarse pitches by ISO 261 (the first two choices of its table, from memory).
#include <array>

#include "core/job/kinds/shape_fields.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

struct CoarseThread {
    const char* name;
    double diameter, pitch;  // mm
};
constexpr std::array<CoarseThread, 31> coarse{{
    {"M1", 1, 0.25},  {"M1.2", 1.2, 0.25}, {"M1.6", 1.6, 0.35}, {"M2", 2, 0.4},   {"M2.5", 2.5, 0.45},
    {"M3", 3, 0.5},   {"M3.5", 3.5, 0.6},  {"M4", 4, 0.7},      {"M5", 5, 0.8},   {"M6", 6, 1},
    {"M8", 8, 1.25},  {"M10", 10, 1.5},    {"M12", 12, 1.75},   {"M14", 14, 2},   {"M16", 16, 2},
    {"M18", 18, 2.5}, {"M20", 20, 2.5},    {"M22", 22, 2.5},    {"M24", 24, 3},   {"M27", 27, 3},
    {"M30", 30, 3.5}, {"M33", 33, 3.5},    {"M36", 36, 4},      {"M39", 39, 4},   {"M42", 42, 4.5},
    {"M45", 45, 4.5}, {"M48", 48, 5},      {"M52", 52, 5},      {"M56", 56, 5.5}, {"M60", 60, 5.5},
    {"M64", 64, 6},
}};

std::vector<std::string> size_names() {
    std::vector<std::string> out;
    for (const CoarseThread& size : coarse) out.emplace_back(size.name);
    out.emplace_back("other");
    return out;
}

/// Of no size that goes with that of the body.
Field fixed(Field field) {
    field.goes_with_size = false;
    return field;
}
Field only_if(Field field, const char* other, const char* value) {
    field.only_if = other;
    field.only_for = value;
    return field;
}

Result<Solid> make_thread(const Values& values) {
    const KindValues m(*find_shape("thread"), values);
    ThreadMeasures t{.diameter = m["diameter"],
                     .pitch = m["pitch"],
                     .length = m["length"],
                     .clearance = m["clearance"],
                     .internal = m.word("fit") == "internal",
                     .left = m.word("hand") == "left",
                     .cutter = m.is("cutter"),
                     .around = m["around_it"],
                     .chamfered = m.is("chamfers"),
                     .facets = facets_of(m)};
    for (const CoarseThread& size : coarse)
        if (m.word("size") == size.name) {
            t.diameter = size.diameter;
            if (t.pitch == 0) t.pitch = size.pitch;
        }
    if (t.pitch == 0) return Error{ErrorCode::out_of_range, "a thread of any other size needs a pitch: it is 0", ""};
    if (t.around == 0) t.around = 1.6 * t.diameter;
    return thread_shape(t);
}

const RegisterKind thread_registered(
    {.word = "thread",
     .of = KindClass::shape,
     .says = "A metric thread, as solid or cutter",
     .order = 10,
     .fields = with_facets(
         {{.name = "size",
           .type = Field::Type::choice,
           .usual = std::string("M10"),
           .label = "size",
           .says = "ISO metric, with its coarse pitch; other: by the diameter below",
           .choices = size_names()},
          only_if(fixed(measure_field("diameter", 10, "diameter", "major diameter of another size")), "size", "other"),
          fixed(measure_field("pitch", 0, "pitch", "from turn to turn; 0: the coarse one of the size", 0)),
          measure_field("length", 20, "length", "along z"),
          {.name = "fit",
           .type = Field::Type::choice,
           .usual = std::string("external"),
           .label = "thread",
           .says = "external, of a bolt; internal, of a nut",
           .choices = {"external", "internal"}},
          {.name = "cutter",
           .type = Field::Type::yes_no,
           .usual = false,
           .label = "as a cutter",
           .says = "what is taken away to leave the thread, instead of the thread itself"},
          {.name = "hand",
           .type = Field::Type::choice,
           .usual = std::string("right"),
           .label = "hand",
           .says = "right, or left",
           .choices = {"right", "left"}},
          fixed(measure_field("clearance", 0.1, "clearance", "that it stands back by, so that bolt and nut turn", 0)),
          {.name = "chamfers",
           .type = Field::Type::yes_no,
           .usual = true,
           .label = "lead-in chamfers",
           .says = "of 45 degrees at both ends"},
          fixed(measure_field("around_it", 0, "sleeve diameter", "outside of a nut or a cutting ring; 0: 1.6 diameters",
                              0))}),
     .make = make_thread,
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const KindValues m(*find_shape("thread"), values);
         return {{"length", {0, 0, m["length"]}, {0, 0, 1}}};
     }});

}  // namespace
}  // namespace anvil
