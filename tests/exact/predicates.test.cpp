// The laws that core/exact/predicates.h states, and which stage decides what.
#include "core/exact/predicates.h"

#include <thread>

#include "core/exact/implicit_point.h"
#include "core/exact/stages.h"
#include "tests/support/support.h"

using namespace anvil;

namespace {

Vec3 random_point(std::mt19937_64& random, double size = 1) {
    std::uniform_real_distribution<double> u(-size, size);
    return {u(random), u(random), u(random)};
}

/// Four points of one plane with rounded coordinates, or very nearly of one: near enough that the filter must pass.
struct Quad {
    Vec3 a, b, c, d;
};
Quad nearly_coplanar(std::mt19937_64& random) {
    Quad q{random_point(random), random_point(random), random_point(random), {}};
    std::uniform_real_distribution<double> u(-2, 2);
    const double s = u(random), t = u(random);
    q.d = q.a + (q.b - q.a) * s + (q.c - q.a) * t;
    return q;
}

}  // namespace

TEST_CASE("orient3d has the stated sign") {
    const Vec3 a{0, 0, 0}, b{1, 0, 0}, c{0, 1, 0};
    CHECK(orient3d(a, b, c, {0, 0, -1}) == 1);
    CHECK(orient3d(a, b, c, {0, 0, 1}) == -1);
    CHECK(orient3d(a, b, c, {5, 7, 0}) == 0);
    CHECK(plane_side(a, b, c, Vec3{0.2, 0.2, 1e-300}) == 1);
}

TEST_CASE("orient3d: swapping two points negates, turning three keeps, turning four negates") {
    for (std::uint64_t seed = 0; seed < 2000; ++seed) {
        std::mt19937_64 random(seed);
        const Quad q =
            seed % 2 ? nearly_coplanar(random)
                     : Quad{random_point(random), random_point(random), random_point(random), random_point(random)};
        const auto& [a, b, c, d] = q;
        INFO("seed " << seed);
        const int s = orient3d(a, b, c, d);
        CHECK(orient3d(b, a, c, d) == -s);
        CHECK(orient3d(a, b, d, c) == -s);
        CHECK(orient3d(b, c, a, d) == s);
        CHECK(orient3d(b, c, d, a) == -s);
    }
}

TEST_CASE("orient2d: swapping negates, turning keeps, and it is the component of the cross product") {
    for (std::uint64_t seed = 0; seed < 1000; ++seed) {
        std::mt19937_64 random(seed);
        const Vec3 a = random_point(random), b = random_point(random), c = random_point(random);
        for (int axis = 0; axis < 3; ++axis) {
            const int s = orient2d(a, b, c, axis);
            CHECK(orient2d(b, a, c, axis) == -s);
            CHECK(orient2d(b, c, a, axis) == s);
            const double component = cross(b - a, c - a)[axis];
            CHECK(s == (component > 0) - (component < 0));
        }
    }
}

TEST_CASE("every stage agrees with the exact one where it decides") {
    std::size_t by_filter = 0;
    constexpr std::uint64_t count = 4000;
    for (std::uint64_t seed = 0; seed < count; ++seed) {
        std::mt19937_64 random(seed);
        const Quad q =
            seed % 2 ? nearly_coplanar(random)
                     : Quad{random_point(random), random_point(random), random_point(random), random_point(random)};
        const int exact = exact_detail::orient3d_exact(q.a, q.b, q.c, q.d);
        for (const Sign s :
             {exact_detail::orient3d_filter(q.a, q.b, q.c, q.d), exact_detail::orient3d_bounded(q.a, q.b, q.c, q.d)})
            if (s != Sign::unsure) CHECK(static_cast<int>(s) == exact);
        CHECK(static_cast<int>(exact_detail::orient3d_expansion(q.a, q.b, q.c, q.d)) == exact);
        for (int axis = 0; axis < 3; ++axis)
            CHECK(static_cast<int>(exact_detail::orient2d_expansion(q.a, q.b, q.c, axis)) ==
                  exact_detail::orient2d_exact(q.a, q.b, q.c, axis));
        by_filter += seed % 2 == 0 && exact_detail::orient3d_filter(q.a, q.b, q.c, q.d) != Sign::unsure;
    }
    // Points in general position: all but a few by the filter (2000 of 2000 when this was written).
    CHECK(by_filter > count / 2 - 5);
}

