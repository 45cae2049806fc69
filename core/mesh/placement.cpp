#include "core/mesh/placement.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace anvil {
namespace {

Transform turn_about(const Vec3& axis, double degrees) {
    const double quarters = degrees / 90;
    if (quarters == std::round(quarters)) {
        // Sines and cosines of quarter turns are 0 and 1, which the library only meets to within rounding.
        const long q = ((static_cast<long>(std::fmod(quarters, 4.0)) % 4) + 4) % 4;
        constexpr double cosine[] = {1, 0, -1, 0}, sine[] = {0, 1, 0, -1};
        const double c = cosine[q], s = sine[q];
        Transform t = Transform::Identity();
        const int k = axis.x != 0 ? 0 : axis.y != 0 ? 1 : 2, u = (k + 1) % 3, v = (k + 2) % 3;
        t.linear()(u, u) = c;
        t.linear()(u, v) = -s;
        t.linear()(v, u) = s;
        t.linear()(v, v) = c;
        return t;
    }
    return rotation(degrees * std::numbers::pi / 180, axis);
}

}  // namespace

Transform Placement::transform() const {
    if (is_identity()) return Transform::Identity();
    return translation(position) * turn_about({0, 0, 1}, angles.z) * turn_about({0, 1, 0}, angles.y) *
           turn_about({1, 0, 0}, angles.x);
}

Placement placement_from(const Transform& t) {
    const auto& m = t.linear();
    const double sine = std::clamp(-m(2, 0), -1.0, 1.0);
    constexpr double degrees = 180 / std::numbers::pi;
    Placement out;
    out.position = {t.translation().x(), t.translation().y(), t.translation().z()};
    if (std::fabs(sine) < 1 - 1e-12)
        out.angles = {std::atan2(m(2, 1), m(2, 2)), std::asin(sine), std::atan2(m(1, 0), m(0, 0))};
    else  // looking along z: one of the two turns does for both
        out.angles = {std::atan2(-m(1, 2), m(1, 1)), std::copysign(std::numbers::pi / 2, sine), 0};
    out.angles = out.angles * degrees;
    return out;
}

}  // namespace anvil
