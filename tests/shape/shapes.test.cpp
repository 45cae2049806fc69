#include "core/shape/shapes.h"

#include "core/mesh/circle.h"
#include "tests/shape/sound.h"

using namespace anvil;
using namespace anvil::test;

namespace {

constexpr double pi = 3.14159265358979323846;

/// The n-sided polygon in a circle: of its area, what part it fills.
double filled(int n) { return n / (2 * pi) * std::sin(2 * pi / n); }

double area_of_side(const Solid& solid, std::uint32_t side) {
    double area = 0;
    for (const FaceId f : ids<FaceId>(solid.mesh.faces.size()))
        if (solid.side[f] == side)
            area += norm(cross(solid.mesh.corner(f, 1) - solid.mesh.corner(f, 0),
                               solid.mesh.corner(f, 2) - solid.mesh.corner(f, 0))) /
                    2;
    return area;
}

}  // namespace

TEST_CASE("points round a circle: quarters are exact, and octants mirror each other to the bit") {
    for (const int n : {3, 4, 5, 8, 12, 36, 60, 100, 1000}) {
        for (int k = -n; k < 2 * n; ++k) {
            const Point2 p = on_circle(k, n), back = on_circle(-k, n);
            CHECK(std::hypot(p.u - std::cos(2 * pi * k / n), p.v - std::sin(2 * pi * k / n)) < 1e-14);
            CHECK((p.u == back.u && p.v == -back.v));
            if (n % 4 == 0) {
                const Point2 q = on_circle(k + n / 4, n);
                CHECK((q.u == -p.v && q.v == p.u));
            }
        }
        CHECK(on_circle(n, n).u == 1);
    }
}

// Volumes and areas of round solids: closed forms of any handbook; the part that a polygon of n corners fills of its
// circle is n sin(2 pi / n) / (2 pi).
TEST_CASE("cylinder, cone and tube have the volumes of their closed forms, cut into flats") {
    for (const int n : {3, 8, 36, 200}) {
        const Facets facets{.around = n};
        CHECK(signed_volume(sound(cylinder_shape({6, 10, facets})).mesh) == Approx(pi * 9 * 10 * filled(n)));
        CHECK(signed_volume(sound(cone_shape({6, 0, 10, facets})).mesh) == Approx(pi * 9 * 10 / 3 * filled(n)));
        CHECK(signed_volume(sound(cone_shape({0, 6, 10, facets})).mesh) == Approx(pi * 9 * 10 / 3 * filled(n)));
        CHECK(signed_volume(sound(cone_shape({8, 4, 3, facets})).mesh) ==
              Approx(pi * 3 / 3 * (16 + 8 + 4) * filled(n)));
        CHECK(signed_volume(sound(tube_shape({8, 6, 5, facets})).mesh) == Approx(pi * (16 - 9) * 5 * filled(n)));
    }
    const Solid tube = sound(tube_shape({8, 6, 5}));
    const int n = faces_around(4, {});
    CHECK(area_of_side(tube, 0) == Approx(pi * 7 * filled(n)));
    CHECK(area_of_side(tube, 2) == Approx(area_of_side(tube, 0)));
    CHECK(area_of_side(tube, 3) / area_of_side(tube, 1) == Approx(0.75));
}

TEST_CASE("faces leave the round surface by no more than the chord error, and not by far less") {
    for (const double chord : {0.5, 0.02, 0.001}) {
        const int n = faces_around(20, {.chord = chord});
        CHECK(20 * (1 - std::cos(pi / n)) <= chord);
        CHECK((n == 8 || 20 * (1 - std::cos(pi / (n - 4))) > chord));
        const Solid ball = sound(sphere_shape({40, {.chord = chord}}));
        double deepest = 0;
        for (const FaceId f : ids<FaceId>(ball.mesh.faces.size())) {
            const Vec3 &a = ball.mesh.corner(f, 0), &b = ball.mesh.corner(f, 1), &c = ball.mesh.corner(f, 2);
            const Vec3 normal = normalized(cross(b - a, c - a));
            deepest = std::max(deepest, 20 - dot(normal, a - Vec3{0, 0, 20}));
        }
        CHECK(deepest <= chord * 1.02);  // the formula is the first term of a series
        CHECK(deepest >= chord * 0.4);
    }
}

TEST_CASE("sphere and torus converge to their closed forms with the square of the number of faces") {
    double last_ball = 0, last_ring = 0;
    for (const int n : {16, 32, 64, 128}) {
        const double ball = 4.0 / 3 * pi * 1000 - signed_volume(sound(sphere_shape({20, {.around = n}})).mesh);
        const double ring = 2 * pi * pi * 15 * 16 - signed_volume(sound(torus_shape({30, 8, {.around = n}})).mesh);
        CHECK(ball > 0);
        CHECK(ring > 0);
        if (n > 16) {
            CHECK(last_ball / ball == Approx(4).epsilon(0.05));
            CHECK(last_ring / ring == Approx(4).epsilon(0.05));
        }
        last_ball = ball;
        last_ring = ring;
    }
    const Mesh ball = sound(sphere_shape({20})).mesh;
    for (const Vec3& p : ball.points) CHECK(norm(p - Vec3{0, 0, 10}) == Approx(10).epsilon(1e-14));
    CHECK(bounds(ball).low == Vec3{-10, -10, 0});
    CHECK(bounds(ball).high == Vec3{10, 10, 20});
}

