// Shapes that are an outline pushed along an axis.
#include <cmath>
#include <numbers>

#include "core/mesh/circle.h"
#include "core/mesh/primitives.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

/// Sides: 0 below, 1 on top, 2 + k from corner k to the next.
Solid pushed(std::span<const Point2> outline, double height) {
    Solid out{make_prism(outline, 0, height), {}};
    // In the order of make_prism.
    const std::size_t n = outline.size(), caps = out.mesh.faces.size() - 2 * n;
    for (std::size_t f = 0; f < caps; ++f) out.side.push_back(f % 2 == 0 ? 0 : 1);
    for (std::size_t k = 0; k < n; ++k)
        for (int half = 0; half < 2; ++half) out.side.push_back(static_cast<std::uint32_t>(2 + k));
    return out;
}

}  // namespace

Result<Solid> prism_shape(const PrismMeasures& m) {
    const double to_flat = m.across / 2,
                 radius = m.over_corners ? to_flat : to_flat / std::cos(std::numbers::pi / m.sides);
    std::vector<Point2> outline;
    for (int k = 0; k < m.sides; ++k) {
        const Point2 p = on_circle(4 * k + 2 - m.sides, 4 * m.sides);
        outline.push_back({radius * p.u, radius * p.v});
    }
    // Flats across x and y lie just where they are meant to.
    if (!m.over_corners) {
        const double near = to_flat * 1e-12;
        for (Point2& p : outline)
            for (double* v : {&p.u, &p.v})
                if (std::fabs(std::fabs(*v) - to_flat) < near) *v = std::copysign(to_flat, *v);
    }
    return pushed(outline, m.height);
}

Result<Solid> star_shape(const StarMeasures& m) {
    if (m.inner >= m.outer)
        return Error{ErrorCode::out_of_range, "the inner diameter of a star has to be smaller than the outer one", ""};
    std::vector<Point2> outline;
    for (int k = 0; k < 2 * m.points; ++k) {
        const Point2 p = on_circle(2 * m.points + 4 * k, 8 * m.points);
        const double r = (k % 2 == 0 ? m.outer : m.inner) / 2;
        outline.push_back({r * p.u, r * p.v});
    }
    return pushed(outline, m.height);
}

Result<Solid> wedge_shape(const WedgeMeasures& m) {
    if (m.top > m.size.x) return Error{ErrorCode::out_of_range, "a wedge cannot be longer on top than it is below", ""};
    const double x = m.size.x / 2, z = m.size.z;
    std::vector<Point2> outline{{-x, 0}, {x, 0}, {x, z}};
    if (m.top > 0) outline.push_back({x - m.top, z});
    Solid out = pushed(outline, m.size.y);
    // Its outline lies in x and z: what was pushed along z now runs along y, the other way.
    for (Vec3& p : out.mesh.points) p = {p.x, m.size.y / 2 - p.z, p.y};
    const std::uint32_t walls[] = {0, 1, m.top > 0 ? 2u : 3u, 3};
    for (std::uint32_t& side : out.side) side = side == 0 ? 5 : side == 1 ? 4 : walls[side - 2];
    return out;
}

}  // namespace anvil
