// How thick closed shells are: twice the volume over the area, which for a plate is all but its thickness.
#include "core/combine/flakes.h"

#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Twice the volume over the area of a plate of 20 x 30 mm.
double of_plate(double t) { return 2 * 600 * t / (2 * 600 + 2 * 50 * t); }

}  // namespace

TEST_CASE("thickness of shells: plates of any thickness, near and far from the origin") {
    Progress progress;
    for (const double far : {0.0, 1000.0})
        for (const int exponent : {0, -10, -20, -30, -38, -44}) {
            const double t = std::ldexp(1.0, exponent);  // so that both sides lie where they should
            if (far > 0 && exponent < -40) continue;
            const double z = far > 0 ? 1024 : 1;
            const Mesh plate = make_box({far, far, z}, {far + 20, far + 30, z + t});
            const RoundedFaces faces = unmoved(plate, std::vector<FaceSource>(plate.faces.size()));
            const double digit = last_digit(reach_of(faces.points), Precision::double_precision);
            auto shell = [](std::size_t) { return std::size_t{0}; };
            auto times = [](std::size_t) { return 1; };
            const auto thickness = thickness_of_shells(faces, 1, shell, times, digit, progress);
            INFO("2^" << exponent << " mm, " << far << " mm off");
            CHECK(thickness[0].is_thin(digit) == (of_plate(t) <= 8 * digit));
            CHECK(thickness[0].area() == Approx(1200 + 100 * t));
            CHECK(thickness[0].thickness() <= of_plate(t) * (1 + 1e-12));
            // A bound is enough for what is plainly thick.
            CHECK(thickness[0].thickness() >= of_plate(t) * (t > 1e-6 ? 1 - 1e-6 : 0.4));
        }
}

TEST_CASE("thickness of shells: a thin one beside a thick one, and beyond the range of products") {
    Progress progress;
    for (const double scale : {1.0, 0x1p500, 0x1p-500, 0x1p-1030}) {
        Mesh both = make_box({0, 0, 0}, {8, 8, 8});
        append(both, make_box({16, 0, 1}, {24, 8, std::nextafter(1.0, 2.0)}));
        for (Vec3& p : both.points) p = p * scale;
        const RoundedFaces faces = unmoved(both, std::vector<FaceSource>(both.faces.size()));
        const double digit = last_digit(reach_of(faces.points), Precision::double_precision);
        auto shell = [&](std::size_t f) { return f < both.faces.size() / 2 ? std::size_t{0} : std::size_t{1}; };
        const auto thickness = thickness_of_shells(
            faces, 2, shell, [](std::size_t) { return 1; }, digit, progress);
        INFO("scaled by " << scale);
        CHECK(thickness[0].thickness() == Approx(8.0 / 3 * scale));  // 2 s^3 / 6 s^2
        CHECK_FALSE(thickness[0].is_thin(digit));
        CHECK(thickness[1].is_thin(digit));
    }
}
