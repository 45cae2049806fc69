#pragma once

#include <gmpxx.h>

#include <cmath>

namespace anvil {

/// An exact number m * 2^e. Doubles convert without loss, and sums, differences and products stay exact, whatever
/// the range of exponents. The last stage of every predicate.
class Dyadic {
  public:
    Dyadic() = default;
    Dyadic(long v) : m_(v) {}
    /// Precondition: std::isfinite(v).
    Dyadic(double v) {
        if (v == 0) return;
        int exponent = 0;
        const double fraction = std::frexp(v, &exponent);
        m_ = std::ldexp(fraction, 53);
        e_ = exponent - 53;
    }

    int sign() const { return sgn(m_); }
    const mpz_class& mantissa() const { return m_; }
    long exponent() const { return e_; }

    friend Dyadic operator*(const Dyadic& a, const Dyadic& b) { return Dyadic(a.m_ * b.m_, a.e_ + b.e_); }
    friend Dyadic operator+(const Dyadic& a, const Dyadic& b) {
        if (a.sign() == 0) return b;
        if (b.sign() == 0) return a;
        if (a.e_ >= b.e_) return Dyadic((a.m_ << static_cast<unsigned long>(a.e_ - b.e_)) + b.m_, b.e_);
        return Dyadic(a.m_ + (b.m_ << static_cast<unsigned long>(b.e_ - a.e_)), a.e_);
    }
    friend Dyadic operator-(const Dyadic& a) { return Dyadic(-a.m_, a.e_); }
    friend Dyadic operator-(const Dyadic& a, const Dyadic& b) { return a + (-b); }

  private:
    Dyadic(mpz_class m, long e) : m_(std::move(m)), e_(m_ == 0 ? 0 : e) {}
    mpz_class m_;
    long e_ = 0;
};

/// numerator / denominator, rounded to the nearest double (ties to even).
/// Precondition: denominator is not zero.
double nearest_double(const Dyadic& numerator, const Dyadic& denominator);

}  // namespace anvil
