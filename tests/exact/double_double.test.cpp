// The bounds that core/exact/double_double.h states, against exact numbers.
#include "core/exact/double_double.h"

#include "core/exact/dyadic.h"
#include "tests/support/support.h"

using namespace anvil;

namespace {

Dyadic exact(const DoubleDouble& a) { return Dyadic(a.high) + Dyadic(a.low); }
Dyadic size(const Dyadic& a) { return a.sign() < 0 ? -a : a; }

/// A number with its true value beside it.
struct Pair {
    DoubleDouble number;
    Dyadic value;

    bool holds() const {
        const bool normal = number.high + number.low == number.high;
        return normal && (size(exact(number) - value) - Dyadic(number.error)).sign() <= 0;
    }
};

}  // namespace

TEST_CASE("double-doubles: sums, differences and products of several keep within their bound, quotients too") {
    std::mt19937_64 random(Catch::rngSeed());
    INFO("seed " << Catch::rngSeed());
    std::uniform_real_distribution<double> u(-1, 1);
    auto number = [&] {
        // Differences of neighbours, of numbers far apart in size, and of whole ones.
        const double a = std::ldexp(u(random), static_cast<int>(random() % 80) - 40);
        const double b = random() % 3 ? std::ldexp(u(random), static_cast<int>(random() % 80) - 40)
                                      : a * (1 + 0x1p-50 * static_cast<double>(random() % 16));
        return Pair{exact_pair(a, b), Dyadic(a) - Dyadic(b)};
    };
    std::size_t bounded = 0, divided = 0;
    for (int i = 0; i < 20000; ++i) {
        Pair a = number();
        for (int k = 0; k < 6; ++k) {
            const Pair b = number();
            const auto way = random() % 3;
            a = way == 0   ? Pair{a.number + b.number, a.value + b.value}
                : way == 1 ? Pair{a.number - b.number, a.value - b.value}
                           : Pair{a.number * b.number, a.value * b.value};
            REQUIRE(a.holds());
        }
        bounded += a.number.error < 0x1p-90 * std::fabs(a.number.high);
        Pair b = number();
        if (random() % 2) b = {b.number * a.number, b.value * a.value};
        const DoubleDouble q = a.number / b.number;
        if (!std::isfinite(q.error)) continue;
        ++divided;
        // |q - a / b| <= error, times |b|
        REQUIRE((size(exact(q) * b.value - a.value) - Dyadic(q.error) * size(b.value)).sign() <= 0);
    }
    CHECK(bounded > 10000);  // the bounds say something
    CHECK(divided > 15000);
}

TEST_CASE("double-doubles: a quotient by what may be 0, and what overflows, is not told") {
    const DoubleDouble one{1, 0, 0};
    CHECK(!std::isfinite((one / DoubleDouble{0, 0, 0}).error));
    CHECK(!std::isfinite((one / DoubleDouble{0x1p-60, 0, 0x1p-59}).error));
    const DoubleDouble large = exact_pair(1e200, 1);
    CHECK(!nearest_double(large * large));
    CHECK(!nearest_double(exact_pair(1.5e308, -1.5e308)));
}

TEST_CASE("double-doubles: the nearest double is told where no other one can be nearest") {
    auto told = [](double high, double low, double error) { return nearest_double({high, low, error}).has_value(); };
    CHECK(nearest_double({1.5, 0x1p-54, 0}) == 1.5);
    CHECK(told(1.5, 0x1p-54, 0x1p-55));
    CHECK(!told(1.5, 0x1p-54, 0x1p-54));  // may be a tie
    CHECK(!told(1.5, -0x1p-53, 0));       // a tie
    CHECK(told(1, 0x1p-55, 0));
    CHECK(told(1, -0x1p-55, 0));
    CHECK(!told(1, -0x1p-54, 0));  // below a power of two doubles lie closer: a tie
    CHECK(nearest_double({0, 0, 0}) == 0.0);
    CHECK(!told(0, 0, 0x1p-1000));
    CHECK(!told(0x1p-1020, 0, 0x1p-1060));
    CHECK(surely_between_doubles({1, 0x1p-60, 0x1p-61}));
    CHECK(!surely_between_doubles({1, 0x1p-60, 0x1p-60}));
    CHECK(!std::signbit(*nearest_double({-0.0, 0, 0})));
}
