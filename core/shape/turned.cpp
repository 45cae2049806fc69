// Shapes that are a profile turned round an axis.
#include "core/shape/turned.h"

#include <algorithm>

#include "core/mesh/primitives.h"
#include "core/shape/shapes.h"

namespace anvil {

Solid turned(std::span<const Point2> profile, std::span<const std::uint32_t> sides, int n) {
    Solid out{make_revolution(profile, n), {}};
    for (std::size_t k = 0; k < profile.size(); ++k) {
        const int ends = (profile[k].u != 0) + (profile[(k + 1) % profile.size()].u != 0);
        for (int f = 0; f < ends * n; ++f) out.side.push_back(sides[k]);
    }
    return out;
}

Result<Solid> cylinder_shape(const CylinderMeasures& m) {
    return cone_shape({m.diameter, m.diameter, m.height, m.facets});
}

Result<Solid> cone_shape(const ConeMeasures& m) {
    if (m.bottom == 0 && m.top == 0)
        return Error{ErrorCode::out_of_range, "a cone needs a diameter at one end at least: both are 0", ""};
    const double r0 = m.bottom / 2, r1 = m.top / 2;
    const int n = faces_around(std::max(r0, r1), m.facets);
    if (auto fit = check_face_count(4.0 * n); !fit) return fit.error();
    std::vector<Point2> profile{{0, 0}};
    std::vector<std::uint32_t> sides;
    if (r0 > 0) profile.push_back({r0, 0}), sides.push_back(0);
    if (r1 > 0) profile.push_back({r1, m.height}), sides.push_back(1);
    profile.push_back({0, m.height});
    sides.push_back(r1 > 0 ? 2 : 1);
    sides.push_back(0);  // along the axis: no faces
    return turned(profile, sides, n);
}

Result<Solid> tube_shape(const TubeMeasures& m) {
    if (m.inner >= m.outer)
        return Error{ErrorCode::out_of_range, "the inner diameter of a tube has to be smaller than the outer one", ""};
    const int n = faces_around(m.outer / 2, m.facets);
    if (auto fit = check_face_count(8.0 * n); !fit) return fit.error();
    const double a = m.inner / 2, b = m.outer / 2;
    if (a == 0) return cylinder_shape({m.outer, m.height, m.facets});
    const Point2 profile[] = {{a, 0}, {b, 0}, {b, m.height}, {a, m.height}};
    constexpr std::uint32_t sides[] = {0, 1, 2, 3};
    return turned(profile, sides, n);
}

Result<Solid> torus_shape(const TorusMeasures& m) {
    if (m.tube >= m.ring)
        return Error{ErrorCode::out_of_range,
                     "the tube of a torus has to be thinner than its ring is wide, or it runs into itself", ""};
    const double major = m.ring / 2, minor = m.tube / 2;
    const int around = faces_around(major + minor, m.facets), across = faces_around(minor, m.facets);
    if (auto fit = check_face_count(2.0 * around * across); !fit) return fit.error();
    Solid out{make_torus(major, minor, around, across), {}};
    for (Vec3& p : out.mesh.points) p.z += minor;
    for (std::size_t f = 0; f < out.mesh.faces.size(); ++f) out.side.push_back(0);
    return out;
}

}  // namespace anvil
