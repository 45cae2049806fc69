// Faces round a point that are told to be sound meet in what they share only, whichever way they are told.
#include "core/arrange/stars.h"

#include <numbers>
#include <random>

#include "core/spatial/triangle_contact.h"
#include "tests/support/support.h"

using namespace anvil;

namespace {

/// Faces from the first point to each of the others and the next; a ring, or with its last face left out an open fan.
struct Fan {
    std::vector<Vec3> points{{}};
    std::vector<Triangle> faces;

    Fan(std::span<const Vec3> rays, bool ring) {
        points.insert(points.end(), rays.begin(), rays.end());
        for (std::uint32_t i = 0; i < rays.size(); ++i)
            if (ring || i + 1 < rays.size())
                faces.push_back({VertexId(0), VertexId(i + 1), VertexId(i + 1 < rays.size() ? i + 2 : 1)});
    }
    bool is_told_sound(Fans fans) const {
        return find_sound_stars(points, faces, find_half_edges(faces, points.size()), fans)[0] != 0;
    }
    bool is_sound() const {
        for (std::size_t f = 0; f < faces.size(); ++f)
            for (std::size_t g = 0; g < f; ++g)
                if (triangle_contact(corner_points(points, faces[f]), corner_points(points, faces[g])).beyond_shared())
                    return false;
        return true;
    }
};

/// A ring on a hill, a saddle or a fold, any rays, or a fold so flat that only exact decisions tell its sides apart.
std::vector<Vec3> rays(std::mt19937& random, int form) {
    std::uniform_real_distribution<double> unit(-1, 1);
    std::uniform_int_distribution<int> number(3, 9);
    const int count = number(random);
    const double height = std::pow(10, form == 4 ? -14 - 2 * unit(random) : -6 * std::fabs(unit(random)));
    std::vector<Vec3> out;
    for (int i = 0; i < count; ++i) {
        const double angle = 2 * std::numbers::pi * (i + 0.4 * unit(random)) / count;
        const double x = std::cos(angle), y = std::sin(angle), far = 1.5 + unit(random);
        const Vec3 ray = form == 0   ? Vec3{x, y, height}
                         : form == 1 ? Vec3{x, y, height * std::cos(2 * angle)}
                         : form != 3 ? Vec3{x, std::fabs(y), height * y}  // both halves on one side, a hair apart
                                     : Vec3{unit(random), unit(random), unit(random)};
        out.push_back(ray * far);
    }
    return out;
}

}  // namespace

TEST_CASE("faces round a point that are told sound are sound, and nearly all that are sound are told so") {
    std::mt19937 random(99);
    for (int form = 0; form < 5; ++form) {
        int sound = 0, told = 0;
        for (int run = 0; run < 3000; ++run) {
            const Fan ring(rays(random, form), true), open(rays(random, form), false);
            for (const Fan* fan : {&ring, &open}) {
                const bool is_told = fan->is_told_sound(Fans::open_too), is = fan->is_sound();
                REQUIRE((is || !is_told));
                sound += is;
                told += is_told;
            }
        }
        CAPTURE(form, sound, told);
        CHECK(sound > 500);
        CHECK(told > (form == 4 ? 0.5 : 0.99) * sound);  // of the last, those with few such pairs
    }
}

TEST_CASE("an open fan counts as sound only where it is asked for") {
    const Vec3 three[] = {{1, 0, 0}, {0, 1, 0}, {-1, 0, 0.5}};
    CHECK(Fan(three, false).is_told_sound(Fans::open_too));
    CHECK_FALSE(Fan(three, false).is_told_sound(Fans::closed));
    CHECK(Fan(three, true).is_told_sound(Fans::closed));
}

TEST_CASE("two fans at one point, and a fan that comes round twice, are not told sound") {
    std::vector<Vec3> twice;
    for (int i = 0; i < 10; ++i) {
        const double angle = 4 * std::numbers::pi * (i + 0.25) / 10;
        twice.emplace_back(std::cos(angle), std::sin(angle), 0.1 * std::sin(3 * angle));
    }
    CHECK_FALSE(Fan(twice, true).is_told_sound(Fans::open_too));
    CHECK_FALSE(Fan(twice, false).is_told_sound(Fans::open_too));
    Fan pinched(std::vector<Vec3>{{1, 0, 0}, {0, 1, 0}, {-1, 0, 0}, {0, -1, 0}}, true);
    const auto base = static_cast<std::uint32_t>(pinched.points.size());
    for (const Vec3& ray : {Vec3{1, 0, 1}, Vec3{0, 1, 1}, Vec3{-1, -1, 1}}) pinched.points.push_back(ray);
    for (std::uint32_t i = 0; i < 3; ++i)
        pinched.faces.push_back({VertexId(0), VertexId(base + i), VertexId(base + (i + 1) % 3)});
    CHECK_FALSE(pinched.is_told_sound(Fans::open_too));
}