TEST_CASE("the expected stage decides") {
    const Vec3 a{0, 0, 0}, b{1, 0, 0}, c{0, 1, 0};
    CHECK(orient3d(a, b, c, {0.3, 0.3, 0.5}) == -1);
    CHECK(last_stage() == Stage::filter);
    CHECK(orient3d(a, b, c, {0.3, 0.3, 0}) == 0);  // axis-parallel: the bounded stage sees exact zeros
    CHECK(last_stage() == Stage::bounded);
    const Vec3 p{0.1, 0.2, 0.3}, q{0.4, 0.5, 0.7}, r{0.3, 0.9, 0.1};
    const Vec3 on = p + (q - p) * 0.5 + (r - p) * 0.25;
    (void)orient3d(p, q, r, on);
    CHECK(last_stage() == Stage::expansion);
    // Where a product's last bit would be lost, integers take over.
    const double tiny = 0x1p-400;
    (void)orient3d(p * tiny, q * tiny, r * tiny, on * tiny);
    CHECK(last_stage() == Stage::exact);
}

TEST_CASE("decisions hold at the ends of the range of doubles") {
    const double tiny = 5e-324, huge = 1e308;
    CHECK(orient3d({0, 0, 0}, {huge, 0, 0}, {0, huge, 0}, {huge / 4, huge / 4, tiny}) == -1);
    CHECK(orient3d({0, 0, 0}, {tiny, 0, 0}, {0, tiny, 0}, {0, 0, tiny}) == -1);
    CHECK(orient3d({-huge, 0, 0}, {huge, 0, 0}, {0, huge, 0}, {0, 0, 0}) == 0);
    CHECK(orient2d(Vec3{0, 0, 0}, Vec3{huge, huge, 0}, Vec3{-huge, -huge, 0}, 2) == 0);
    CHECK(collinear({0, 0, 0}, {tiny, tiny, tiny}, {huge, huge, huge}));
    CHECK(!collinear({0, 0, 0}, {tiny, tiny, tiny}, {huge, huge, std::nextafter(huge, 0)}));
}

TEST_CASE("exact numbers: sums and products of doubles lose nothing") {
    const Dyadic big(1e300), small(1e-300), sum = big + small;
    CHECK((sum - big - small).sign() == 0);
    CHECK((sum - big).sign() == 1);
    CHECK((Dyadic(0.1) * Dyadic(3.0) - Dyadic(0.3)).sign() ==
          1);  // 0.1 is a little more than a tenth, 0.3 a little less
}

TEST_CASE("quotients round to the nearest double, ties to even") {
    CHECK(nearest_double(Dyadic(1.0), Dyadic(3.0)) == 1.0 / 3.0);
    CHECK(nearest_double(Dyadic(-2.0), Dyadic(3.0)) == -2.0 / 3.0);
    CHECK(nearest_double(Dyadic(0.0), Dyadic(3.0)) == 0.0);
    CHECK(nearest_double(Dyadic(1.0) + Dyadic(0x1p-53), Dyadic(1.0)) == 1.0);
    CHECK(nearest_double(Dyadic(1.0) + Dyadic(0x3p-53), Dyadic(1.0)) == 1 + 0x1p-51);
    CHECK(nearest_double(Dyadic(5e-324), Dyadic(2.0)) == 0.0);
    CHECK(nearest_double(Dyadic(5e-324) * Dyadic(3.0), Dyadic(2.0)) == 1e-323);
    std::mt19937_64 random(3);
    std::uniform_real_distribution<double> u(-1e3, 1e3);
    for (int k = 0; k < 3000; ++k) {
        const double n = u(random), d = u(random);
        CHECK(nearest_double(Dyadic(n), Dyadic(d)) == n / d);  // IEEE division rounds to nearest
    }
}

TEST_CASE("constructed points lie on what defines them, exactly") {
    for (std::uint64_t seed = 0; seed < 300; ++seed) {
        std::mt19937_64 random(seed);
        auto p = [&] { return random_point(random, 10); };
        const Vec3 r = p(), s = p(), t = p(), a = p(), b = p();
        const ExactPoint h(line_plane_point(a, b, r, s, t));
        const PointView view{rounded(h.coordinates()), &h};
        CHECK(plane_side(r, s, t, view) == 0);
        for (int axis = 0; axis < 3; ++axis) CHECK(orient2d(PointView{a}, PointView{b}, view, axis) == 0);
        const Vec3 planes[3][3] = {{p(), p(), p()}, {p(), p(), p()}, {p(), p(), p()}};
        const ExactPoint m(three_planes_point(planes[0], planes[1], planes[2]));
        const PointView meet{rounded(m.coordinates()), &m};
        for (const auto& plane : planes) CHECK(plane_side(plane[0], plane[1], plane[2], meet) == 0);
        CHECK(same_point(meet, meet));
        CHECK(!same_point(meet, view));
    }
}

