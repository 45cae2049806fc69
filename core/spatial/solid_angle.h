#pragma once

#include <cmath>
#include <numbers>

#include "core/base/vec3.h"

namespace anvil {

/// The part of all directions that triangles cover as seen from one point. Summed over a closed surface it is the
/// winding number. In doubles.
/// Formula: A. van Oosterom, J. Strackee, "The Solid Angle of a Plane Triangle" (1983): a complex number whose argument
/// is half the solid angle. Here they are multiplied, and the turns of the product counted, so that one argument is
/// taken for all.
class CoveredDirections {
  public:
    explicit CoveredDirections(const Vec3& from) : from_(from) {}

    /// Adds -1/2 ... 1/2: positive seen from behind the triangle; nothing for a point in its plane.
    void add(const Vec3& a, const Vec3& b, const Vec3& c) {
        const Vec3 u = a - from_, v = b - from_, w = c - from_;
        const double nu = norm(u), nv = norm(v), nw = norm(w), size = nu * nv * nw, volume = dot(u, cross(v, w));
        if (std::fabs(volume) <= 1e-13 * size) return;
        const double y = volume / size, x = 1 + (dot(u, v) * nw + dot(v, w) * nu + dot(w, u) * nv) / size;
        // y is not 0, so an argument beyond half a turn shows itself by the product's side.
        const double re = re_ * x - im_ * y, im = re_ * y + im_ * x;
        if (y > 0 && im_ >= 0 && im < 0) ++turns_;
        if (y < 0 && im_ < 0 && im >= 0) --turns_;
        re_ = re;
        im_ = im;
        if (const double reach = std::fabs(re_) + std::fabs(im_); reach < 1e-100 || reach > 1e100)
            re_ /= reach, im_ /= reach;
    }
    double sum() const { return turns_ + std::atan2(im_, re_) / (2 * std::numbers::pi); }

  private:
    Vec3 from_;
    double re_ = 1, im_ = 0;
    int turns_ = 0;
};

/// That of one triangle.
inline double covered_directions(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    CoveredDirections one(p);
    one.add(a, b, c);
    return one.sum();
}

}  // namespace anvil
