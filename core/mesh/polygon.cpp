#include "core/mesh/polygon.h"

#include <numeric>

namespace anvil {
namespace {

double turn(const Point2& a, const Point2& b, const Point2& c) {
    return (b.u - a.u) * (c.v - a.v) - (b.v - a.v) * (c.u - a.u);
}

}  // namespace

std::vector<std::array<std::size_t, 3>> triangulate_outline(std::span<const Point2> p) {
    std::vector<std::size_t> ring(p.size());
    std::iota(ring.begin(), ring.end(), 0);
    std::vector<std::array<std::size_t, 3>> out;
    while (ring.size() > 3) {
        const std::size_t n = ring.size();
        std::size_t best = n;
        double best_area = -1;
        for (std::size_t i = 0; i < n; ++i) {
            const Point2 &a = p[ring[(i + n - 1) % n]], &b = p[ring[i]], &c = p[ring[(i + 1) % n]];
            const double area = turn(a, b, c);
            if (area <= 0 || area <= best_area) continue;
            bool free = true;
            for (std::size_t j = 0; j < n && free; ++j) {
                const std::size_t k = ring[j];
                if (j == i || j == (i + 1) % n || j == (i + n - 1) % n) continue;
                free = !(turn(a, b, p[k]) >= 0 && turn(b, c, p[k]) >= 0 && turn(c, a, p[k]) >= 0);
            }
            if (free) {
                best = i;
                best_area = area;
            }
        }
        if (best == n) best = 0;  // not a simple polygon: close it all the same
        out.push_back({ring[(best + n - 1) % n], ring[best], ring[(best + 1) % n]});
        ring.erase(ring.begin() + static_cast<long>(best));
    }
    out.push_back({ring[0], ring[1], ring[2]});
    return out;
}

std::vector<std::array<std::size_t, 3>> triangulate_polygon(std::span<const Vec3> polygon) {
    Vec3 normal;  // Newell's: the sum over the edges, right for polygons that are not quite flat
    for (std::size_t i = 0; i < polygon.size(); ++i)
        normal = normal + cross(polygon[i] - polygon[0], polygon[(i + 1) % polygon.size()] - polygon[0]);
    const int axis = std::fabs(normal.x) > std::fabs(normal.y) && std::fabs(normal.x) > std::fabs(normal.z) ? 0
                     : std::fabs(normal.y) > std::fabs(normal.z)                                            ? 1
                                                                                                            : 2;
    const double sign = normal[axis] < 0 ? -1 : 1;
    std::vector<Point2> outline;
    for (const Vec3& p : polygon) outline.push_back({p[(axis + 1) % 3] * sign, p[(axis + 2) % 3]});
    return triangulate_outline(outline);
}

bool is_inside(std::span<const Point2> outline, const Point2& p) {
    bool in = false;
    for (std::size_t i = 0; i < outline.size(); ++i) {
        const Point2 &a = outline[i], &b = outline[(i + 1) % outline.size()];
        if ((a.v > p.v) != (b.v > p.v) && p.u < a.u + (b.u - a.u) * (p.v - a.v) / (b.v - a.v)) in = !in;
    }
    return in;
}

}  // namespace anvil
