#pragma once

// Based on: T. J. Dekker, "A Floating-Point Technique for Extending the Available Precision" (1971): a number as the
// unevaluated sum of two doubles. We depart from it in carrying a bound of the error along, as `Bounded` does.

#include <bit>
#include <cstdint>
#include <optional>

#include "core/exact/bounded.h"
#include "core/exact/expansion.h"

namespace anvil {

/// high + low, where |low| is at most half a unit in the last place of `high`, together with a bound on its distance
/// from the true value. Needs round-to-nearest and no contraction of products and sums. Where anything overflowed,
/// high or the bound is not finite.
///
/// Roundings are counted with u = 2^-53; `slack` covers those of the bound itself, `tiny` what underflow loses in a
/// product.
struct DoubleDouble {
    double high = 0, low = 0, error = 0;

    static constexpr double u2 = Bounded::u * Bounded::u;
    static constexpr double slack = 1 + 0x1p-40;
    static constexpr double tiny = 0x1p-1000;
};

/// a - b, exactly.
inline DoubleDouble exact_pair(double a, double b) {
    DoubleDouble out;
    expansion_detail::two_sum(a, -b, out.high, out.low);
    return out;
}

inline DoubleDouble operator-(const DoubleDouble& a) { return {-a.high, -a.low, a.error}; }

inline DoubleDouble operator+(const DoubleDouble& a, const DoubleDouble& b) {
    using namespace expansion_detail;
    DoubleDouble out;
    double sum, rest;
    two_sum(a.high, b.high, sum, rest);
    const double lows = a.low + b.low, low = rest + lows;  // these two round
    two_sum(sum, low, out.high, out.low);
    out.error = (a.error + b.error + 2 * Bounded::u * (std::fabs(lows) + std::fabs(low))) * DoubleDouble::slack;
    return out;
}
inline DoubleDouble operator-(const DoubleDouble& a, const DoubleDouble& b) { return a + (-b); }

inline DoubleDouble operator*(const DoubleDouble& a, const DoubleDouble& b) {
    using namespace expansion_detail;
    DoubleDouble out;
    double b_high, b_low, product, rest;
    split(b.high, b_high, b_low);
    two_product(a.high, b.high, b_high, b_low, product, rest);
    // a.low * b.low is left out, and four operations round: less than 8 u^2 of the product in all.
    two_sum(product, rest + (a.high * b.low + a.low * b.high), out.high, out.low);
    out.error = (std::fabs(a.high) * b.error + std::fabs(b.high) * a.error + a.error * b.error +
                 16 * DoubleDouble::u2 * std::fabs(product)) *
                    DoubleDouble::slack +
                DoubleDouble::tiny;
    return out;
}

/// Where b may be 0, the bound is not finite.
inline DoubleDouble operator/(const DoubleDouble& a, const DoubleDouble& b) {
    using namespace expansion_detail;
    DoubleDouble out;
    const double first = a.high / b.high;
    double b_high, b_low, product, rest;
    split(b.high, b_high, b_low);
    two_product(first, b.high, b_high, b_low, product, rest);
    // What is left is less than 4 u of a; its four roundings, and the last quotient's, are less than 32 u^2 of it.
    const double left = ((a.high - product) - rest) + (a.low - first * b.low);
    two_sum(first, left / b.high, out.high, out.low);
    const double least = std::fabs(b.high) * (1 - 0x1p-50) - b.error;
    if (!(least > 0x1p-900)) return {0, 0, HUGE_VAL};
    out.error = ((a.error + std::fabs(first) * b.error) / least + 64 * DoubleDouble::u2 * std::fabs(first)) *
                    DoubleDouble::slack +
                DoubleDouble::tiny / least;
    return out;
}

/// The double that is nearest to the true value, where that is sure.
inline std::optional<double> nearest_double(const DoubleDouble& a) {
    if (a.high == 0) return a.low == 0 && a.error == 0 ? std::optional(0.0) : std::nullopt;
    const auto bits = std::bit_cast<std::uint64_t>(a.high);
    const std::uint64_t exponent = bits >> 52 & 0x7ff;
    if (exponent < 64 || exponent == 0x7ff) return std::nullopt;
    // Half the way to the next double; below a power of two they lie closer.
    double half = std::bit_cast<double>((exponent - 53) << 52);
    if ((bits << 12) == 0) half /= 2;
    return std::fabs(a.low) + a.error < half * (1 - 0x1p-50) ? std::optional(a.high) : std::nullopt;
}
/// Whether the true value is surely none of the doubles next to it.
inline bool surely_between_doubles(const DoubleDouble& a) { return std::fabs(a.low) > a.error; }

}  // namespace anvil
