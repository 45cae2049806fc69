// A surface whose faces all look the same way along some direction, and whose rim winds once, is free of crossings: the
// reasoning of P. Volino, N. Magnenat-Thalmann, "Efficient Self-Collision Detection on Smoothly Discretized Surface
// Animations using Geometrical Shape Regularity" (1994). We depart from it in using it for the faces round one point
// only, where the rim can be judged exactly, and in certifying every sign.
#include "core/arrange/stars.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/exact/bounded.h"

namespace anvil {
namespace {

/// Directions with whole coordinates, each with a coordinate axis that it is perpendicular to.
struct Direction {
    Vec3 along;
    int across;
};
constexpr Direction directions[] = {{{1, 0, 0}, 2}, {{0, 1, 0}, 0},  {{0, 0, 1}, 1}, {{1, 1, 0}, 2}, {{1, -1, 0}, 2},
                                    {{0, 1, 1}, 0}, {{0, 1, -1}, 0}, {{1, 0, 1}, 1}, {{1, 0, -1}, 1}};

bool is_sound(std::span<const Vec3> points, std::span<const Triangle> faces, const HalfEdges& edges, std::size_t v) {
    const auto star = edges.leaving(v);
    constexpr std::size_t most = 32;
    if (star.size() < 3 || star.size() > most) return false;
    const Vec3& center = points[v];
    Vec3 normal[most], sum;
    double bound[most];
    for (std::size_t i = 0; i < star.size(); ++i) {
        const std::uint32_t h = star[i].half, last = h % 3 == 0 ? h + 2 : h - 1;
        if (edges.twin[h] == HalfEdges::none || edges.twin[last] == HalfEdges::none) return false;
        const Vec3 a = points[star[i].to.value()] - center;
        const Vec3 b = points[faces[last / 3][last % 3].value()] - center;
        normal[i] = cross(a, b);
        // Per component less than 10 u of the product below (see PlaneFilter); two components are added up.
        const double size = largest_component(a) * largest_component(b);
        if (!(size > 1e-200)) return false;
        bound[i] = 32 * Bounded::u * size;
        sum = sum + normal[i];
    }
    const Direction* best = nullptr;
    double most_along = 0;
    for (const Direction& d : directions) {
        const double along = std::fabs(dot(sum, d.along)) / norm(d.along);
        if (along > most_along) most_along = along, best = &d;
    }
    if (!best) return false;
    const double way = dot(sum, best->along) > 0 ? 1 : -1;
    int turns = 0;
    for (std::size_t i = 0; i < star.size(); ++i) {
        if (!(way * dot(normal[i], best->along) > bound[i])) return false;
        // How often the rim passes one half of a line through the point: the number of its turns.
        const std::uint32_t h = star[i].half, last = h % 3 == 0 ? h + 2 : h - 1;
        const int k = best->across;
        const bool from = points[star[i].to.value()][k] >= center[k];
        const bool to = points[faces[last / 3][last % 3].value()][k] >= center[k];
        turns += !from && to;
    }
    return turns == 1;
}

}  // namespace

std::vector<char> find_sound_stars(std::span<const Vec3> points, std::span<const Triangle> faces,
                                   const HalfEdges& edges) {
    std::vector<char> sound(points.size(), 0);
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, points.size(), 2048), [&](const auto& range) {
        for (std::size_t v = range.begin(); v != range.end(); ++v) sound[v] = is_sound(points, faces, edges, v);
    });
    return sound;
}

}  // namespace anvil