TEST_CASE(
    "a defined point is rounded as its exact coordinates are, at any scale and where planes are nearly parallel") {
    // Ties and results that are doubles come from small whole numbers, failing bounds from nearly parallel ones.
    std::mt19937_64 random(Catch::rngSeed());
    INFO("seed " << Catch::rngSeed());
    std::uniform_real_distribution<double> u(-1, 1);
    std::size_t between = 0, on = 0;
    for (int i = 0; i < 60000; ++i) {
        const bool whole = i % 3 == 0;
        const double scale = std::ldexp(1.0, i % 5 == 0 ? static_cast<int>(random() % 1200) - 600 : 0);
        auto number = [&] { return whole ? static_cast<double>(random() % 9) - 4 : u(random); };
        auto point = [&] { return Vec3{number(), number(), number()} * scale; };
        const Vec3 r = point(), s = point(), t = point();
        Vec3 p = point(), q = point();
        if (i % 4 == 0) {  // a line nearly in the plane
            const double off = std::ldexp(1.0, -static_cast<int>(random() % 60));
            p = r + (s - r) * u(random), q = s + (t - s) * u(random) + point() * off;
        }
        if (orient3d(r, s, t, p) == orient3d(r, s, t, q)) continue;
        ExactPoint defined;
        const Vec3 approx = defined.define_by_line_and_plane(p, q, r, s, t);
        const ExactPoint known(line_plane_point(p, q, r, s, t));
        REQUIRE(approx == rounded(known.coordinates()));
        const bool is_double = same_point({approx, &known}, {approx});
        REQUIRE(is_rounded_point({approx, &defined}) == is_double);
        if (defined.is_surely_rounded()) REQUIRE(!is_double);
        ++(is_double ? on : between);
        const ExactPoint copy(defined);
        REQUIRE(same_point({approx, &copy}, {approx, &known}));

        // Two lines of one plane, the one across the third axis.
        const Vec3 a{p.x, p.y, 0}, b{q.x, q.y, 0}, c{r.x, r.y, 0}, d{s.x, s.y, 0};
        if (orient2d(a, b, c, 2) == orient2d(a, b, d, 2) || orient2d(c, d, a, 2) == orient2d(c, d, b, 2)) continue;
        ExactPoint crossing;
        REQUIRE(crossing.define_by_lines(a, b, c, d, 2) == rounded(line_line_point(a, b, c, d, 2)));
    }
    CHECK(between > 10000);
    CHECK(on > 1000);
}

namespace {
bool is_same(const HomogeneousPoint& a, const HomogeneousPoint& b) {
    auto same = [](const Dyadic& x, const Dyadic& y) {
        return x.mantissa() == y.mantissa() && x.exponent() == y.exponent();
    };
    return same(a.x, b.x) && same(a.y, b.y) && same(a.z, b.z) && same(a.w, b.w);
}
}  // namespace

TEST_CASE("a packed point is the same when it is unpacked, however long its numbers are") {
    std::mt19937_64 random(Catch::rngSeed());
    INFO("seed " << Catch::rngSeed());
    auto number = [&] {
        Dyadic d =
            std::ldexp(std::uniform_real_distribution<double>(-1, 1)(random), static_cast<int>(random() % 2000) - 1000);
        for (auto factors = random() % 40; factors > 0; --factors) d = d * Dyadic(0.1) + Dyadic(1L);
        return random() % 8 == 0 ? Dyadic() : d;
    };
    std::size_t longest = 0;
    std::vector<HomogeneousPoint> given;
    std::vector<PackedPoint*> kept;
    for (int i = 0; i < 500; ++i) {
        const HomogeneousPoint p{number(), number(), number(), number()};
        longest = std::max(longest, p.x.limbs().size());
        kept.push_back(packed(p));
        PackedPoint* copy = copy_of(kept.back());
        REQUIRE(is_same(unpacked(kept.back()), p));
        REQUIRE(is_same(unpacked(copy), p));
        release(copy);
        given.push_back(p);
    }
    CHECK(longest > 10);  // so long that a number asks for memory of its own
    // Given back from two threads, and not in the order they were packed in.
    for (std::size_t i = 0; i < kept.size(); ++i) CHECK(is_same(unpacked(kept[i]), given[i]));
    std::thread other([&] {
        for (std::size_t i = 1; i < kept.size(); i += 2) release(kept[i]);
    });
    for (std::size_t i = 0; i < kept.size(); i += 2) release(kept[i]);
    other.join();
}

