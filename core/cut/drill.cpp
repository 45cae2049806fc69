#include "core/cut/drill.h"

#include <cmath>
#include <numbers>
#include <vector>

#include "core/base/number_text.h"
#include "core/cut/frame.h"
#include "core/mesh/polygon.h"
#include "core/shape/turned.h"

namespace anvil {
namespace {

constexpr double drill_point = 118;  // degrees, of a twist drill

double half_tangent(double degrees) { return std::tan(degrees / 2 * std::numbers::pi / 180); }

/// Of one hole in its own axis, z upwards out of the body: from its lower end round to its upper one.
struct Profile {
    std::vector<Point2> points;
    std::vector<std::uint32_t> sides;
};

Profile profile_of(const Hole& hole, double depth) {
    const double r = hole.diameter / 2, head = hole.head_diameter / 2;
    Profile out;
    auto add = [&](double u, double v, std::uint32_t side_behind) {
        out.points.push_back({u, v});
        out.sides.push_back(side_behind);
    };
    if (hole.pointed && hole.depth > 0)
        add(0, -depth - r / half_tangent(drill_point), 1);
    else
        add(0, -depth, 1);
    add(r, -depth, 0);
    switch (hole.head) {
        case Hole::Head::none: add(r, hole.above, 1); break;
        case Hole::Head::counterbore:
            add(r, -hole.head_depth, 3);
            add(head, -hole.head_depth, 2);
            add(head, hole.above, 1);
            break;
        case Hole::Head::countersink:
            // The cone is as wide as it says at the surface; above that it goes straight up.
            add(r, -(head - r) / half_tangent(hole.head_angle), 3);
            add(head, 0, 2);
            add(head, hole.above, 1);
            break;
    }
    add(0, hole.above, 0);
    return out;
}

std::optional<Error> trouble_with(const Hole& hole) {
    auto wrong = [](const std::string& what) { return Error{ErrorCode::out_of_range, what, ""}; };
    if (hole.head == Hole::Head::none) return std::nullopt;
    if (hole.head_diameter <= hole.diameter)
        return wrong("the head of a hole has to be wider than the hole, which is " + short_text(hole.diameter) + " mm");
    const double deep = hole.head == Hole::Head::counterbore
                            ? hole.head_depth
                            : (hole.head_diameter - hole.diameter) / 2 / half_tangent(hole.head_angle);
    if (hole.depth > 0 && deep >= hole.depth)
        return wrong("the hole is " + short_text(hole.depth) + " mm deep, its head alone goes down to " +
                     short_text(deep) + " mm");
    return std::nullopt;
}

}  // namespace

Result<Cut> drilled(const Hole& hole, std::span<const Vec3> places, const Vec3& normal, const Box& box) {
    if (places.empty()) return Error{ErrorCode::out_of_range, "no place to drill at is set", ""};
    if (places.size() > most_holes) return Error{ErrorCode::out_of_range, "a step drills 10000 holes at most", ""};
    if (const auto trouble = trouble_with(hole)) return *trouble;
    const double widest = hole.head == Hole::Head::none ? hole.diameter : hole.head_diameter;
    const int n = faces_around(widest / 2, hole.facets);
    if (auto fit = check_face_count(8.0 * n * static_cast<double>(places.size())); !fit) return fit.error();
    Cut out;
    Cutter cutter;
    for (std::size_t k = 0; k < places.size(); ++k) {
        const Transform frame = frame_on(places[k], normal);
        // Through all that there is below.
        double depth = hole.depth;
        if (depth == 0) {
            const Box seen = placed(box, Transform(frame.inverse()));
            depth = std::max(hole.diameter, -seen.low.z + 0.01 * box.diagonal());
        }
        const Profile profile = profile_of(hole, depth);
        Solid one = turned(profile.points, profile.sides, n);
        append(cutter.solid.mesh, transformed(std::move(one.mesh), frame));
        for (const std::uint32_t side : one.side) cutter.solid.side.push_back(8 * static_cast<std::uint32_t>(k) + side);
    }
    out.shown = cutter.solid.mesh;
    out.cutters.push_back(std::move(cutter));
    return out;
}

}  // namespace anvil
