// An outline carried through the body.
#include "core/cut/outline_cut.h"

#include <cmath>
#include <numbers>

#include "core/cut/edge_lines.h"
#include "core/cut/frame.h"
#include "core/job/kinds/cut_fields.h"
#include "core/job/kinds/shape_fields.h"
#include "core/job/new_cut.h"
#include "core/mesh/circle.h"
#include "core/shape/drawn.h"
#include "core/shape/svg_path.h"

namespace anvil {
namespace {

const Kind& outline_kind() { return *find_kind("cut-outline"); }

Transform frame_of(const KindValues& m, const Vec3& origin, const Vec3& normal) {
    const Transform frame = frame_on(origin, normal);
    return m["turn"] == 0 ? frame : frame * rotation(m["turn"] * std::numbers::pi / 180, {0, 0, 1});
}

/// Counter-clockwise, its corners rounded.
std::vector<Point2> rectangle(double width, double length, double radius, double chord) {
    const double x = width / 2, y = length / 2, r = std::min({radius, x, y});
    const Point2 corners[] = {{x, -y}, {x, y}, {-x, y}, {-x, -y}};
    if (!(r > 0)) return {std::begin(corners), std::end(corners)};
    const int n = faces_around(r, {chord}) / 4;
    std::vector<Point2> out;
    for (int corner = 0; corner < 4; ++corner) {
        const Point2 middle{std::copysign(x - r, corners[corner].u), std::copysign(y - r, corners[corner].v)};
        for (int k = 0; k <= n; ++k) {
            const Point2 p = on_circle((corner - 1) * n + k, 4 * n);
            const Point2 at{middle.u + r * p.u, middle.v + r * p.v};
            if (out.empty() || out.back().u != at.u || out.back().v != at.v) out.push_back(at);
        }
    }
    if (out.front().u == out.back().u && out.front().v == out.back().v) out.pop_back();
    return out;
}

std::vector<Point2> polygon(int sides, double across_flats) {
    std::vector<Point2> out;
    const double radius = across_flats / 2 / std::cos(std::numbers::pi / sides);
    for (int k = 0; k < sides; ++k) {
        const Point2 p = on_circle(4 * k + 2 - sides, 4 * sides);  // a flat looks along -y
        out.push_back({radius * p.u, radius * p.v});
    }
    return out;
}

std::vector<Point2> circle(double diameter, double chord) {
    std::vector<Point2> out;
    const int n = faces_around(diameter / 2, {chord});
    for (int k = 0; k < n; ++k) {
        const Point2 p = on_circle(k, n);
        out.push_back({diameter / 2 * p.u, diameter / 2 * p.v});
    }
    return out;
}

Result<void> take_outline(const KindValues& m, OutlineCut& cut) {
    const std::string& shape = m.word("shape");
    auto one = [&](std::vector<Point2> loop) {
        cut.drawing = {{{std::move(loop)}, FillRule::even_odd}};
        return Result<void>();
    };
    if (shape == "rectangle") return one(rectangle(m["width"], m["length"], m["corner"], m["chord"]));
    if (shape == "circle") return one(circle(m["diameter"], m["chord"]));
    if (shape == "polygon") return one(polygon(m.count("sides"), m["across"]));
    if (shape == "line") {
        const auto drawn = drawn_from_text(m.word("outline"));
        if (!drawn) return drawn.error();
        std::size_t points = 0;
        for (const auto& line : *drawn) {
            if (line.size() < 2) return Error{ErrorCode::bad_count, "a line needs two points at least", ""};
            cut.lines.push_back(straightened(line, false, m["chord"]));
            points += cut.lines.back().size();
            if (points > most_drawn_points) return too_many_points();
        }
        if (cut.lines.empty()) return Error{ErrorCode::bad_count, "nothing is drawn yet", ""};
        return {};
    }
    auto drawing = drawing_from(m.word("outline"), FillRule::even_odd, m["chord"]);
    if (!drawing) return drawing.error();
    cut.drawing = std::move(*drawing);
    return {};
}

/// Edges of the body as they lie seen along `normal`, or where there is none along their own: the plane that they are
/// drawn on is that of the one farthest out.
Result<Transform> take_edges(const CutFor& of, const std::optional<Vec3>& normal, OutlineCut& cut) {
    const auto at = of.held.find("edges");
    if (at == of.held.end() || !of.body) return Error{ErrorCode::lost, "no edge is chosen", ""};
    const auto lines = edge_lines(*of.body, at->second);
    if (!lines) return lines.error();
    const bool closed = std::ranges::all_of(*lines, &EdgeLine::closed);
    if (!closed && std::ranges::any_of(*lines, &EdgeLine::closed))
        return Error{ErrorCode::out_of_range,
                     "some of the edges go round and some do not: choose closed rings, or open lines", ""};
    Vec3 out, round;
    for (const EdgeLine& line : *lines) {
        for (const LineEdge& edge : line.edges) out = out + edge.outward * edge.length;
        for (std::size_t k = 0; closed && k < line.points.size(); ++k)
            round = round +
                    cross(line.points[k] - line.points[0], line.points[(k + 1) % line.points.size()] - line.points[0]);
    }
    Vec3 z = normal ? *normal : closed ? round : out;
    if (!(norm(z) > 0))
        return Error{ErrorCode::out_of_range, "the edges tell no direction: put the outline on a face", ""};
    if (!normal && dot(z, out) < 0) z = -z;
    z = normalized(z);
    Vec3 farthest = lines->front().points.front();
    for (const EdgeLine& line : *lines)
        for (const Vec3& p : line.points)
            if (dot(p - farthest, z) > 0) farthest = p;
    const Transform frame = frame_on(farthest, z), seen(frame.inverse());
    for (const EdgeLine& line : *lines) {
        std::vector<Point2> drawn;
        for (const Vec3& p : line.points) {
            const Vec3 q = apply(seen, p);
            drawn.push_back({q.x, q.y});
        }
        if (closed)
            cut.drawing.push_back({{std::move(drawn)}, FillRule::even_odd});
        else
            cut.lines.push_back(std::move(drawn));
    }
    if (closed) {  // rings within each other leave what is between them
        FilledLoops all{{}, FillRule::even_odd};
        for (FilledLoops& one : cut.drawing) all.loops.push_back(std::move(one.loops.front()));
        cut.drawing = {std::move(all)};
    }
    return frame;
}

/// Of a line or drawing that was drawn point by point; empty of one from an SVG file.
DrawnLines points_of_outline(const KindValues& m) {
    if (m.word("shape") != "drawing" && m.word("shape") != "line") return {};
    auto drawn = drawn_from_text(m.word("outline"));
    return drawn ? *drawn : DrawnLines();
}

constexpr const char* drawn_shapes = "rectangle|circle|polygon|drawing|line";
constexpr std::size_t most_point_handles = 200;

const RegisterKind cut_outline_registered(
    {.word = "cut-outline",
     .of = KindClass::cut,
     .name = "outline cut",
     .says = "Carries an outline through the body: cuts it out, keeps it, raises, splits or scribes it",
     .fields =
         {face_field("the outline lies on a flat face that it follows; none: where the numbers say"),
          shown_for(place_field("origin", "middle at", "where the outline's own 0, 0 lies"), "shape", drawn_shapes),
          shown_too(shown_for(direction_field("normal", "square to", "out of the body, against the way of the cut"),
                              "face", "none"),
                    "shape", drawn_shapes),
          shown_for(turn_field("in its plane"), "shape", drawn_shapes),
          choice_field("shape", "outline",
                       "a shape by its measures, a drawing, an open line, which splits, or edges of the body",
                       {"rectangle", "circle", "polygon", "drawing", "line", "edges"}),
          shown_for({.name = "edges",
                     .type = Field::Type::held,
                     .usual = std::vector<Anchor>(),
                     .label = "edges",
                     .says = "closed rings of them, or open lines, which split",
                     .is_wanted = true,
                     .of = ElementKind::edges},
                    "shape", "edges"),
          shown_for(measure_field("width", 20, "width", "along its x"), "shape", "rectangle"),
          shown_for(measure_field("length", 20, "length", "along its y"), "shape", "rectangle"),
          shown_for(measure_field("corner", 0, "corner radius", "of all four corners; 0: sharp", 0), "shape",
                    "rectangle"),
          shown_for(measure_field("diameter", 20, "diameter", "of the circle"), "shape", "circle"),
          shown_for(count_field("sides", 6, "sides", "of the polygon", 3, 360), "shape", "polygon"),
          shown_for(measure_field("across", 20, "over flats",
                                  "of an odd number of sides: twice from the middle to one"),
                    "shape", "polygon"),
          {.name = "outline",
           .type = Field::Type::text,
           .usual = std::string(),
           .label = "points",
           .says = "an SVG drawing, or a point x y a line in mm, with a third number the height of an arc to the next",
           .files = "*.svg *.txt *.xy *.csv *.dat",
           .only_if = "shape",
           .only_for = "drawing|line"},
          choice_field("does", "does", "takes it away, keeps it alone, raises it, makes it a piece, or draws its lines",
                       {"difference", "intersection", "union", "split", "scribe"}),
          choice_field("way", "goes", "through all that there is, to a depth, or between two depths",
                       {"through", "depth", "between"}),
          shown_for(measure_field("from", 2, "from", "below the plane; of what is raised above it", 0), "way",
                    "between"),
          shown_for(measure_field("depth", 5, "depth", "below the plane; of what is raised its height"), "way",
                    "depth|between"),
          angle_field("draft", 0, "draft", "by which it narrows on its way; below 0 it widens", -80, 80),
          chord_field()},
     .cut = [](const Values& values, const CutFor& of, Progress&) -> Result<Cut> {
         const KindValues m(outline_kind(), values);
         OutlineCut cut;
         Vec3 origin = m.point("origin"), normal = m.point("normal");
         const auto seat = seat_of(of);
         if (!seat) return seat.error();
         if (*seat) {
             normal = (*seat)->normal;
             origin = on_seat(**seat, origin);
         }
         Transform frame = frame_of(m, origin, normal);
         if (m.word("shape") == "edges") {
             auto taken = take_edges(of, *seat ? std::optional(normal) : std::nullopt, cut);
             if (!taken) return taken.error();
             frame = *taken;
         } else if (auto taken = take_outline(m, cut); !taken) {
             return taken.error();
         }
         cut.does = *operation_from(m.word("does"));
         cut.way = m.word("way") == "through" ? OutlineCut::Way::all
                   : m.word("way") == "depth" ? OutlineCut::Way::to_depth
                                              : OutlineCut::Way::between;
         cut.from = m["from"];
         cut.to = m["depth"];
         cut.draft = m["draft"];
         if (!cut.lines.empty() && cut.does == Operation::difference) cut.does = Operation::split;
         auto made = outline_cut(cut, frame, of.box);
         if (made && *seat) made->on = {origin, normalized(normal)};
         return made;
     },
     .handles = [](const Values& values) -> std::vector<MeasureHandle> {
         const KindValues m(outline_kind(), values);
         if (m.word("shape") == "edges") return {};
         const Vec3 origin = m.point("origin");
         const Transform frame = frame_of(m, origin, m.point("normal"));
         const Vec3 x = frame_axis(frame, 0), y = frame_axis(frame, 1), z = frame_axis(frame, 2);
         std::vector<MeasureHandle> out{{.field = "origin", .at = origin, .along = x, .across = y}};
         if (!values.contains("face")) {
             out.push_back({.field = "normal", .at = origin, .along = x});
             out.push_back({.field = "normal", .at = origin, .along = y, .number = 1});
         }
         auto at = [&](double u, double v, double w = 0) { return apply(frame, {u, v, w}); };
         const std::string& shape = m.word("shape");
         if (shape == "rectangle") {
             out.push_back({"width", at(m["width"] / 2, 0), x, 2});
             out.push_back({"length", at(0, m["length"] / 2), y, 2});
         } else if (shape == "circle") {
             out.push_back({"diameter", at(m["diameter"] / 2, 0), x, 2});
         } else if (shape == "polygon") {
             out.push_back({"across", at(0, -m["across"] / 2), -y, 2});
         }
         int number = 0;
         for (const auto& line : points_of_outline(m))
             for (const DrawnPoint& p : line) {
                 if (static_cast<std::size_t>(number) < most_point_handles)
                     out.push_back(
                         {.field = "outline", .at = at(p.at.u, p.at.v), .along = x, .across = y, .number = number});
                 ++number;
             }
         if (m.word("way") != "through") {
             const double sign = m.word("does") == "union" ? 1 : -1;
             out.push_back({"depth", at(0, 0, sign * m["depth"]), z * sign});
         }
         return out;
     },
     .dragged =
         [](Values values, const MeasureHandle& handle, const Vec3& by) {
             DrawnLines lines = points_of_outline({outline_kind(), values});
             int number = handle.number;
             for (auto& line : lines)
                 for (DrawnPoint& p : line)
                     if (number-- == 0) p.at = {p.at.u + dot(by, handle.along), p.at.v + dot(by, handle.across)};
             values["outline"] = text_of(lines);
             return values;
         }});

}  // namespace

std::vector<Vec3> outline_of(const Values& values) {
    const KindValues m(outline_kind(), values);
    const std::string& shape = m.word("shape");
    OutlineCut cut;
    if ((shape != "rectangle" && shape != "circle" && shape != "polygon") || !take_outline(m, cut)) return {};
    const Transform frame = frame_of(m, m.point("origin"), m.point("normal"));
    std::vector<Vec3> out;
    for (const Point2& p : cut.drawing.front().loops.front()) out.push_back(apply(frame, {p.u, p.v, 0}));
    return out;
}
}  // namespace anvil
