#include "core/job/new_cut.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/cut/frame.h"
#include "core/job/edits.h"
#include "core/shape/drawn.h"

namespace anvil {
namespace {

/// Hundredths, or of small things what two digits tell.
double readable(double v, double size) {
    const double steps = size < 1 ? 1e4 : size < 20 ? 100 : 10;
    return std::round(v * steps) / steps;
}
Vec3 readable(Vec3 p, const Vec3& normal) {
    // Along the axes that the plane is square to, or holds.
    const Vec3 n = normalized(normal);
    const int k = longest_axis(n);
    for (int i = 0; i < 3; ++i)
        if (i != k && n[i] == 0) p[i] = std::round(p[i] * 100) / 100;
    return p;
}
Vec3 clean_normal(const Vec3& normal) {
    Vec3 n = normalized(normal);
    for (int k = 0; k < 3; ++k)
        if (std::fabs(n[k]) < 1e-12) n[k] = 0;
    return normalized(n);
}

/// The line without what stands off it by less than that. Method: Ramer (1972), Douglas and Peucker (1973).
void simplify(const std::vector<Point2>& line, std::size_t from, std::size_t to, double off, std::vector<Point2>& out) {
    const Point2 &a = line[from], &b = line[to];
    const double du = b.u - a.u, dv = b.v - a.v, length = std::hypot(du, dv);
    double most = 0;
    std::size_t farthest = from;
    for (std::size_t k = from + 1; k < to; ++k) {
        const double u = line[k].u - a.u, v = line[k].v - a.v;
        const double d = length > 0 ? std::fabs(du * v - dv * u) / length : std::hypot(u, v);
        if (d > most) most = d, farthest = k;
    }
    if (most <= off) {
        out.push_back(a);
        return;
    }
    simplify(line, from, farthest, off, out);
    simplify(line, farthest, to, off, out);
}

}  // namespace

Values values_of_plane(const Vec3& origin, const Vec3& normal, std::vector<Anchor> face) {
    const Vec3 n = clean_normal(normal);
    Vec3 at = origin;
    // A plane square to an axis goes through a number that can be read; on a slant any place is as good.
    const int axis = longest_axis(n);
    for (int k = 0; k < 3; ++k)
        if (face.empty() && (std::fabs(n[axis]) == 1 || n[k] == 0)) at[k] = std::round(at[k] * 100) / 100;
    Values out{{"origin", at}, {"normal", n}};
    if (!face.empty()) out["face"] = std::move(face);
    return out;
}

Values values_of_layers(const Box& box) {
    const double height = box.size().z / 8;
    return {{"origin", Vec3{readable(box.center().x, 100), readable(box.center().y, 100), readable(box.low.z, 100)}},
            {"planes", std::string("layers")},
            {"layer", std::max(0.001, readable(height, height < 1 ? height : 100))}};
}

Values values_of_mirror(const Box& box, const std::optional<Vec3>& pivot) {
    // Of its plane, square to an axis, the other coordinates tell where its handle is.
    Vec3 at = pivot.value_or(box.center());
    for (int k = 0; k < 3; ++k) at[k] = std::round(at[k] * 100) / 100;
    Values out{{"origin", at}};
    if (at.x != 0) out["at"] = at.x;
    return out;
}

Values values_of_hole(const Vec3& place, const Vec3& normal, std::vector<Anchor> face, const Box& box) {
    const Vec3 n = clean_normal(normal);
    Values out{{"at", std::vector<Vec3>{readable(place, n)}}, {"normal", n}};
    if (!face.empty()) out["face"] = std::move(face);
    const Vec3 size = box.size();
    const double fits = std::max({size.x, size.y, size.z}) / 12;
    if (fits < 5) out["diameter"] = std::max(readable(fits, fits), 0.001);
    return out;
}

bool goes_with_holes(const Values& holes, const std::vector<Anchor>& face, const Vec3& place, const Vec3& normal) {
    const Kind& kind = *find_kind("drill");
    const auto& held = value_of<std::vector<Anchor>>(kind, holes, "face");
    // Its places change with each hole in it, its tags do not.
    if (!face.empty() || !held.empty()) return !face.empty() && !held.empty() && face.front().tags == held.front().tags;
    const Vec3 n = normalized(value_of<Vec3>(kind, holes, "normal"));
    const auto& at = value_of<std::vector<Vec3>>(kind, holes, "at");
    return norm(n - normalized(normal)) < 1e-3 && !at.empty() &&
           std::fabs(dot(place - at.front(), n)) < 1e-3 * (1 + norm(place - at.front()));
}

Values with_hole(Values holes, const Vec3& place) {
    const Kind& kind = *find_kind("drill");
    auto at = value_of<std::vector<Vec3>>(kind, holes, "at");
    at.push_back(readable(place, value_of<Vec3>(kind, holes, "normal")));
    holes["at"] = std::move(at);
    return holes;
}

Values with_place(Values values, const Field& field, const Vec3& place) {
    const auto at = values.find(field.name);
    auto points = std::get<std::vector<Vec3>>(at == values.end() ? field.usual : at->second);
    points.push_back(
        {std::round(place.x * 100) / 100, std::round(place.y * 100) / 100, std::round(place.z * 100) / 100});
    values[field.name] = std::move(points);
    return values;
}

std::optional<Values> values_of_outline(const std::string& shape, const Vec3& a, const Vec3& b, const Vec3& normal,
                                        std::span<const double> typed) {
    const Vec3 n = clean_normal(normal);
    const Transform frame = frame_on(a, n);
    const Vec3 across = apply(Transform(frame.inverse()), b);
    auto size = [&](std::size_t k, double dragged) {
        return typed.empty() ? readable(dragged, dragged) : typed[std::min(k, typed.size() - 1)];
    };
    const double far = 2 * std::hypot(across.x, across.y);
    Values out{{"normal", n}, {"shape", shape}};
    if (shape == "rectangle") {
        const double u = size(0, std::fabs(across.x)), v = size(1, std::fabs(across.y));
        if (!(u >= 1e-3) || !(v >= 1e-3)) return std::nullopt;
        // From the corner where it began, to the side that it was dragged to.
        const Vec3 middle{std::copysign(u / 2, across.x), std::copysign(v / 2, across.y), 0};
        out["origin"] = readable(apply(frame, middle), n);
        out["width"] = u;
        out["length"] = v;
        return out;
    }
    const double d = size(0, far);
    if (!(d >= 1e-3)) return std::nullopt;
    out["origin"] = readable(a, n);
    out[shape == "circle" ? "diameter" : "across"] = d;
    return out;
}

Stretch stretch_between(const Vec3& from, const Vec3& to, const Vec3& normal) {
    const Vec3 at = apply(Transform(frame_on(from, clean_normal(normal)).inverse()), to);
    return {std::hypot(at.x, at.y), std::atan2(at.y, at.x) * 180 / std::numbers::pi};
}

Vec3 stretch_end(const Vec3& from, const Vec3& to, const Vec3& normal, std::span<const double> typed) {
    if (typed.empty()) return to;
    const double degrees = typed.size() > 1 ? typed[1] : stretch_between(from, to, normal).angle;
    const Vec3 along = apply(rotation(degrees * std::numbers::pi / 180, {0, 0, 1}), Vec3{typed[0], 0, 0});
    return apply(frame_on(from, clean_normal(normal)), along);
}

Values values_of_drawn(const std::string& shape, const std::vector<Vec3>& points, const Vec3& normal, bool typed) {
    const Vec3 n = clean_normal(normal);
    const Transform into(frame_on(points.empty() ? Vec3{} : points.front(), n).inverse());
    std::vector<Point2> line;
    Point2 low{HUGE_VAL, HUGE_VAL}, high{-HUGE_VAL, -HUGE_VAL};
    for (const Vec3& p : points) {
        const Vec3 at = apply(into, p);
        line.push_back({at.x, at.y});
        low = {std::min(low.u, at.x), std::min(low.v, at.y)};
        high = {std::max(high.u, at.x), std::max(high.v, at.y)};
    }
    const double size = std::hypot(high.u - low.u, high.v - low.v);
    if (line.size() > 12 && !typed) {
        std::vector<Point2> simple;
        simplify(line, 0, line.size() - 1, size / 500, simple);
        simple.push_back(line.back());
        line = std::move(simple);
    }
    const Vec3 middle = readable(apply(Transform(into.inverse()), {(low.u + high.u) / 2, (low.v + high.v) / 2, 0}), n);
    const Transform home(frame_on(middle, n).inverse() * into.inverse());
    std::vector<DrawnPoint> drawn;
    for (const Point2& p : line) {
        const Vec3 at = apply(home, {p.u, p.v, 0});
        auto kept = [&](double v) { return typed ? std::round(v * 1e6) / 1e6 : readable(v, size); };
        drawn.push_back({{kept(at.x), kept(at.y)}});
    }
    return {{"normal", n}, {"origin", middle}, {"shape", shape}, {"outline", text_of(DrawnLines{std::move(drawn)})}};
}

Vec3 next_direction(const Vec3& before, const Vec3& line) {
    const Vec3 along = clean_normal(line);
    const double cosine = dot(normalized(before), along);
    if (std::fabs(cosine) > 1 - 1e-12) return clean_normal(-before);
    return cosine < 0 ? -along : along;
}

bool swap_sides_of_notch(Job& job, const std::string& id) {
    const FoundStep found = find_step(job, id);
    if (!found.step || found.step->kind != "notch") return false;
    const Kind& kind = *find_kind("notch");
    const Values& values = found.step->values;
    const double left = value_of<double>(kind, values, "width"), right = value_of<double>(kind, values, "width_right");
    if (value_of<std::string>(kind, values, "right") != "other" || left == right) return false;
    edit_step(job, id, [&](Step& step) {
        step.values["width"] = right;
        step.values["width_right"] = left;
    });
    return true;
}

std::string next_kept_side(Job& job, const std::string& id) {
    const FoundStep found = find_step(job, id);
    const Kind* kind = found.step ? find_kind(found.step->kind) : nullptr;
    const Field* keep = kind ? kind->find_field("keep") : nullptr;
    if (!keep) return {};
    const std::string now = value_of<std::string>(*kind, found.step->values, "keep");
    const auto at = std::ranges::find(keep->choices, now);
    const std::string next =
        at == keep->choices.end() || at + 1 == keep->choices.end() ? keep->choices.front() : *(at + 1);
    edit_step(job, id, [&](Step& step) { step.values["keep"] = next; });
    return next;
}

}  // namespace anvil
