#include "core/job/new_shape.h"

#include <cmath>
#include <numbers>

namespace anvil {
namespace {

constexpr double usual_size = 20;  // mm, of shapes with their usual measures

/// The nearest of 1, 2 and 5 times a power of ten, as a ratio.
double round_factor(double v) {
    const double power = std::pow(10, std::floor(std::log10(v)));
    double best = power;
    for (const double step : {2.0, 5.0, 10.0})
        if (std::fabs(std::log(step * power / v)) < std::fabs(std::log(best / v))) best = step * power;
    return best;
}

}  // namespace

Values values_for_size(const Kind& shape, double size) {
    Values out;
    if (!(size > 0) || !std::isfinite(size)) return out;
    const double factor = round_factor(std::clamp(size / 3 / usual_size, 1e-3, 1e3));
    if (factor == 1) return out;
    for (const Field& field : shape.fields)
        if (field.goes_with_size)
            if (const double usual = std::get<double>(field.usual); usual > 0)
                out[field.name] = std::clamp(usual * factor, field.least, field.most);
    return out;
}

Placement standing_on(const Vec3& point, const Vec3& up) {
    const Vec3 n = normalized(up);
    const double flat = std::hypot(n.x, n.y), degree = 180 / std::numbers::pi;
    Placement out{point, {0, std::atan2(flat, n.z) * degree, flat > 1e-9 ? std::atan2(n.y, n.x) * degree : 0}};
    for (int k = 0; k < 3; ++k) {
        if (const double whole = std::round(out.angles[k]); std::fabs(out.angles[k] - whole) < 1e-7)
            out.angles[k] = whole + 0.0;
    }
    // Rounded, a place on a slope would leave it.
    const int axis = longest_axis(n);
    if (std::fabs(std::fabs(n[axis]) - 1) < 1e-9)
        for (int k = 0; k < 3; ++k)
            if (k != axis) out.position[k] = std::round(out.position[k] * 100) / 100 + 0.0;
    return out;
}

std::string unused_name(const Job& job, const std::string& name) {
    auto taken = [&](const std::string& n) {
        return std::ranges::any_of(job.parts, [&](const auto& part) { return part->name == n; });
    };
    std::string out = name;
    for (int k = 2; taken(out); ++k) out = name + " " + std::to_string(k);
    return out;
}

}  // namespace anvil
