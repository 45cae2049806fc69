// Holes square to a face.
#include "core/cut/drill.h"

#include <cmath>
#include <numbers>

#include "core/cut/frame.h"
#include "core/cut/screws.h"
#include "core/job/kinds/cut_fields.h"
#include "core/job/kinds/shape_fields.h"
#include "core/mesh/circle.h"

namespace anvil {
namespace {

const Kind& drill() { return *find_kind("drill"); }

std::vector<std::string> screw_names() {
    std::vector<std::string> out{"none"};
    for (const Screw& s : screws()) out.emplace_back(s.name);
    return out;
}

/// Only where the screw does not tell it.
Field by_hand(Field field) {
    field.also_if = "screw";
    field.also_for = "none";
    return field;
}

Error no_such(const Screw& screw, const char* what) {
    return {ErrorCode::out_of_range,
            "there is no " + std::string(what) + " for " + std::string(screw.name) + ": type its measures", ""};
}

/// Measures by the screw, or as they are typed.
Result<Hole> hole_from(const KindValues& m) {
    Hole out{.diameter = m["diameter"]};
    const std::string& head = m.word("head");
    out.head = head == "counterbore"   ? Hole::Head::counterbore
               : head == "countersink" ? Hole::Head::countersink
                                       : Hole::Head::none;
    out.head_diameter = m["head_diameter"];
    out.head_depth = m["head_depth"];
    out.head_angle = m["head_angle"];
    out.depth = m.word("down_to") == "depth" ? m["depth"] : 0;
    out.pointed = m.word("end") == "point";
    out.above = m["above"];
    out.facets = facets_of(m);
    const Screw* screw = find_screw(m.word("screw"));
    if (!screw) return out;
    if (m.word("fit") == "insert") {
        if (screw->insert == 0) return no_such(*screw, "usual pilot hole of an insert");
        out.diameter = screw->insert;
        out.head = Hole::Head::none;
        return out;
    }
    out.diameter = m.word("fit") == "fine" ? screw->fine : m.word("fit") == "coarse" ? screw->coarse : screw->medium;
    if (out.head == Hole::Head::counterbore) {
        out.head_diameter = screw->counterbore;
        out.head_depth = screw->head_height + 0.4;  // the head lies a little below (common practice)
    } else if (out.head == Hole::Head::countersink) {
        if (screw->cone == 0) return no_such(*screw, "countersunk head in ISO 10642");
        out.head_diameter = screw->cone;
        out.head_angle = 90;
    }
    return out;
}

/// Each place many times, in the plane.
std::vector<Vec3> patterned(const KindValues& m, const std::vector<Vec3>& places, const Transform& frame) {
    const std::string& pattern = m.word("pattern");
    std::vector<Vec3> shifts;
    auto shift = [&](double u, double v) { shifts.push_back(apply(frame, {u, v, 0}) - apply(frame, {})); };
    const double turn = m["turn"] * std::numbers::pi / 180, c = std::cos(turn), s = std::sin(turn);
    if (pattern == "rows") {
        const int columns = m.count("columns"), rows = m.count("rows");
        for (int row = 0; row < rows; ++row)
            for (int column = 0; column < columns; ++column) {
                const double u = (column - (columns - 1) / 2.0) * m["apart"],
                             v = (row - (rows - 1) / 2.0) * m["rows_apart"];
                shift(u * c - v * s, u * s + v * c);
            }
    } else if (pattern == "circle") {
        const int n = m.count("holes");
        for (int k = 0; k < n; ++k) {
            const Point2 p = on_circle(k, n);
            const double u = p.u * m["circle"] / 2, v = p.v * m["circle"] / 2;
            shift(m["turn"] == 0 ? u : u * c - v * s, m["turn"] == 0 ? v : u * s + v * c);
        }
    } else {
        return places;
    }
    std::vector<Vec3> out;
    if (places.size() * shifts.size() > most_holes) return out;
    for (const Vec3& place : places)
        for (const Vec3& by : shifts) out.push_back(place + by);
    return out;
}

const RegisterKind drill_registered(
    {.word = "drill",
     .of = KindClass::cut,
     .says = "Holes square to a face: by number, or for a metric screw",
     .fields =
         {face_field("the holes stay square to that face and begin on it"),
          {.name = "at",
           .type = Field::Type::elements,
           .usual = std::vector<Vec3>(),
           .label = "holes at",
           .says = "where the middles of the holes are",
           .of = ElementKind::points},
          shown_for(direction_field("normal", "square to", "out of the body, against the drill's way"), "face", "none"),
          choice_field("screw", "screw", "the metric screw that the hole is for; none: by its diameter", screw_names()),
          shown_for(choice_field("fit", "fit", "clearance by ISO 273, or the pilot hole of a melted-in insert",
                                 {"medium", "fine", "coarse", "insert"}),
                    "screw", "M2|M2.5|M3|M4|M5|M6|M8|M10|M12|M14|M16|M20|M24"),
          shown_for(measure_field("diameter", 5, "diameter", "of the hole"), "screw", "none"),
          choice_field("down_to", "down to", "through all that is below, or to a depth", {"through", "depth"}),
          shown_for(measure_field("depth", 10, "depth", "of the full diameter"), "down_to", "depth"),
          shown_for(choice_field("end", "end", "flat, or the cone of a drill, 118°", {"flat", "point"}), "down_to",
                    "depth"),
          choice_field("head", "head", "room for a cap screw (ISO 4762), or for a countersunk one (ISO 10642)",
                       {"none", "counterbore", "countersink"}),
          by_hand(shown_for(measure_field("head_diameter", 10, "head", "how wide its room is"), "head",
                            "counterbore|countersink")),
          by_hand(shown_for(measure_field("head_depth", 5, "head depth", "of the counterbore"), "head", "counterbore")),
          by_hand(shown_for(angle_field("head_angle", 90, "head angle", "of the countersink, from side to side", 20,
                                        170),
                            "head", "countersink")),
          choice_field("pattern", "pattern", "each hole many times", {"none", "rows", "circle"}),
          shown_for(count_field("columns", 2, "columns", "side by side", 1, 1000), "pattern", "rows"),
          shown_for(measure_field("apart", 20, "apart by", "from column to column"), "pattern", "rows"),
          shown_for(count_field("rows", 2, "rows", "one behind the other", 1, 1000), "pattern", "rows"),
          shown_for(measure_field("rows_apart", 20, "rows apart", "from row to row"), "pattern", "rows"),
          shown_for(count_field("holes", 4, "holes", "round the circle", 1, 1000), "pattern", "circle"),
          shown_for(measure_field("circle", 40, "circle", "diameter through the middles"), "pattern", "circle"),
          shown_for(turn_field("of the pattern, in the face"), "pattern", "rows|circle"),
          folded(measure_field("above", 0.5, "begins above",
                               "how far above its place, so that no skin stays on a curved face")),
          chord_field(),
          folded(count_field("around", 0, "faces round it", "so many in a full turn; 0: as the chord error needs", 0,
                             100000))},
     .cut = [](const Values& values, const CutFor& of, Progress&) -> Result<Cut> {
         const KindValues m(drill(), values);
         const auto hole = hole_from(m);
         if (!hole) return hole.error();
         Vec3 normal = m.point("normal");
         std::vector<Vec3> places = m.points("at");
         const auto seat = seat_of(of);
         if (!seat) return seat.error();
         if (*seat) {
             normal = (*seat)->normal;
             // Into the face's plane as it is now.
             for (Vec3& p : places) p = on_seat(**seat, p);
         }
         const std::vector<Vec3> all = patterned(m, places, frame_on({}, normal));
         if (all.empty() && !places.empty())
             return Error{ErrorCode::out_of_range, "a step drills 10000 holes at most: take a smaller pattern", ""};
         auto made = drilled(*hole, all, normal, of.box);
         if (made && *seat) made->on = {(*seat)->place, normalized(normal)};
         return made;
     },
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const KindValues m(drill(), values);
         const Transform frame = frame_on({}, m.point("normal"));
         std::vector<MeasureHandle> out;
         int number = 0;
         for (const Vec3& at : m.points("at"))
             out.push_back({.field = "at",
                            .at = at,
                            .along = frame_axis(frame, 0),
                            .across = frame_axis(frame, 1),
                            .number = number++});
         return out;
     },
     .dragged = [](Values values, const MeasureHandle& handle,
                   const Vec3& by) { return with_point_moved(drill(), std::move(values), handle, by); }});

}  // namespace
}  // namespace anvil