TEST_CASE("a defined point's coordinates are the same, whichever thread asks for them first") {
    const Vec3 p{0.1, 0.2, -1}, q{0.3, 0.1, 1}, r{0, 0, 0.1}, s{1, 0, 0.2}, t{0, 1, 0.3};
    for (int round = 0; round < 50; ++round) {
        ExactPoint point;
        const Vec3 approx = point.define_by_line_and_plane(p, q, r, s, t);
        std::array<HomogeneousPoint, 4> seen;
        std::vector<std::thread> threads;
        for (auto& mine : seen) threads.emplace_back([&] { mine = point.coordinates(); });
        for (auto& thread : threads) thread.join();
        for (const HomogeneousPoint& mine : seen) {
            CHECK(is_same(mine, line_plane_point(p, q, r, s, t)));
            CHECK(rounded(mine) == approx);
        }
    }
}

TEST_CASE("implicit orient2d equals the explicit one on points that are doubles") {
    for (std::uint64_t seed = 0; seed < 300; ++seed) {
        std::mt19937_64 random(seed);
        std::uniform_int_distribution<int> grid(-3, 3);
        auto p = [&] { return Vec3{double(grid(random)), double(grid(random)), double(grid(random))}; };
        const Vec3 a = p(), b = p(), c = p();
        const ExactPoint ha(homogeneous(a)), hb(homogeneous(b)), hc(homogeneous(c));
        for (int axis = 0; axis < 3; ++axis) {
            CHECK(orient2d(PointView{a, &ha}, PointView{b, &hb}, PointView{c, &hc}, axis) == orient2d(a, b, c, axis));
            CHECK(compare(PointView{a, &ha}, PointView{b}, axis) == (a[axis] > b[axis]) - (a[axis] < b[axis]));
        }
    }
}

TEST_CASE("implicit orient2d gives the exact sign where its points lie near one line, at any scale") {
    std::mt19937_64 random(Catch::rngSeed());
    INFO("seed " << Catch::rngSeed());
    auto exact_sign = [](const HomogeneousPoint& a, const HomogeneousPoint& b, const HomogeneousPoint& c, int axis) {
        const Projection k(axis);
        return ((a[k.u] * c.w - c[k.u] * a.w) * (b[k.v] * c.w - c[k.v] * b.w) -
                (a[k.v] * c.w - c[k.v] * a.w) * (b[k.u] * c.w - c[k.u] * b.w))
                   .sign() *
               (a.w * b.w).sign();
    };
    std::size_t by_filter = 0, later = 0;
    for (int i = 0; i < 6000; ++i) {
        const double scale = std::ldexp(1.0, i % 3 == 0 ? static_cast<int>(random() % 800) - 400 : 0);
        const double off = std::ldexp(1.0, -static_cast<int>(random() % 56));
        // Points of one line, two of them moved off it a little, each as a third of three times itself.
        auto third = [](const Vec3& p, const Vec3& q) {
            const HomogeneousPoint a = homogeneous(p), b = homogeneous(q);
            return ExactPoint(centroid(a, a, b));
        };
        const Vec3 p = random_point(random, 10), way = random_point(random, 10), step = random_point(random, 10);
        auto on = [&](double t) { return (p + way * t) * scale; };
        const ExactPoint a = third(on(0), on(1)), b = third(on(2), on(3.7)),
                         c = third(on(0.4), on(9.1) + step * (off * scale));
        const PointView va{rounded(a.coordinates()), &a}, vb{rounded(b.coordinates()), &b},
            vc{rounded(c.coordinates()), &c};
        for (int axis = 0; axis < 3; ++axis) {
            REQUIRE(orient2d(va, vb, vc, axis) == exact_sign(a.coordinates(), b.coordinates(), c.coordinates(), axis));
            ++(last_stage() == Stage::filter ? by_filter : later);
        }
    }
    CHECK(by_filter > 5000);
    CHECK(later > 300);
}

