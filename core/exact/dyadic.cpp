#include "core/exact/dyadic.h"

#include <algorithm>
#include <cstdlib>
#include <new>

namespace anvil {
namespace {

__extension__ using TwoLimbs = unsigned __int128;

// GMP ends the program where it gets no memory; like everything else, it is to throw.
void* allocate(std::size_t bytes) {
    if (void* p = std::malloc(bytes)) return p;
    throw std::bad_alloc();
}
void* reallocate(void* old, std::size_t, std::size_t bytes) {
    if (void* p = std::realloc(old, bytes)) return p;
    throw std::bad_alloc();
}
void release(void* p, std::size_t) { std::free(p); }
[[maybe_unused]] const bool gmp_throws = [] {
    mp_set_memory_functions(allocate, reallocate, release);
    return true;
}();

double nearest_by_division(const Dyadic& numerator, const Dyadic& denominator) {
    const int sign = numerator.sign() * denominator.sign();
    mpz_class n = abs(numerator.mantissa()), d = abs(denominator.mantissa());
    long exponent = numerator.exponent() - denominator.exponent();

    // Scale so that the quotient has 64 or 65 bits; a sticky last bit keeps the rounding below right.
    const long shift =
        65 - static_cast<long>(mpz_sizeinbase(n.get_mpz_t(), 2)) + static_cast<long>(mpz_sizeinbase(d.get_mpz_t(), 2));
    if (shift > 0)
        n <<= static_cast<unsigned long>(shift);
    else
        d <<= static_cast<unsigned long>(-shift);
    exponent -= shift;
    mpz_class quotient, rest;
    mpz_tdiv_qr(quotient.get_mpz_t(), rest.get_mpz_t(), n.get_mpz_t(), d.get_mpz_t());

    // Keep as many bits as a double at this magnitude has (fewer for subnormal results).
    const long bits = static_cast<long>(mpz_sizeinbase(quotient.get_mpz_t(), 2));
    long keep = 53;
    if (bits + exponent < -1021) keep = 53 - (-1021 - (bits + exponent));
    if (keep < 0) return sign < 0 ? -0.0 : 0.0;
    const unsigned long drop = static_cast<unsigned long>(bits - keep);
    mpz_class kept = quotient >> drop;
    const mpz_class low = quotient - (kept << drop);
    const mpz_class half = mpz_class(1) << (drop - 1);
    const bool above = low > half || (low == half && rest != 0);
    const bool tie = low == half && rest == 0;
    if (above || (tie && mpz_odd_p(kept.get_mpz_t()))) kept += 1;
    const double magnitude = std::ldexp(kept.get_d(), static_cast<int>(exponent + static_cast<long>(drop)));
    return sign < 0 ? -magnitude : magnitude;
}

}  // namespace

mp_limb_t* Dyadic::make_heap(int n) { return heap_ = new mp_limb_t[static_cast<std::size_t>(n)]; }
void Dyadic::free_heap() noexcept {
    delete[] heap_;
    heap_ = nullptr;
}

mpz_class Dyadic::mantissa() const {
    mpz_class m;
    mpz_import(m.get_mpz_t(), static_cast<std::size_t>(length()), -1, sizeof(mp_limb_t), 0, 0, data());
    return size_ < 0 ? mpz_class(-m) : m;
}

Dyadic operator*(const Dyadic& a, const Dyadic& b) {
    Dyadic out;
    if (a.size_ == 0 || b.size_ == 0) return out;
    const int na = a.length(), nb = b.length();
    int n = na + nb;
    mp_limb_t* r = out.make_room(n);
    if (n == 2) {
        const TwoLimbs p = TwoLimbs{a.data()[0]} * b.data()[0];
        r[0] = static_cast<mp_limb_t>(p);
        r[1] = static_cast<mp_limb_t>(p >> 64);
    } else if (na >= nb) {
        mpn_mul(r, a.data(), na, b.data(), nb);
    } else {
        mpn_mul(r, b.data(), nb, a.data(), na);
    }
    n -= r[n - 1] == 0;
    out.size_ = (a.size_ < 0) == (b.size_ < 0) ? n : -n;
    out.e_ = a.e_ + b.e_;
    return out;
}

Dyadic Dyadic::sum(const Dyadic& a, const Dyadic& b, int sign_of_b) {
    if (b.size_ == 0) return a;
    if (a.size_ == 0) return sign_of_b < 0 ? -b : b;
    // The one with the larger exponent is shifted to the other's.
    const bool a_high = a.e_ >= b.e_;
    const Dyadic &high = a_high ? a : b, &low = a_high ? b : a;
    const bool same = (a.size_ < 0) == ((b.size_ < 0) != (sign_of_b < 0));
    const bool a_negative = a.size_ < 0, b_negative = (b.size_ < 0) != (sign_of_b < 0);
    const bool high_negative = a_high ? a_negative : b_negative, low_negative = a_high ? b_negative : a_negative;
    const long shift = high.e_ - low.e_;
    const int whole = static_cast<int>(shift / 64), bits = static_cast<int>(shift % 64);
    const int n_high = high.length(), n_low = low.length();
    const int room = std::max(whole + n_high + 1, n_low) + 1;
    Dyadic out;
    mp_limb_t* r = out.make_room(room);
    std::fill(r, r + whole, 0);
    if (bits == 0) {
        std::copy(high.data(), high.data() + n_high, r + whole);
        r[whole + n_high] = 0;
    } else {
        r[whole + n_high] = mpn_lshift(r + whole, high.data(), n_high, static_cast<unsigned>(bits));
    }
    int n = whole + n_high + (r[whole + n_high] != 0);
    bool negative = high_negative;
    if (same) {
        if (n < n_low) {
            std::fill(r + n, r + n_low, 0);
            n = n_low;
        }
        const mp_limb_t carry = mpn_add(r, r, n, low.data(), n_low);
        if (carry) r[n++] = carry;
    } else {
        const int order = n != n_low ? (n > n_low ? 1 : -1) : mpn_cmp(r, low.data(), n);
        if (order >= 0) {
            mpn_sub(r, r, n, low.data(), n_low);
        } else {
            mpn_sub(r, low.data(), n_low, r, n);
            n = n_low;
            negative = low_negative;
        }
        while (n > 0 && r[n - 1] == 0) --n;
    }
    out.size_ = negative ? -n : n;
    out.e_ = n == 0 ? 0 : low.e_;
    return out;
}

Dyadic::Top Dyadic::top() const {
    const int n = length();
    const mp_limb_t* m = data();
    const int zeros = __builtin_clzll(m[n - 1]);
    auto limb = [&](int i) { return i >= 0 ? m[i] : mp_limb_t{0}; };
    const mp_limb_t a = limb(n - 1), b = limb(n - 2), c = limb(n - 3);
    if (zeros == 0) return {a, b, e_ + 64L * (n - 2)};
    return {a << zeros | b >> (64 - zeros), b << zeros | c >> (64 - zeros), e_ + 64L * (n - 2) - zeros};
}

Dyadic exact_difference(double a, double b) {
    // Mostly the rounded difference is the exact one; what rounding left out is known exactly (Knuth's two-sum).
    const double d = a - b, back = d - a;
    if (std::isfinite(d) && (a - (d - back)) - (b + back) == 0) return d;
    return Dyadic(a) - Dyadic(b);
}

double nearest_double(const Dyadic& numerator, const Dyadic& denominator) {
    if (numerator.sign() == 0) return 0.0;
    // The quotient of the topmost bits is off by two units of its last place at most: that mostly settles the rounding.
    const Dyadic::Top n = numerator.top(), d = denominator.top();
    const auto quotient = static_cast<std::uint64_t>(((TwoLimbs{n.high} << 64 | n.low) >> 1) / d.high);
    const long exponent = n.exponent + 1 - (d.exponent + 64);
    if (exponent > -1000 && exponent < 900) {
        const int drop = (quotient >> 63 ? 64 : 63) - 53;
        const std::uint64_t half = std::uint64_t{1} << (drop - 1), low = quotient & (2 * half - 1);
        if (low + 3 < half || low > half + 3) {
            const double rounded = static_cast<double>((quotient >> drop) + (low > half));
            const double magnitude = std::ldexp(rounded, static_cast<int>(exponent) + drop);
            return numerator.sign() * denominator.sign() < 0 ? -magnitude : magnitude;
        }
    }
    return nearest_by_division(numerator, denominator);
}

}  // namespace anvil
