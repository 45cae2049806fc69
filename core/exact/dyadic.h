#pragma once

#include <gmpxx.h>

#include <cmath>
#include <cstring>
#include <span>

namespace anvil {

/// An exact number m * 2^e. Doubles convert without loss, and sums, differences and products stay exact, whatever
/// the range of exponents. The last stage of every predicate.
/// Up to 640 bits lie within the object; only longer numbers ask for memory.
class Dyadic {
  public:
    Dyadic() = default;
    Dyadic(long v) {
        if (v == 0) return;
        size_ = v < 0 ? -1 : 1;
        own_[0] = v < 0 ? -static_cast<mp_limb_t>(v) : static_cast<mp_limb_t>(v);
    }
    /// Precondition: std::isfinite(v).
    Dyadic(double v) {
        if (v == 0) return;
        int exponent = 0;
        const auto bits = static_cast<mp_limb_t>(std::ldexp(std::fabs(std::frexp(v, &exponent)), 53));
        const int zeros = __builtin_ctzll(bits);  // short numbers stay short
        own_[0] = bits >> zeros;
        size_ = v < 0 ? -1 : 1;
        e_ = exponent - 53 + zeros;
    }
    /// From the limbs of a mantissa, the lowest first; the last one is not 0.
    Dyadic(bool negative, std::span<const mp_limb_t> limbs, long exponent) : e_(exponent) {
        const int n = static_cast<int>(limbs.size());
        size_ = negative ? -n : n;
        std::memcpy(make_room(n), limbs.data(), limbs.size_bytes());
    }
    Dyadic(const Dyadic& o) { copy(o); }
    Dyadic(Dyadic&& o) noexcept { take(o); }
    Dyadic& operator=(const Dyadic& o) {
        if (this != &o) {
            if (heap_) free_heap();
            copy(o);
        }
        return *this;
    }
    Dyadic& operator=(Dyadic&& o) noexcept {
        if (this != &o) {
            if (heap_) free_heap();
            take(o);
        }
        return *this;
    }
    ~Dyadic() {
        if (heap_) free_heap();
    }

    int sign() const { return (size_ > 0) - (size_ < 0); }
    mpz_class mantissa() const;
    /// Of the mantissa without its sign, the lowest first; none for 0.
    std::span<const mp_limb_t> limbs() const { return {data(), static_cast<std::size_t>(length())}; }
    long exponent() const { return e_; }

    friend Dyadic operator*(const Dyadic& a, const Dyadic& b);
    friend Dyadic operator+(const Dyadic& a, const Dyadic& b) { return sum(a, b, 1); }
    friend Dyadic operator-(const Dyadic& a, const Dyadic& b) { return sum(a, b, -1); }
    friend Dyadic operator-(Dyadic a) {
        a.size_ = -a.size_;
        return a;
    }
    friend double nearest_double(const Dyadic& numerator, const Dyadic& denominator);

  private:
    static constexpr int inline_limbs = 10;

    int length() const { return size_ < 0 ? -size_ : size_; }
    const mp_limb_t* data() const { return heap_ ? heap_ : own_; }
    /// Room for so many limbs; what they hold is not set.
    mp_limb_t* make_room(int n) { return n <= inline_limbs ? own_ : make_heap(n); }
    mp_limb_t* make_heap(int n);
    void free_heap() noexcept;
    void copy(const Dyadic& o) {
        size_ = o.size_;
        e_ = o.e_;
        const int n = o.length();
        std::memcpy(make_room(n), o.data(), static_cast<std::size_t>(n) * sizeof(mp_limb_t));
    }
    void take(Dyadic& o) noexcept {
        size_ = o.size_;
        e_ = o.e_;
        heap_ = o.heap_;
        if (heap_)
            o.heap_ = nullptr, o.size_ = 0;
        else
            std::memcpy(own_, o.own_, static_cast<std::size_t>(length()) * sizeof(mp_limb_t));
    }
    /// The topmost 128 bits, those below cut off, and the exponent of the lowest of them.
    struct Top {
        mp_limb_t high, low;
        long exponent;
    };
    Top top() const;
    /// a + b or a - b.
    static Dyadic sum(const Dyadic& a, const Dyadic& b, int sign_of_b);

    mp_limb_t* heap_ = nullptr;  // where own_ is too short
    int size_ = 0;               // limbs in use; negative for a negative number; the top one is not 0
    long e_ = 0;
    mp_limb_t own_[inline_limbs];
};

/// a - b.
Dyadic exact_difference(double a, double b);

/// numerator / denominator, rounded to the nearest double (ties to even).
/// Precondition: denominator is not zero.
double nearest_double(const Dyadic& numerator, const Dyadic& denominator);

}  // namespace anvil
