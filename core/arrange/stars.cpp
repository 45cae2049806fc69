// A surface whose faces all look the same way along some direction, and whose rim winds once, is free of crossings: the
// reasoning of P. Volino, N. Magnenat-Thalmann, "Efficient Self-Collision Detection on Smoothly Discretized Surface
// Animations using Geometrical Shape Regularity" (1994). We depart from it in using it for the faces round one point
// only, where the rim can be judged exactly, and in certifying every sign. A fold shows itself with overlap whichever
// way one looks: there the faces are told apart pair by pair.
#include "core/arrange/stars.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <numbers>

#include "core/exact/bounded.h"

namespace anvil {
namespace {

/// Directions with whole coordinates, each with a coordinate axis that it is perpendicular to, and one over its length.
struct Direction {
    Vec3 along;
    int across;
    double scale = std::numbers::sqrt2 / 2;
};
constexpr Direction directions[] = {{{1, 0, 0}, 2, 1}, {{0, 1, 0}, 0, 1}, {{0, 0, 1}, 1, 1},
                                    {{1, 1, 0}, 2},    {{1, -1, 0}, 2},   {{0, 1, 1}, 0},
                                    {{0, 1, -1}, 0},   {{1, 0, 1}, 1},    {{1, 0, -1}, 1}};

/// A face's normal, and a bound for the rounding of its scalar product with a direction above; 0 where products may
/// have lost bits.
struct FaceNormal {
    Vec3 normal;
    double bound;
};
FaceNormal normal_of(const Vec3& p, const Vec3& q, const Vec3& r) {
    const Vec3 a = q - p, b = r - p;
    // Per component less than 10 u of the product below (see PlaneFilter); two components are added up.
    const double size = largest_component(a) * largest_component(b);
    return {cross(a, b), size > 1e-200 ? 32 * Bounded::u * size : 0};
}

/// Whether some projection certainly shows the faces round a point without overlap, one ring or, where that is asked
/// for, one open fan.
bool is_seen_whole(std::span<const Vec3> points, std::span<const Triangle> faces, std::span<const FaceNormal> normals,
                   const HalfEdges& edges, Fans fans, std::size_t v) {
    const auto star = edges.leaving(v);
    const Vec3& center = points[v];
    Vec3 sum;
    double all = 0;
    int starts = 0, ends = 0;  // of open fans
    for (const HalfEdges::Out& out : star) {
        const std::uint32_t h = out.half, last = before_in_face(h);
        starts += edges.twin[h] == HalfEdges::none;
        ends += edges.twin[last] == HalfEdges::none;
        sum = sum + normals[h / 3].normal;
        all += largest_component(normals[h / 3].normal);
    }
    if (8 * largest_component(sum) < all) return false;  // a fold: its sides cancel
    const bool open = starts + ends > 0;
    if (open ? fans == Fans::closed || starts != 1 || ends != 1 : star.size() < 3) return false;
    const Direction* best = nullptr;
    double most_along = 0;
    for (const Direction& d : directions) {
        const double along = std::fabs(dot(sum, d.along)) * d.scale;
        if (along > most_along) most_along = along, best = &d;
    }
    if (!best) return false;
    const double way = dot(sum, best->along) > 0 ? 1 : -1;
    // How often the rim passes the two halves of a line through the point: once a turn. One that passes it once, or
    // never, comes round less than one turn.
    int up = 0, down = 0;
    for (const HalfEdges::Out& out : star) {
        const FaceNormal& n = normals[out.half / 3];
        if (!(n.bound > 0) || !(way * dot(n.normal, best->along) > n.bound)) return false;
        const std::uint32_t last = before_in_face(out.half);
        const int k = best->across;
        const bool from = points[out.to.value()][k] >= center[k];
        const bool to = points[faces[last / 3][last % 3].value()][k] >= center[k];
        up += !from && to;
        down += from && !to;
    }
    return open ? up + down <= 1 : up == 1;
}

}  // namespace

std::vector<char> find_sound_stars(std::span<const Vec3> points, std::span<const Triangle> faces,
                                   const HalfEdges& edges, Fans fans) {
    std::vector<FaceNormal> normals(faces.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, faces.size(), 4096), [&](const auto& range) {
        for (std::size_t f = range.begin(); f != range.end(); ++f)
            normals[f] =
                normal_of(points[faces[f][0].value()], points[faces[f][1].value()], points[faces[f][2].value()]);
    });
    std::vector<char> sound(points.size(), 0);
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, points.size(), 2048), [&](const auto& range) {
        RayFan rays;
        for (std::size_t v = range.begin(); v != range.end(); ++v)
            sound[v] = is_seen_whole(points, faces, normals, edges, fans, v) ||
                       (rays.collect(points, faces, edges, fans, v) && rays.are_apart());
    });
    return sound;
}

}  // namespace anvil