TEST_CASE("sums of doubles are exact at both ends of the range in which they are used") {
    // Four points in one plane, moved off it by one bit, at the smallest and the largest scale that fits.
    for (const double scale : {0x1p-305, 1e-60, 1.0, 1e60, 0x1p298}) {
        for (std::uint64_t seed = 0; seed < 300; ++seed) {
            std::mt19937_64 random(seed);
            std::uniform_real_distribution<double> u(0.5, 1);
            auto p = [&] { return Vec3{u(random), u(random), u(random)} * scale; };
            const Vec3 a = p(), b = p(), c = p();
            Vec3 d = (a + b + c) * (1 / 3.0);
            d.z = std::nextafter(d.z, seed % 2 ? 1e308 : 0.0);
            const Sign s = exact_detail::orient3d_expansion(a, b, c, d);
            REQUIRE(s != Sign::unsure);
            CHECK(static_cast<int>(s) == exact_detail::orient3d_exact(a, b, c, d));
        }
    }
    CHECK(exact_detail::orient3d_expansion({0x1p301, 0, 0}, {0, 1, 0}, {0, 0, 1}, {1, 1, 1}) == Sign::unsure);
    CHECK(exact_detail::orient3d_expansion({0x1p-307, 0, 0}, {0, 1, 0}, {0, 0, 1}, {1, 1, 1}) == Sign::unsure);
}

TEST_CASE("heights of planes over a point: as with the point moved a little, swapping negates, 0 only for one plane") {
    // Small whole numbers: heights at a point that is moved by 2^-12 along u and by 2^-24 along v are exact in doubles
    // up to the last comparison, and far enough from ties.
    std::mt19937 random(7);
    auto whole = [&] { return static_cast<double>(random() % 5); };
    std::size_t ties = 0;
    for (int i = 0; i < 20000; ++i) {
        const int axis = static_cast<int>(random() % 3);
        const Projection k(axis);
        Vec3 a[3], b[3], at;
        for (Vec3* p : {&a[0], &a[1], &a[2], &b[0], &b[1], &b[2], &at}) *p = {whole(), whole(), whole()};
        if (i % 3 == 0) b[0] = a[0], at = a[0];  // both planes pass through the point
        if (i % 30 == 0) b[1] = a[2], b[2] = a[1];
        if (orient2d(a[0], a[1], a[2], axis) == 0 || orient2d(b[0], b[1], b[2], axis) == 0) continue;
        const int sign = compare_heights(PointView{at}, a, b, axis);
        CHECK(compare_heights(PointView{at}, b, a, axis) == -sign);
        auto height = [&](const Vec3(&t)[3], long double du, long double dv) {
            const Vec3 n = cross(t[1] - t[0], t[2] - t[0]);
            return t[0][axis] + (n[k.u] * (t[0][k.u] - (at[k.u] + du)) + n[k.v] * (t[0][k.v] - (at[k.v] + dv))) /
                                    static_cast<long double>(n[axis]);
        };
        const long double difference = height(a, 0x1p-12L, 0x1p-24L) - height(b, 0x1p-12L, 0x1p-24L);
        const bool one_plane = plane_side(a[0], a[1], a[2], b[0]) == 0 && plane_side(a[0], a[1], a[2], b[1]) == 0 &&
                               plane_side(a[0], a[1], a[2], b[2]) == 0;
        CHECK((sign == 0) == one_plane);
        if (!one_plane) CHECK(sign == (difference > 0 ? 1 : -1));
        ties += height(a, 0, 0) == height(b, 0, 0) && !one_plane;
    }
    CHECK(ties > 500);  // the steps of the point did decide
    // Near planes are told by the bounded stage, equal heights by the exact one.
    const Vec3 low[3] = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}}, high[3] = {{0, 0, 1}, {1, 0, 1}, {0, 1, 1}},
               tilted[3] = {{0, 0, 0}, {1, 0, 1}, {0, 1, 0}};
    CHECK(compare_heights(PointView{{0.3, 0.3, 0}}, high, low, 2) == 1);
    CHECK(last_stage() == Stage::bounded);
    CHECK(compare_heights(PointView{{0, 0.5, 0}}, tilted, low, 2) == 1);
    CHECK(last_stage() == Stage::exact);
}

TEST_CASE("orient2d of a moved point: as orient2d where that decides, never 0 for two points apart, swapping negates") {
    std::mt19937 random(11);
    auto whole = [&] { return static_cast<double>(random() % 4); };
    for (int i = 0; i < 5000; ++i) {
        const int axis = static_cast<int>(random() % 3);
        const Projection k(axis);
        const Vec3 a{whole(), whole(), whole()}, b{whole(), whole(), whole()}, c{whole(), whole(), whole()};
        const int sign = orient2d_moved(PointView{a}, PointView{b}, PointView{c}, axis);
        CHECK(orient2d_moved(PointView{b}, PointView{a}, PointView{c}, axis) == -sign);
        const bool same = a[k.u] == b[k.u] && a[k.v] == b[k.v];
        CHECK((sign == 0) == same);
        Vec3 moved = c;
        moved[k.u] += 0x1p-12;
        moved[k.v] += 0x1p-24;
        CHECK(sign == orient2d(a, b, moved, axis));
    }
}
