#include <numbers>

#include "core/shape/shapes.h"
#include "tests/shape/sound.h"

using namespace anvil;
using namespace anvil::test;

// Basic dimensions of ISO 724 for coarse threads, in mm, as its table has them rounded (from memory).
TEST_CASE("threads have the pitch and minor diameters of ISO 724") {
    const struct {
        double diameter, pitch, pitch_diameter, minor;
    } table[] = {{3, 0.5, 2.675, 2.459},     {4, 0.7, 3.545, 3.242},    {5, 0.8, 4.480, 4.134},
                 {6, 1, 5.350, 4.917},       {8, 1.25, 7.188, 6.647},   {10, 1.5, 9.026, 8.376},
                 {12, 1.75, 10.863, 10.106}, {16, 2, 14.701, 13.835},   {20, 2.5, 18.376, 17.294},
                 {24, 3, 22.051, 20.752},    {30, 3.5, 27.727, 26.211}, {36, 4, 33.402, 31.670},
                 {64, 6, 60.103, 57.505}};
    for (const auto& row : table) {
        const ThreadDiameters d = basic_diameters(row.diameter, row.pitch);
        CHECK(std::fabs(d.pitch - row.pitch_diameter) <= 0.0006);
        CHECK(std::fabs(d.minor - row.minor) <= 0.0006);
        // And the surface has them: points lie on the two radii or between them.
        const auto made = thread_shape({.diameter = row.diameter,
                                        .pitch = row.pitch,
                                        .length = 5 * row.pitch,
                                        .clearance = 0,
                                        .chamfered = false});
        REQUIRE(made);
        double least = 1e9, most = 0;
        for (const Vec3& p : made->mesh.points) {
            const double r = std::hypot(p.x, p.y);
            if (r == 0) continue;
            least = std::min(least, r);
            most = std::max(most, r);
        }
        CHECK(2 * most == Approx(row.diameter));
        CHECK(std::fabs(2 * least - row.minor) <= 0.0006);
    }
}

TEST_CASE("threads are sound: all sizes, both hands, bolts, nuts and their cutters, with and without chamfers") {
    for (const auto& [diameter, pitch] : {std::pair{1.0, 0.25}, {3.0, 0.5}, {10.0, 1.5}, {64.0, 6.0}, {20.0, 1.0}})
        for (int variant = 0; variant < 16; ++variant) {
            const ThreadMeasures m{.diameter = diameter,
                                   .pitch = pitch,
                                   .length = 4.3 * pitch,
                                   .clearance = 0.05 * pitch,
                                   .internal = (variant & 1) != 0,
                                   .left = (variant & 2) != 0,
                                   .cutter = (variant & 4) != 0,
                                   .around = 1.6 * diameter,
                                   .chamfered = (variant & 8) != 0};
            sound(thread_shape(m), "M" + std::to_string(diameter) + ", variant " + std::to_string(variant));
        }
}

TEST_CASE("threads are sound with few faces, odd numbers of them, and flats used up by the clearance") {
    for (const int around : {3, 7, 8, 13, 50})
        for (const double clearance : {0.0, 0.15, 0.3})
            for (const double length : {2.5, 3.0, 7.123})
                for (const bool internal : {false, true})
                    sound(thread_shape({.diameter = 10,
                                        .pitch = 1.5,
                                        .length = length,
                                        .clearance = clearance,
                                        .internal = internal,
                                        .cutter = internal,
                                        .facets = {.around = around}}),
                          std::to_string(around) + " around, clearance " + std::to_string(clearance) + ", length " +
                              std::to_string(length) + (internal ? ", internal" : ""));
}

// A turn of the basic profile holds, between its radii, what the profile encloses turned round: by Pappus' second
// theorem, pitch by pitch (the helix only shears it along the axis).
TEST_CASE("a thread has the volume of its profile turned round, and bolt and nut leave a gap") {
    const double d = 10, p = 1.5;
    const ThreadDiameters basic = basic_diameters(d, p);
    const double a = basic.minor / 2, b = d / 2, depth = b - a, flank = p * 5 / 16;
    auto squares = [](double lo, double hi) { return (lo * lo + lo * hi + hi * hi) / 3; };  // mean of r^2 on a flank
    const double pi = std::numbers::pi;
    const double per_turn = pi * (b * b * p / 8 + a * a * p / 4 + 2 * flank * squares(a, b));
    const ThreadMeasures rod{
        .diameter = d, .pitch = p, .length = 8 * p, .clearance = 0, .chamfered = false, .facets = {.around = 720}};
    CHECK(signed_volume(thread_shape(rod)->mesh) == Approx(8 * per_turn).epsilon(1e-4));
    CHECK(depth == Approx(0.5413 * p).epsilon(1e-3));  // 5/8 of the height of the sharp triangle

    ThreadMeasures bolt = rod, nut = rod;
    bolt.facets = nut.facets = {.around = 48};
    bolt.clearance = nut.clearance = 0.1;
    nut.internal = true;
    const Mesh bolt_mesh = thread_shape(bolt)->mesh, nut_mesh = thread_shape(nut)->mesh;
    CHECK(combined(Operation::intersection, {bolt_mesh, nut_mesh}).empty);
    nut.cutter = true;
    CHECK(signed_volume(
              combined(Operation::difference, {make_frustum(8, 8, 0, 8 * p, 48), thread_shape(nut)->mesh}).mesh) ==
          Approx(signed_volume(nut_mesh)).epsilon(1e-3));
}

TEST_CASE("threads that cannot be are refused with a sentence") {
    CHECK(thread_shape({.diameter = 3, .pitch = 3}).error().text.find("core") != std::string::npos);
    CHECK(thread_shape({.clearance = 1}).error().text.find("clearance") != std::string::npos);
    CHECK(thread_shape({.length = 1}).error().text.find("chamfers") != std::string::npos);
    CHECK(thread_shape({.internal = true, .around = 9}).error().text.find("sleeve") != std::string::npos);
    CHECK(thread_shape({.diameter = 100, .pitch = 0.01, .length = 1e5, .clearance = 0}).error().text.find("million") !=
          std::string::npos);
}
