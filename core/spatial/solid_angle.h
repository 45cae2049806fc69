#pragma once

#include <cmath>
#include <numbers>

#include "core/base/vec3.h"

namespace anvil {

/// The part of all directions that a triangle covers as seen from p, in -1/2 ... 1/2: positive from behind it. Summed
/// over a closed surface it is the winding number. 0 for a point in the triangle's plane. In doubles.
/// Formula: A. van Oosterom, J. Strackee, "The Solid Angle of a Plane Triangle" (1983).
inline double covered_directions(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 u = a - p, v = b - p, w = c - p;
    const double nu = norm(u), nv = norm(v), nw = norm(w);
    const double volume = dot(u, cross(v, w));
    if (std::fabs(volume) <= 1e-13 * nu * nv * nw) return 0;
    return std::atan2(volume, nu * nv * nw + dot(u, v) * nw + dot(v, w) * nu + dot(w, u) * nv) / (2 * std::numbers::pi);
}

}  // namespace anvil
