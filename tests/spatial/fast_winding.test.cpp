#include "core/spatial/fast_winding.h"

#include "core/io/mesh_file.h"
#include "core/spatial/solid_angle.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("winding numbers by groups are those by single faces to within 0.05, near and far, closed and open") {
    std::mt19937 random(7);
    Mesh open = make_icosphere({1, 2, 3}, 5, 4);
    open.faces.raw().resize(open.faces.size() * 2 / 3);
    Mesh twice = make_torus(8, 3, 60, 30);
    append(twice, make_icosphere({8, 0, 0}, 4, 3));
    double worst = 0;
    for (const Mesh& mesh : {make_box({0, 0, 0}, {1, 2, 3}), open, twice}) {
        const FastWinding winding(mesh);
        const Box box = bounds(mesh);
        std::uniform_real_distribution<double> share(-0.2, 1.2);
        for (int k = 0; k < 400; ++k) {
            const Vec3 size = box.size();
            const Vec3 p = box.low + Vec3{share(random) * size.x, share(random) * size.y, share(random) * size.z};
            worst = std::max(worst, std::fabs(winding.at(p) - winding_number(mesh, p)));
        }
    }
    CHECK(worst < 0.05);
    CHECK(worst > 0);  // groups were used
    CHECK(FastWinding(Mesh{}).at({0, 0, 0}) == 0);
}

TEST_CASE("directions covered by many triangles are those covered by each, however often they go round") {
    const std::uint32_t seed = seed_of_run();
    CAPTURE(seed);
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> at(-1, 1);
    auto pick = [&] { return Vec3{at(random), at(random), at(random)}; };
    for (int k = 0; k < 200; ++k) {
        // Those round the point three times, either way round, and others by chance, near it and far.
        const double size = std::pow(10.0, 3 * at(random));
        const Mesh round = make_icosphere({0, 0, 0}, size, k % 3);
        const bool inward = random() % 2 == 0;
        const Vec3 p = pick() * (size / 3);
        CoveredDirections all(p);
        double each = 0, turns = 0;
        auto add = [&](const Vec3& a, const Vec3& b, const Vec3& c) {
            all.add(a, b, c);
            each += covered_directions(p, a, b, c);
        };
        for (int times = 0; times < 3; ++times, turns += inward ? -1 : 1)
            for (const FaceId f : ids<FaceId>(round.faces.size())) {
                const Vec3 &a = round.corner(f, 0), &b = round.corner(f, 1), &c = round.corner(f, 2);
                inward ? add(a, c, b) : add(a, b, c);
            }
        CHECK(all.sum() == Approx(turns));
        for (int i = 0; i < 100; ++i) add(pick() * size, pick() * size, pick() * size);
        CHECK(all.sum() == Approx(each).margin(1e-9));
    }
}
