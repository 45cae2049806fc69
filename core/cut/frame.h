#pragma once

#include <optional>

#include "core/mesh/transform.h"

namespace anvil {

/// Axes on a plane: x and y in it, z along the normal, which has any length but 0. Along an axis of the coordinates all
/// are exact, so that what is square to that stays so to the bit.
inline Transform frame_on(const Vec3& origin, const Vec3& normal) {
    const int k = longest_axis(normal);
    Vec3 z = normalized(normal);
    if (const Vec3 others = normal - Vec3{k == 0 ? normal.x : 0, k == 1 ? normal.y : 0, k == 2 ? normal.z : 0};
        others == Vec3{}) {
        z = {};
        z[k] = normal[k] > 0 ? 1 : -1;
    }
    // Upright planes have their y axis upwards, level ones along y.
    Vec3 y = std::fabs(z.z) > 0.999 ? Vec3{0, 1, 0} : Vec3{0, 0, 1};
    const Vec3 x = normalized(cross(y, z));
    y = cross(z, x);
    Transform out;
    out.matrix().col(0) = Eigen::Vector3d(x.x, x.y, x.z);
    out.matrix().col(1) = Eigen::Vector3d(y.x, y.y, y.z);
    out.matrix().col(2) = Eigen::Vector3d(z.x, z.y, z.z);
    out.matrix().col(3) = Eigen::Vector3d(origin.x, origin.y, origin.z);
    return out;
}

/// Its x, y or z axis.
inline Vec3 frame_axis(const Transform& frame, int k) {
    return {frame.matrix()(0, k), frame.matrix()(1, k), frame.matrix()(2, k)};
}

/// A direction, which moves do nothing to.
inline Vec3 apply_direction(const Transform& t, const Vec3& v) { return apply(t, v) - apply(t, {}); }

struct PlacedPlane {
    Vec3 origin, normal;
};
/// The plane that a line on the screen is seen as: through the eye along the rays of the line's two ends; its normal
/// looks to the left of who goes from the first to the second. The point of it that lies nearest to `middle` is its
/// origin. What is square to an axis but for less than a twentieth of a degree is so. None where the ends are one.
inline std::optional<PlacedPlane> plane_of_line(const Vec3& eye, const Vec3& ray_a, const Vec3& ray_b,
                                                const Vec3& middle) {
    Vec3 n = cross(ray_b, ray_a);
    if (!(norm(n) > 1e-9 * norm(ray_a) * norm(ray_b))) return std::nullopt;
    n = normalized(n);
    const int k = longest_axis(n);
    if (std::fabs(n[k]) > 0.9999996) {
        const double sign = n[k] > 0 ? 1 : -1;
        n = {};
        n[k] = sign;
    }
    return PlacedPlane{middle - n * dot(n, middle - eye), n};
}
/// Where a ray meets a plane, in front of where it begins; none where it runs along it, or away.
inline std::optional<Vec3> met_on_plane(const Vec3& from, const Vec3& ray, const Vec3& origin, const Vec3& normal) {
    const double slope = dot(normal, ray), t = dot(normal, origin - from) / slope;
    if (std::fabs(slope) < 1e-9 * norm(normal) * norm(ray) || !(t > 0)) return std::nullopt;
    return from + ray * t;
}

/// The plane through three points; none where they lie on one line.
inline std::optional<PlacedPlane> plane_through(const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 n = cross(b - a, c - a);
    if (!(norm(n) > 1e-9 * norm(b - a) * norm(c - a))) return std::nullopt;
    return PlacedPlane{a, normalized(n)};
}

}  // namespace anvil
