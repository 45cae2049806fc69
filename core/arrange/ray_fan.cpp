#include "core/arrange/ray_fan.h"

#include <algorithm>
#include <cmath>

#include "core/exact/bounded.h"

namespace anvil {
namespace {
constexpr double least = 1e-200;  // of an error bound: below it products may have lost bits
}  // namespace

bool RayFan::collect(std::span<const Vec3> points, std::span<const Triangle> faces, const HalfEdges& edges, Fans fans,
                     std::size_t v) {
    const auto star = edges.leaving(v);
    if (star.empty() || star.size() > most) return false;
    const auto start =
        std::ranges::find_if(star, [&](const HalfEdges::Out& out) { return edges.twin[out.half] == HalfEdges::none; });
    closed_ = start == star.end();
    if (closed_ ? star.size() < 3 : fans == Fans::closed) return false;
    auto add = [&](VertexId to) {
        ray_[rays_] = points[to.value()] - points[v];
        reach_[rays_] = largest_component(ray_[rays_]);
        ++rays_;
    };
    const std::uint32_t first = closed_ ? star.front().half : start->half;
    std::uint32_t h = first;
    faces_ = rays_ = 0;
    do {
        if (faces_++ == star.size()) return false;
        const Triangle& face = faces[h / 3];
        corners_[faces_ - 1] = corner_points(points, face);
        add(face[(h % 3 + 1) % 3]);
        const std::uint32_t last = before_in_face(h);
        h = edges.twin[last];
        if (h == HalfEdges::none) add(face[last % 3]);
    } while (h != first && h != HalfEdges::none);
    return faces_ == star.size() && closed_ == (h == first);
}

bool RayFan::are_apart() {
    for (std::size_t i = 0; i < faces_; ++i) {
        normal_[i] = cross(ray_[i], ray_[after(i)]);
        for (std::size_t j = 0; j < rays_; ++j)
            side_[i][j] = static_cast<signed char>(side_of(normal_[i], reach_[i] * reach_[after(i)], j));
    }
    // Deciding a pair or two here takes less than looking at all pairs of these faces later; deciding many takes more.
    std::size_t unsure = 0;
    auto are_exactly = [&](std::size_t i, std::size_t j) { return unsure++ < few && meet_as_neighbours(i, j); };
    for (std::size_t i = 0; i < faces_; ++i) {
        if ((closed_ || i + 1 < faces_) && !bends(i) && !are_exactly(i, i + 1 == faces_ ? 0 : i + 1)) return false;
        for (std::size_t j = i + 2; j < faces_ && !(closed_ && after(j) == i); ++j)
            if (!surely_apart(i, j) && !are_exactly(i, j)) return false;
    }
    return true;
}

bool RayFan::surely_apart(std::size_t i, std::size_t j) const {
    return is_beside(i, j) || is_beside(j, i) || are_parted(i, j) || are_parted_along_rays(i, j) ||
           are_parted_round_line(i, j);
}

/// Whether a face is surely no needle without area.
bool RayFan::has_area(std::size_t i) const {
    const double bound = 64 * Bounded::u * reach_[i] * reach_[after(i)];
    return bound > least && largest_component(normal_[i]) > bound;
}

/// Whether two faces meet in what they share only, decided exactly; false for needles.
bool RayFan::meet_as_neighbours(std::size_t i, std::size_t j) const {
    return has_area(i) && has_area(j) && !triangle_contact(corners_[i], corners_[j]).beyond_shared();
}

/// Whether a face and the one behind it do not lie on each other.
bool RayFan::bends(std::size_t i) const {
    const std::size_t edge = after(i), far = after(edge);
    if (side_[i][far] != 0) return true;
    const double size = reach_[edge] * reach_[edge] * reach_[i] * reach_[far];
    return size > least && dot(normal_[i], normal_[edge]) > 200 * Bounded::u * size;  // as surely_unfolded has it
}

/// Whether face j lies on one side of the plane of face i.
bool RayFan::is_beside(std::size_t i, std::size_t j) const { return side_[i][j] * side_[i][after(j)] > 0; }

/// Whether a plane parts them, across the way between their middles or upright on one of them, through a gap or
/// along a face that is nearly as wide as half a turn: those that lie flat beside each other.
bool RayFan::are_parted(std::size_t i, std::size_t j) const {
    auto parts = [&](const Vec3& across) { return has_between(across, i, j); };
    const Vec3 first = unit(i), end = unit(after(i)), next = unit(j), last = unit(after(j));
    if (parts(next + last - first - end)) return true;
    // A needle's own normal tells nothing.
    const double width_i = largest_component(normal_[i]) * reach_[j] * reach_[after(j)],
                 width_j = largest_component(normal_[j]) * reach_[i] * reach_[after(i)];
    const Vec3& upright = normal_[width_i < width_j ? j : i];
    for (const Vec3& along : {end - first, next - last, end + next, -last - first}) {
        const Vec3 across = cross(upright, along);
        if (parts(across) || parts(-across)) return true;
    }
    return false;
}

/// The same for two needles along one line: seen along it, each ray is a point, and the plane a line.
bool RayFan::are_parted_round_line(std::size_t i, std::size_t j) const {
    struct Point {
        Vec3 at;
        bool beyond;  // the plane, where its ray is on its own side of it; the other way for one that points back
    } points[4];
    Vec3 low, high;
    const Vec3 line = unit(i);
    int count = 0, beyond = 0;
    for (const std::size_t k : {i, after(i), j, after(j)}) {
        const bool back = dot(unit(k), line) < 0, of_j = count >= 2;
        points[count] = {back ? -unit(k) : unit(k), of_j != back};
        (points[count].beyond ? high : low) = (points[count].beyond ? high : low) + points[count].at;
        beyond += points[count++].beyond;
    }
    if (beyond == 0 || beyond == 4) return false;
    const Vec3 across = high * (1.0 / beyond) - low * (1.0 / (4 - beyond));
    double last = -HUGE_VAL, first = HUGE_VAL;
    for (const Point& p : points) {
        const double place = dot(across, p.at);
        if (p.beyond)
            first = std::min(first, place);
        else
            last = std::max(last, place);
    }
    return has_between(across - line * ((first + last) / 2 / dot(line, line)), i, j);
}

/// Whether the plane with that normal certainly has face i behind it and face j in front.
bool RayFan::has_between(const Vec3& normal, std::size_t i, std::size_t j) const {
    auto beyond = [&](std::size_t k, double way) {
        const double bound = 32 * Bounded::u * largest_component(normal) * reach_[k];
        return bound > least && way * dot(normal, ray_[k]) > bound;
    };
    return beyond(j, 1) && beyond(after(j), 1) && beyond(i, -1) && beyond(after(i), -1);
}

Vec3 RayFan::unit(std::size_t k) const { return ray_[k] * (1 / std::max(reach_[k], 1e-300)); }

/// Whether a plane along a ray of either has the other two on its two sides: those of which one lies over the
/// other.
bool RayFan::are_parted_along_rays(std::size_t i, std::size_t j) const {
    for (const auto& [a, rest_a] : {std::pair(i, after(i)), std::pair(after(i), i)})
        for (const auto& [b, rest_b] : {std::pair(j, after(j)), std::pair(after(j), j)}) {
            const Vec3 normal = cross(ray_[a], ray_[b]);
            const int side = side_of(normal, reach_[a] * reach_[b], rest_a);
            if (side * side_of(normal, reach_[a] * reach_[b], rest_b) < 0) return true;
        }
    return false;
}

/// On which side of the plane along two rays another one certainly lies; 0 where that is not sure, as PlaneFilter
/// tells it.
int RayFan::side_of(const Vec3& normal, double reaches, std::size_t k) const {
    const double height = dot(normal, ray_[k]), bound = 64 * Bounded::u * reaches * reach_[k];
    return !(bound > least) ? 0 : height > bound ? 1 : height < -bound ? -1 : 0;
}

}  // namespace anvil
