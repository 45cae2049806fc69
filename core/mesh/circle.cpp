#include "core/mesh/circle.h"

#include <cmath>
#include <numbers>

namespace anvil {

Point2 on_circle(int k, int n) {
    const long long turned = ((k % static_cast<long long>(n)) + n) % n * 4;  // quarters, times n
    const auto quarter = turned / n, rest = turned % n;
    const double half_pi = std::numbers::pi / 2;
    Point2 p{1, 0};
    if (2 * rest < n) {
        const double angle = half_pi * static_cast<double>(rest) / n;
        if (rest > 0) p = {std::cos(angle), std::sin(angle)};
    } else if (2 * rest == n) {
        p = {std::numbers::sqrt2 / 2, std::numbers::sqrt2 / 2};
    } else {
        const double angle = half_pi * static_cast<double>(n - rest) / n;
        p = {std::sin(angle), std::cos(angle)};
    }
    switch (quarter) {
        case 0: return p;
        case 1: return {-p.v, p.u};
        case 2: return {-p.u, -p.v};
        default: return {p.v, -p.u};
    }
}

}  // namespace anvil