// A box with rounded edges is the box within it, grown by a ball: J. Steiner's formula (1840) for its volume.
TEST_CASE("a box with rounded edges has the volume of Steiner's formula, and flat sides just where they should be") {
    const Vec3 size{30, 20, 10};
    CHECK(signed_volume(sound(box_shape({size})).mesh) == 6000);
    for (const double r : {0.5, 2.0, 5.0}) {
        const Solid box = sound(box_shape({size, r, {.chord = 0.0005}}));
        const Vec3 in = size - Vec3{2 * r, 2 * r, 2 * r};
        const double steiner = in.x * in.y * in.z + 2 * r * (in.x * in.y + in.y * in.z + in.z * in.x) +
                               pi * r * r * (in.x + in.y + in.z) + 4.0 / 3 * pi * r * r * r;
        CHECK(signed_volume(box.mesh) == Approx(steiner).epsilon(3e-4));
        CHECK(bounds(box.mesh).low == Vec3{-15, -10, 0});
        CHECK(bounds(box.mesh).high == Vec3{15, 10, 10});
        CHECK(area_of_side(box, 4) == Approx(in.x * in.y));
        CHECK(area_of_side(box, 0) == Approx(in.y * in.z).margin(1e-9));
    }
    CHECK(!box_shape({size, 5.1}));
    sound(box_shape({{10, 10, 30}, 5}));  // a rod with round ends
    sound(box_shape({{10, 10, 10}, 4.999999}));
}

TEST_CASE("prisms over flats fit a spanner; a square one is a box, to the bit") {
    for (const int n : {3, 4, 5, 6, 8, 12, 17, 360}) {
        const Solid flats = sound(prism_shape({n, 10, false, 7}));
        // Area of a regular polygon with an inscribed circle of radius r: n r^2 tan(pi / n).
        CHECK(signed_volume(flats.mesh) == Approx(7 * n * 25 * std::tan(pi / n)));
        CHECK(signed_volume(sound(prism_shape({n, 10, true, 7})).mesh) == Approx(7 * pi * 25 * filled(n)));
        const double low = bounds(flats.mesh).low.y;
        CHECK((n % 2 == 0 ? low == -5 : std::fabs(low + 5) < 1e-12));
        CHECK(area_of_side(flats, 2) == Approx(7 * 10 * std::tan(pi / n)));
    }
    CHECK(corner_sets(prism_shape({4, 10, false, 7})->mesh).size() == 12);
    CHECK(bounds(prism_shape({4, 10, false, 7})->mesh).high == Vec3{5, 5, 7});
    CHECK(signed_volume(prism_shape({4, 10, false, 7})->mesh) == 700);
}

TEST_CASE("stars and wedges have the volumes of their outlines") {
    for (const int n : {2, 5, 12, 180}) {
        const Solid star = sound(star_shape({n, 20, 8, 10}));
        // 2 n triangles from the axis, each R r sin(pi / n) / 2.
        CHECK(signed_volume(star.mesh) == Approx(10 * n * 10 * 4 * std::sin(pi / n)));
    }
    CHECK(signed_volume(sound(wedge_shape({{20, 10, 6}, 0})).mesh) == Approx(600));
    CHECK(signed_volume(sound(wedge_shape({{20, 10, 6}, 5})).mesh) == Approx(750));
    const Solid ramp = sound(wedge_shape({{20, 10, 6}, 20}));
    CHECK(signed_volume(ramp.mesh) == Approx(1200));
    const Solid wedge = sound(wedge_shape({{20, 10, 6}, 5}));
    CHECK(area_of_side(wedge, 0) == Approx(200));
    CHECK(area_of_side(wedge, 1) == Approx(60));
    CHECK(area_of_side(wedge, 2) == Approx(50));
    CHECK(area_of_side(wedge, 3) == Approx(10 * std::hypot(15, 6)));
    CHECK(area_of_side(wedge, 4) == Approx(75));
}

TEST_CASE("measures that give no solid are refused with a sentence") {
    CHECK(cone_shape({0, 0, 5}).error().text.find("both are 0") != std::string::npos);
    CHECK(tube_shape({10, 10, 5}).error().text.find("smaller") != std::string::npos);
    CHECK(torus_shape({8, 8}).error().text.find("thinner") != std::string::npos);
    CHECK(star_shape({5, 8, 8, 1}).error().text.find("smaller") != std::string::npos);
    CHECK(wedge_shape({{5, 5, 5}, 6}).error().text.find("longer") != std::string::npos);
    CHECK(sphere_shape({1e6, {.chord = 0.001}}).error().text.find("million faces") != std::string::npos);
}
