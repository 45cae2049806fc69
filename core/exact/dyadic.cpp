#include "core/exact/dyadic.h"

#include <cstdlib>
#include <new>

namespace anvil {
namespace {

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

}  // namespace

double nearest_double(const Dyadic& numerator, const Dyadic& denominator) {
    const int sign = numerator.sign() * denominator.sign();
    if (sign == 0) return 0.0;
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

}  // namespace anvil
