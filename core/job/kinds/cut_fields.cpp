#include "core/job/kinds/cut_fields.h"

#include <algorithm>
#include <cmath>

#include "core/cut/frame.h"

namespace anvil {

Result<std::optional<Seat>> seat_of(const CutFor& of) {
    const auto at = of.held.find("face");
    if (at == of.held.end() || at->second.empty() || !of.body) return std::optional<Seat>();
    const auto seat = flat_seat(*of.body, at->second);
    if (!seat) return seat.error();
    return std::optional(*seat);
}

Result<Seat> flat_seat(const Mesh& body, const Selection& faces) {
    const auto& points = body.points;
    // The largest face tells the plane best.
    double most = -1;
    Seat out;
    auto corner = [&](const Element& e, std::size_t k) { return points[e[k]]; };
    // Elements name their corners sorted; the faces of the mesh say which way they look.
    for (FaceId f : ids<FaceId>(body.faces.size())) {
        const Triangle& t = body.faces[f];
        if (!faces.contains(face_element(t))) continue;
        const Vec3 normal = cross(points[t[1]] - points[t[0]], points[t[2]] - points[t[0]]);
        if (const double area = norm(normal); area > most) {
            most = area;
            out = {points[t[0]], normal * (area > 0 ? 1 / area : 0)};
        }
    }
    if (!(most > 0)) return Error{ErrorCode::lost, "the face that it lies on has no area any more", ""};
    // What is square to an axis but for rounding is.
    const int k = longest_axis(out.normal);
    if (std::fabs(std::fabs(out.normal[k]) - 1) < 1e-14) {
        const double sign = out.normal[k] > 0 ? 1 : -1;
        out.normal = {};
        out.normal[k] = sign;
    }
    double size = 0, off = 0;
    for (const Element& e : faces.elements)
        for (std::size_t i = 0; i < 3; ++i) {
            const Vec3 d = corner(e, i) - out.place;
            size = std::max(size, norm(d));
            off = std::max(off, std::fabs(dot(d, out.normal)));
        }
    if (off > 1e-3 * size) return Error{ErrorCode::out_of_range, "what it lies on is not flat: choose a flat face", ""};
    return out;
}

Vec3 on_seat(const Seat& seat, const Vec3& p) {
    const int k = longest_axis(seat.normal);
    Vec3 out = p - seat.normal * dot(p - seat.place, seat.normal);
    if (std::fabs(seat.normal[k]) == 1) out[k] = seat.place[k];  // exactly
    return out;
}

Values with_point_moved(const Kind& kind, Values values, const MeasureHandle& handle, const Vec3& by) {
    auto points = value_of<std::vector<Vec3>>(kind, values, handle.field);
    const auto k = static_cast<std::size_t>(handle.number);
    if (k >= points.size()) return values;
    points[k] = points[k] + by;
    values[handle.field] = std::move(points);
    return values;
}

std::vector<Field> mirror_plane_fields() {
    return {face_field("the plane is that of a flat face, which it follows; none: as below"),
            shown_for(choice_field("across", "across",
                                   "the axis that the plane is square to, the height of the bed that "
                                   "the body stands on, or any plane",
                                   {"x", "y", "z", "bed", "free"}),
                      "face", "none"),
            shown_for(length_field("at", 0, "at", "where the plane is along that axis"), "across", "x|y|z"),
            shown_for(place_field("origin", "through", "a point of the plane"), "across", "free"),
            shown_for(direction_field("normal", "square to", "where its front side looks"), "across", "free")};
}

std::vector<MeasureHandle> mirror_plane_handles(const Kind& kind, const Values& values) {
    const KindValues m(kind, values);
    const std::string& across = m.word("across");
    if (!value_of<std::vector<Anchor>>(kind, values, "face").empty() || across == "bed") return {};
    Vec3 at = m.point("origin");
    if (across == "free") {
        const Transform frame = frame_on(at, m.point("normal"));
        return {{.field = "origin", .at = at, .along = frame_axis(frame, 2)},
                {.field = "normal", .at = at, .along = frame_axis(frame, 0)},
                {.field = "normal", .at = at, .along = frame_axis(frame, 1), .number = 1}};
    }
    const int axis = across[0] - 'x';
    Vec3 along;
    along[axis] = 1;
    at[axis] = m["at"];
    return {{"at", at, along}};
}

Result<Seat> mirror_plane(const KindValues& m, const Mesh& body,
                          const std::map<std::string, Selection, std::less<>>& held) {
    if (const auto at = held.find("face"); at != held.end() && !at->second.empty()) return flat_seat(body, at->second);
    const std::string& across = m.word("across");
    if (across == "free") return Seat{m.point("origin"), m.point("normal")};
    const int axis = across == "x" ? 0 : across == "y" ? 1 : 2;
    Seat out;
    out.normal[axis] = 1;
    if (across == "bed") {
        double lowest = HUGE_VAL;
        for (const Vec3& p : body.points) lowest = std::min(lowest, p.z);
        out.place.z = lowest;
    } else {
        out.place[axis] = m["at"];
    }
    return out;
}

}  // namespace anvil
