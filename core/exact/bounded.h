#pragma once

#include <cmath>

namespace anvil {

/// A double together with a bound on its distance from the true value: the second stage of every predicate.
/// Needs round-to-nearest and no contraction of products and sums (see the target flag in core/exact).
///
/// Each operation adds the bound of its own rounding, u * |result| with u = 2^-53. The bound itself is computed
/// in doubles: at most 8 roundings a step, covered by the factor `slack`; `tiny` covers underflow of a product.
struct Bounded {
    double v = 0, e = 0;

    static constexpr double u = 0x1p-53;
    static constexpr double slack = 1 + 0x1p-48;
    static constexpr double tiny = 0x1p-1000;

    Bounded() = default;
    Bounded(double value) : v(value) {}
    Bounded(double value, double error) : v(value), e(error) {}

    bool is_zero() const { return v == 0 && e == 0; }
};

inline Bounded operator-(const Bounded& a) { return {-a.v, a.e}; }

inline Bounded operator+(const Bounded& a, const Bounded& b) {
    const double v = a.v + b.v;
    // The exact rounding error of a sum (Knuth's two-sum): often zero, and then nothing is lost.
    const double bb = v - a.v;
    const double r = std::fabs((a.v - (v - bb)) + (b.v - bb));
    const double e = a.e + b.e + r;
    return {v, e == 0 ? 0 : e * Bounded::slack};
}
inline Bounded operator-(const Bounded& a, const Bounded& b) { return a + (-b); }

inline Bounded operator*(const Bounded& a, const Bounded& b) {
    if (a.is_zero() || b.is_zero()) return {};
    const double v = a.v * b.v;
    const double e =
        std::fabs(a.v) * b.e + std::fabs(b.v) * a.e + a.e * b.e + Bounded::u * std::fabs(v) + Bounded::tiny;
    return {v, e * Bounded::slack};
}

/// What a stage that may not know says.
enum class Sign : signed char { negative = -1, zero = 0, positive = 1, unsure = 2 };

/// The sign, where the bound is small enough to tell; infinities and NaN are unsure.
inline Sign sign_of(const Bounded& a) {
    if (a.v > a.e) return Sign::positive;
    if (a.v < -a.e) return Sign::negative;
    if (a.is_zero()) return Sign::zero;
    return Sign::unsure;
}

}  // namespace anvil
