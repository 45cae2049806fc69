#pragma once

// Based on: J. R. Shewchuk, "Adaptive Precision Floating-Point Arithmetic and Fast Robust Geometric Predicates" (1997):
// an exact number as a sum of doubles that do not overlap. We depart from it in having one exact stage, in which zero
// components are dropped at once, in place of stages of growing precision: the numbers of flat and flush parts are
// short.

#include <cmath>

namespace anvil {

/// An exact sum of at most N doubles, smallest first, none zero, no two overlapping. Exact as long as nothing over- or
/// underflows (see `fits_expansions`) and rounding is to nearest; sums and products must not be contracted.
template <int N>
struct Expansion {
    double part[N];
    int count = 0;

    int sign() const { return count == 0 ? 0 : part[count - 1] > 0 ? 1 : -1; }
    void push(double p) {
        if (p != 0) part[count++] = p;
    }
};

/// Whether products of up to three differences of such numbers are exact: not so large that a product overflows, not so
/// small that its last bit is lost. 2^-306 has its last bit at 2^-358, and (2^-358)^3 = 2^-1074, the smallest double.
inline bool fits_expansions(double v) { return v == 0 || (std::fabs(v) > 0x1p-306 && std::fabs(v) < 0x1p300); }

namespace expansion_detail {

/// a + b = high + low, exactly.
inline void two_sum(double a, double b, double& high, double& low) {
    high = a + b;
    const double b_part = high - a, a_part = high - b_part;
    low = (a - a_part) + (b - b_part);
}
/// The same where |a| >= |b|.
inline void fast_two_sum(double a, double b, double& high, double& low) {
    high = a + b;
    low = b - (high - a);
}
/// The upper and the lower 26 bits.
inline void split(double a, double& high, double& low) {
    const double c = 0x1.0000002p27 * a;  // 2^27 + 1
    high = c - (c - a);
    low = a - high;
}
/// a * b = high + low, exactly; b comes split.
inline void two_product(double a, double b, double b_high, double b_low, double& high, double& low) {
    high = a * b;
    double a_high, a_low;
    split(a, a_high, a_low);
    low = a_low * b_low - (((high - a_high * b_high) - a_low * b_high) - a_high * b_low);
}

}  // namespace expansion_detail

inline Expansion<2> difference(double a, double b) {
    double high, low;
    expansion_detail::two_sum(a, -b, high, low);
    Expansion<2> out;
    out.push(low);
    out.push(high);
    return out;
}

template <int N>
Expansion<N> operator-(Expansion<N> a) {
    for (int i = 0; i < a.count; ++i) a.part[i] = -a.part[i];
    return a;
}

/// Merges the parts by magnitude and carries upwards.
template <int M, int N>
Expansion<M + N> operator+(const Expansion<M>& a, const Expansion<N>& b) {
    using namespace expansion_detail;
    Expansion<M + N> out;
    int i = 0, j = 0;
    auto next = [&] {
        const bool from_a = j == b.count || (i < a.count && std::fabs(a.part[i]) < std::fabs(b.part[j]));
        return from_a ? a.part[i++] : b.part[j++];
    };
    const int total = a.count + b.count;
    if (total == 0) return out;
    double carry = next(), low;
    if (total > 1) {
        fast_two_sum(next(), carry, carry, low);
        out.push(low);
    }
    for (int k = 2; k < total; ++k) {
        two_sum(carry, next(), carry, low);
        out.push(low);
    }
    out.push(carry);
    return out;
}

template <int N>
Expansion<2 * N> scaled(const Expansion<N>& a, double factor) {
    using namespace expansion_detail;
    Expansion<2 * N> out;
    if (a.count == 0 || factor == 0) return out;
    double factor_high, factor_low, carry, low;
    split(factor, factor_high, factor_low);
    two_product(a.part[0], factor, factor_high, factor_low, carry, low);
    out.push(low);
    for (int i = 1; i < a.count; ++i) {
        double high, middle, sum;
        two_product(a.part[i], factor, factor_high, factor_low, high, middle);
        two_sum(carry, middle, sum, low);
        out.push(low);
        fast_two_sum(high, sum, carry, low);
        out.push(low);
    }
    out.push(carry);
    return out;
}

/// By a number that is a difference of two doubles.
template <int N>
Expansion<4 * N> operator*(const Expansion<N>& a, const Expansion<2>& b) {
    if (b.count == 0) return {};
    const Expansion<2 * N> first = scaled(a, b.part[0]);
    return first + (b.count == 2 ? scaled(a, b.part[1]) : Expansion<2 * N>{});
}

}  // namespace anvil
