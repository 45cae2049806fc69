#include "core/mesh/polygon.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace anvil {
namespace {

double turn(const Point2& a, const Point2& b, const Point2& c) {
    return (b.u - a.u) * (c.v - a.v) - (b.v - a.v) * (c.u - a.u);
}

/// The same for outlines of many corners: ears in turn, and of the other corners only those are looked at that bend
/// inward and lie in the same cells of a grid as the ear.
class LongOutline {
  public:
    explicit LongOutline(std::span<const Point2> p) : p_(p), next_(p.size()), previous_(p.size()) {
        const std::size_t n = p.size();
        for (std::size_t i = 0; i < n; ++i) {
            next_[i] = (i + 1) % n;
            previous_[i] = (i + n - 1) % n;
            low_ = {std::min(low_.u, p[i].u), std::min(low_.v, p[i].v)};
            high_ = {std::max(high_.u, p[i].u), std::max(high_.v, p[i].v)};
        }
        side_ = std::max<std::size_t>(1, static_cast<std::size_t>(std::sqrt(static_cast<double>(n))));
        cells_.resize(side_ * side_);
        for (std::size_t i = 0; i < n; ++i)
            if (area(i) <= 0)
                cells_[cell(p[i].u, low_.u, high_.u) * side_ + cell(p[i].v, low_.v, high_.v)].push_back(i);
    }

    std::vector<std::array<std::size_t, 3>> run() {
        std::size_t left = p_.size(), at = 0, passed = 0;
        while (left > 3) {
            // After a whole round without an ear it is no simple polygon: it is closed all the same.
            if (is_ear(at) || passed > left) {
                out_.push_back({previous_[at], at, next_[at]});
                next_[previous_[at]] = next_[at];
                previous_[next_[at]] = previous_[at];
                const std::size_t gone = at;
                at = next_[next_[at]];  // leaves one out, so that ears do not all meet in one corner
                next_[gone] = none;
                --left;
                passed = 0;
            } else {
                at = next_[at];
                ++passed;
            }
        }
        out_.push_back({previous_[at], at, next_[at]});
        return std::move(out_);
    }

  private:
    static constexpr std::size_t none = static_cast<std::size_t>(-1);
    double area(std::size_t i) const { return turn(p_[previous_[i]], p_[i], p_[next_[i]]); }
    std::size_t cell(double x, double low, double high) const {
        const double place = high > low ? (x - low) / (high - low) * static_cast<double>(side_) : 0;
        return std::min(side_ - 1, static_cast<std::size_t>(std::max(place, 0.0)));
    }
    bool is_ear(std::size_t i) const {
        if (area(i) <= 0) return false;
        const Point2 &a = p_[previous_[i]], &b = p_[i], &c = p_[next_[i]];
        const auto [low_u, high_u] = std::minmax({a.u, b.u, c.u});
        const auto [low_v, high_v] = std::minmax({a.v, b.v, c.v});
        for (std::size_t u = cell(low_u, low_.u, high_.u); u <= cell(high_u, low_.u, high_.u); ++u)
            for (std::size_t v = cell(low_v, low_.v, high_.v); v <= cell(high_v, low_.v, high_.v); ++v)
                for (const std::size_t k : cells_[u * side_ + v]) {
                    if (next_[k] == none || k == i || k == previous_[i] || k == next_[i]) continue;
                    if (turn(a, b, p_[k]) >= 0 && turn(b, c, p_[k]) >= 0 && turn(c, a, p_[k]) >= 0) return false;
                }
        return true;
    }

    std::span<const Point2> p_;
    std::vector<std::size_t> next_, previous_;
    Point2 low_{HUGE_VAL, HUGE_VAL}, high_{-HUGE_VAL, -HUGE_VAL};
    std::size_t side_ = 1;
    std::vector<std::vector<std::size_t>> cells_;  // corners that bend inward at first; others never come to
    std::vector<std::array<std::size_t, 3>> out_;
};

}  // namespace

std::vector<std::array<std::size_t, 3>> triangulate_outline(std::span<const Point2> p) {
    constexpr std::size_t many_corners = 100;
    if (p.size() > many_corners) return LongOutline(p).run();
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
