// Combining checked against formulas. For bodies bounded by planes the volume is exact; for round ones the polygonal
// body must converge to the formula with the square of the facet's size.
#include <numbers>

#include "core/arrange/arrangement.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;
using Catch::Detail::Approx;
using std::numbers::pi;

namespace {

constexpr Operation main_operations[] = {Operation::union_of, Operation::difference, Operation::intersection};

/// How fast errors shrink from one refinement to the next: 4 for second order.
void check_second_order(const std::vector<double>& errors) {
    for (std::size_t i = 1; i < errors.size(); ++i) {
        INFO("error " << errors[i - 1] << " -> " << errors[i]);
        CHECK(errors[i - 1] / errors[i] > 3.3);
        CHECK(errors[i - 1] / errors[i] < 4.8);
    }
}

}  // namespace

TEST_CASE("two overlapping boxes have the volumes of their overlap") {
    const Mesh a = make_box({0, 0, 0}, {4, 4, 4}), b = make_box({2, 2, 2}, {6, 6, 6});
    CHECK(signed_volume(combined(Operation::union_of, {a, b}).mesh) == Approx(64 + 64 - 8));
    CHECK(signed_volume(combined(Operation::intersection, {a, b}).mesh) == Approx(8));
    CHECK(signed_volume(combined(Operation::difference, {a, b}).mesh) == Approx(56));
    CHECK(signed_volume(combined(Operation::difference, {b, a}).mesh) == Approx(56));
}

TEST_CASE("disjoint bodies stay what they are") {
    const Mesh a = make_box({0, 0, 0}, {1, 1, 1}), b = make_box({3, 0, 0}, {4, 1, 1});
    const Combined u = combined(Operation::union_of, {a, b});
    CHECK(signed_volume(u.mesh) == Approx(2));
    CHECK(find_shells(u.mesh).count == 2);
    CHECK(u.mesh.faces.size() == 24);
    const Combined i = combined_touching(Operation::intersection, {a, b});
    CHECK(i.empty);
    CHECK(i.reason == "The operands have no volume in common.");
    CHECK(signed_volume(combined(Operation::difference, {a, b}).mesh) == Approx(1));
}

TEST_CASE("a nested body is swallowed, kept, or leaves a cavity") {
    const Mesh outer = make_box({0, 0, 0}, {10, 10, 10}), inner = make_box({3, 3, 3}, {6, 6, 6});
    CHECK(signed_volume(combined(Operation::union_of, {outer, inner}).mesh) == Approx(1000));
    CHECK(signed_volume(combined(Operation::intersection, {outer, inner}).mesh) == Approx(27));
    const Combined hollow = combined(Operation::difference, {outer, inner});
    CHECK(signed_volume(hollow.mesh) == Approx(973));
    CHECK(find_shells(hollow.mesh).count == 2);
    const Combined nothing = combined_touching(Operation::difference, {inner, outer});
    CHECK(nothing.empty);
    CHECK(nothing.reason == "The base lies wholly inside what is taken away.");
}

TEST_CASE("identical bodies: union and intersection are the body, difference is empty") {
    for (const Mesh& m : {make_box({0, 0, 0}, {1, 2, 3}), make_icosphere({1, 2, 3}, 5, 2), make_torus(5, 2, 24, 12)}) {
        const double v = signed_volume(m);
        CHECK(signed_volume(combined(Operation::union_of, {m, m}).mesh) == Approx(v));
        CHECK(signed_volume(combined(Operation::intersection, {m, m}).mesh) == Approx(v));
        CHECK(combined_touching(Operation::difference, {m, m}).empty);
        CHECK(signed_volume(combined(Operation::union_of, {m, m, m}).mesh) == Approx(v));
    }
}

TEST_CASE("flush faces: stacked, half covered, and inside flush") {
    const Mesh a = make_box({0, 0, 0}, {2, 2, 2});
    SECTION("stacked face to face") {
        const Mesh b = make_box({0, 0, 2}, {2, 2, 5});
        CHECK(signed_volume(combined(Operation::union_of, {a, b}).mesh) == Approx(20));
        CHECK(find_shells(combined(Operation::union_of, {a, b}).mesh).count == 1);
        CHECK(combined_touching(Operation::intersection, {a, b}).empty);
        CHECK(signed_volume(combined(Operation::difference, {a, b}).mesh) == Approx(8));
    }
    SECTION("shifted along the common face") {
        const Mesh b = make_box({0.7, 0.3, 2}, {2.7, 2.3, 4});
        CHECK(signed_volume(combined(Operation::union_of, {a, b}).mesh) == Approx(16));
        CHECK(signed_volume(combined(Operation::difference, {a, b}).mesh) == Approx(8));
    }
    SECTION("flush on the inside: a pocket through two walls") {
        const Mesh b = make_box({0, 0.5, 0.5}, {2, 1.5, 1.5});
        CHECK(signed_volume(combined(Operation::difference, {a, b}).mesh) == Approx(6));
        CHECK(signed_volume(combined(Operation::union_of, {a, b}).mesh) == Approx(8));
        CHECK(signed_volume(combined(Operation::intersection, {a, b}).mesh) == Approx(2));
    }
    SECTION("turned about the common face") {
        const Mesh b = moved(turned(make_box({-1, -1, 0}, {1, 1, 2}), 0.7, {0, 0, 1}), {1, 1, 2});
        CHECK(signed_volume(combined(Operation::union_of, {a, b}).mesh) == Approx(16));
        CHECK(signed_volume(combined(Operation::difference, {a, b}).mesh) == Approx(8));
    }
}

TEST_CASE("bodies that touch in a face's corner, an edge or a point keep their volumes") {
    const Mesh a = make_box({0, 0, 0}, {2, 2, 2});
    for (const Vec3& by : {Vec3{2, 2, 0}, {2, 2, 2}, {2, 1, 2}, {-2, -2, -2}, {2, -2, 1}}) {
        const Mesh b = moved(a, by);
        CHECK(signed_volume(combined_touching(Operation::union_of, {a, b}).mesh) == Approx(16));
        CHECK(combined_touching(Operation::intersection, {a, b}).empty);
        CHECK(signed_volume(combined_touching(Operation::difference, {a, b}).mesh) == Approx(8));
    }
}

TEST_CASE("box with bores: exact polygon areas times the depth, and the genus of the bores") {
    const int sides = 48;
    const double r = 3, depth = 10;
    const Mesh box = make_box({0, 0, 0}, {60, 20, depth});
    // Area of a regular polygon inscribed in a circle: n/2 r^2 sin(2 pi / n). Source: Bronstein et al., "Handbook of
    // Mathematics", planar geometry, regular polygons.
    const double polygon = sides / 2.0 * r * r * std::sin(2 * pi / sides);
    std::vector<Mesh> operands{box};
    for (int k = 0; k < 4; ++k)
        operands.push_back(moved(make_frustum(r, r, -1, depth + 1, sides), {10 + 13.0 * k, 10, 0}));
    const Combined bored = combined(Operation::difference, operands);
    CHECK(signed_volume(bored.mesh) == Approx(60 * 20 * depth - 4 * polygon * depth).epsilon(1e-13));
    // Euler's formula for a closed surface: V - E + F = 2 - 2 genus; each through bore is a handle.
    CHECK(euler_characteristic(bored.mesh) == 2 - 2 * 4);
    // Flush cutters: ends exactly in the box's faces.
    operands.resize(1);
    for (int k = 0; k < 4; ++k) operands.push_back(moved(make_frustum(r, r, 0, depth, sides), {10 + 13.0 * k, 10, 0}));
    const Combined flush = combined(Operation::difference, operands);
    CHECK(signed_volume(flush.mesh) == Approx(60 * 20 * depth - 4 * polygon * depth).epsilon(1e-13));
    CHECK(euler_characteristic(flush.mesh) == 2 - 2 * 4);
}

TEST_CASE("sphere and cap: volumes converge to the formulas") {
    // Sphere 4/3 pi r^3; cap of height h: pi h^2 (3 r - h) / 3. Source: Bronstein et al., "Handbook of Mathematics",
    // solid geometry, sphere and spherical cap.
    const double r = 5, h = 2;
    std::vector<double> sphere_errors, cap_errors;
    for (int level : {2, 3, 4, 5}) {
        const Mesh sphere = turned(make_icosphere({0, 0, 0}, r, level), 0.3, {1, 2, 3});
        const Mesh above = make_box({-9, -9, r - h}, {9, 9, 9});
        sphere_errors.push_back(std::fabs(signed_volume(sphere) - 4.0 / 3 * pi * r * r * r));
        const Combined cap = combined(Operation::intersection, {sphere, above});
        cap_errors.push_back(std::fabs(signed_volume(cap.mesh) - pi * h * h * (3 * r - h) / 3));
        CHECK(euler_characteristic(cap.mesh) == 2);
    }
    check_second_order(sphere_errors);
    check_second_order(cap_errors);
}

TEST_CASE("lens of two spheres converges to the formula") {
    // Intersection of spheres of radii R and r at distance d:
    // pi (R + r - d)^2 (d^2 + 2 d (r + R) - 3 (r - R)^2) / (12 d).
    // Source: E. W. Weisstein, "Sphere-Sphere Intersection", MathWorld, equation 16 (equation number from memory).
    const double R = 5, r = 3, d = 6;
    const double lens = pi * (R + r - d) * (R + r - d) * (d * d + 2 * d * (r + R) - 3 * (r - R) * (r - R)) / (12 * d);
    std::vector<double> errors;
    for (int level : {2, 3, 4, 5}) {
        const Mesh a = turned(make_icosphere({0, 0, 0}, R, level), 0.4, {1, 0, 2});
        const Mesh b = moved(turned(make_icosphere({0, 0, 0}, r, level), 1.1, {0, 3, 1}), {d, 0, 0});
        const Combined result = combined(Operation::intersection, {a, b});
        errors.push_back(std::fabs(signed_volume(result.mesh) - lens));
        CHECK(euler_characteristic(result.mesh) == 2);
    }
    CHECK(errors.back() < errors.front() / 30);
}

TEST_CASE("two crossing cylinders converge to the bicylinder") {
    // Two equal cylinders crossing at right angles: 16 r^3 / 3. Source: Archimedes, The Method; E. W. Weisstein,
    // "Steinmetz Solid", MathWorld.
    const double r = 2;
    std::vector<double> errors;
    for (int sides : {16, 32, 64, 128}) {
        const Mesh a = make_frustum(r, r, -5, 5, sides);
        const Mesh b = transformed(a, rotation(pi / 2, {1, 0, 0}));
        const Mesh exact_b = [&] {  // a quarter turn that keeps the two exactly alike
            Mesh m = a;
            for (Vec3& p : m.points) p = {p.x, -p.z, p.y};
            return m;
        }();
        errors.push_back(
            std::fabs(signed_volume(combined(Operation::intersection, {a, exact_b}).mesh) - 16 * r * r * r / 3));
        CHECK(signed_volume(combined(Operation::intersection, {a, b}).mesh) ==
              Approx(16 * r * r * r / 3).epsilon(0.06));
    }
    check_second_order(errors);
}

TEST_CASE("the ring left by a drilled sphere depends on its height only") {
    // A bore along a diameter leaves pi h^3 / 6, h being the height of the ring, whatever the sphere. Source: E. W.
    // Weisstein, "Spherical Ring", MathWorld; known as the napkin ring problem.
    const double h = 4;
    for (double r : {3.0, 6.0}) {
        const double bore = std::sqrt(r * r - h * h / 4);
        std::vector<double> errors;
        for (int n : {24, 48, 96}) {
            const Mesh sphere = make_sphere({0, 0, 0}, r, n, 2 * n);
            const Mesh drill = turned(make_frustum(bore, bore, -2 * r, 2 * r, 2 * n), 0.01, {0, 0, 1});
            const Combined ring = combined(Operation::difference, {sphere, drill});
            errors.push_back(std::fabs(signed_volume(ring.mesh) - pi * h * h * h / 6));
            CHECK(euler_characteristic(ring.mesh) == 0);
        }
        CHECK(errors.back() < errors.front() / 8);
    }
}

TEST_CASE("inclusion and exclusion hold for bodies in general and in nearly flush position") {
    const Mesh a = make_torus(6, 2.5, 40, 20);
    const Mesh shapes[] = {make_icosphere({5, 1, 0.5}, 3, 3), make_box({-3, -3, -1}, {8, 3, 1}), a};
    for (const Mesh& shape : shapes)
        for (double nudge : {0.0, 1e-3, 1e-6, 1e-9, 1e-12, 1e-15}) {
            INFO("nudge " << nudge);
            const Mesh b = moved(turned(shape, nudge, {1, 1, 1}), {nudge, -nudge, nudge / 2});
            const double va = signed_volume(a), vb = signed_volume(b);
            double v[3], slack = 1e-9;
            for (int k = 0; k < 3; ++k) {
                const Combined result = combined_touching(main_operations[k], {a, b});
                v[k] = signed_volume(result.mesh);
                slack += result.largest_move * surface_area(a);  // what the stated rounding can take or add
            }
            CHECK(slack < 0.02);  // of 300 to 400 mm3
            CHECK(v[0] + v[2] == Approx(va + vb).margin(slack));
            CHECK(v[1] == Approx(va - v[2]).margin(slack));
        }
}

TEST_CASE("a self-crossing solid is what is wound at least once") {
    Mesh crossed = make_box({0, 0, 0}, {4, 4, 4});
    append(crossed, make_box({2, 2, 2}, {6, 6, 6}));
    const Mesh far = make_box({10, 0, 0}, {11, 1, 1});
    CHECK(signed_volume(combined(Operation::union_of, {crossed, far}).mesh) == Approx(64 + 64 - 8 + 1));
}

TEST_CASE("an inside-out operand is turned, and that is said") {
    const Mesh a = make_box({0, 0, 0}, {4, 4, 4});
    Mesh b = make_box({2, 2, 2}, {6, 6, 6});
    turn_over(b);
    const Combined result = combined(Operation::difference, {a, b});
    CHECK(signed_volume(result.mesh) == Approx(56));
    REQUIRE(result.messages.size() == 1);
    CHECK(result.messages[0] == "Operand 2: It was inside out; its faces were turned.");
}

TEST_CASE("an operand without faces is refused with its number, and nothing happens") {
    const Mesh a = make_box({0, 0, 0}, {4, 4, 4}), none;
    const Mesh* operands[] = {&a, &none};
    Progress progress;
    const auto result = combine(Operation::union_of, operands, progress);
    REQUIRE(!result.ok());
    CHECK(result.error().code == ErrorCode::open_operand);
    CHECK(result.error().place == "operand 2");
    CHECK(result.error().operand == 1);
}

TEST_CASE("faces far from any crossing keep their points bit for bit") {
    const Mesh a = make_icosphere({0.1, 0.2, 0.3}, 5, 3), b = make_icosphere({5.3, 0.7, 0.9}, 3, 3);
    const Combined result = combined(Operation::union_of, {a, b});
    std::size_t untouched = 0;
    for (FaceId f : ids<FaceId>(result.mesh.faces.size())) {
        const FaceSource& s = result.source[f.value()];
        const Mesh& from = s.operand == 0 ? a : b;
        bool same = true;
        for (int k = 0; k < 3; ++k) same = same && result.mesh.corner(f, k) == from.corner(s.face, k);
        untouched += same;
        // Provenance: a face lies in the plane of the face that it comes from, to within rounding.
        const Vec3 o = from.corner(s.face, 0);
        const Vec3 n = normalized(cross(from.corner(s.face, 1) - o, from.corner(s.face, 2) - o));
        for (int k = 0; k < 3; ++k) CHECK(std::fabs(dot(n, result.mesh.corner(f, k) - o)) < 1e-13);
    }
    CHECK(untouched > result.mesh.faces.size() / 2);
    CHECK(result.largest_move < 1e-14);
}

TEST_CASE("a job that is stopped says so") {
    const Mesh a = make_icosphere({0, 0, 0}, 5, 4), b = make_icosphere({2, 0, 0}, 5, 4);
    const Mesh* operands[] = {&a, &b};
    Progress progress;
    progress.cancel();
    const auto result = combine(Operation::union_of, operands, progress);
    REQUIRE(!result.ok());
    CHECK(result.error().is_cancel());
}

namespace {

/// Volumes of the pieces, each of which is free of findings by itself.
std::vector<double> piece_volumes(const Combined& combined) {
    std::vector<double> volumes;
    for (std::size_t k = 0; k < combined.pieces(); ++k) {
        const Mesh piece = combined.piece(k);
        CHECK(findings_text(inspected(piece)) == "none");
        volumes.push_back(signed_volume(piece));
    }
    return volumes;
}
Combined combined_any(Operation operation, const std::vector<Mesh>& operands) {
    std::vector<const Mesh*> pointers;
    for (const Mesh& m : operands) pointers.push_back(&m);
    Progress progress;
    auto result = combine(operation, pointers, progress);
    REQUIRE(result);
    CHECK(result->source.size() == result->mesh.faces.size());
    CHECK(result->piece_start.back() == result->mesh.faces.size());
    return std::move(*result);
}
using Volumes = std::vector<double>;

}  // namespace

TEST_CASE("operations in several pieces: every piece closed, with the volume that its name promises") {
    // Two cubes of 4 that share a cube of 2: 64 - 8, 8, 64 - 8.
    const Mesh a = make_box({0, 0, 0}, {4, 4, 4}), b = make_box({2, 2, 2}, {6, 6, 6});
    CHECK(piece_volumes(combined_any(Operation::reverse_difference, {a, b})) == Volumes{56});
    CHECK(piece_volumes(combined_any(Operation::split, {a, b})) == Volumes{56, 8});
    CHECK(piece_volumes(combined_any(Operation::pieces, {a, b})) == Volumes{56, 8, 56});
    CHECK(piece_volumes(combined_any(Operation::inlay, {a, b})) == Volumes{56, 64});
    CHECK(piece_volumes(combined_any(Operation::scribe, {a, b})) == Volumes{64});
    CHECK(piece_volumes(combined_any(Operation::gather, {a, b})) == Volumes{64, 64});
    // The reverse difference of A and B is the difference of B and A.
    const Mesh c = turned(b, 0.3, {1, 2, 1});
    CHECK(signed_volume(combined(Operation::reverse_difference, {a, c}).mesh) ==
          Approx(signed_volume(combined(Operation::difference, {c, a}).mesh)));
}

TEST_CASE("split by several operands cuts every piece again; pieces of three bodies are their seven regions") {
    const Mesh a = make_box({0, 0, 0}, {4, 4, 4}), b = make_box({2, -1, -1}, {9, 9, 9}),
               c = make_box({-1, 1, -1}, {9, 9, 9});
    // x at 2 and y at 1: 2 * 1 * 4, 2 * 1 * 4, 2 * 3 * 4, 2 * 3 * 4; parts outside the cutters come first.
    CHECK(piece_volumes(combined_any(Operation::split, {a, b, c})) == Volumes{8, 8, 24, 24});
    const auto regions = piece_volumes(combined_any(
        Operation::pieces,
        {make_box({0, 0, 0}, {4, 4, 4}), make_box({2, 1, 0.5}, {6, 5, 4.5}), make_box({1, 2, 1}, {5, 6, 5})}));
    CHECK(regions.size() == 7);
    double sum = 0;
    for (double v : regions) sum += v;
    CHECK(sum == Approx(signed_volume(
                     combined(Operation::union_of, {make_box({0, 0, 0}, {4, 4, 4}), make_box({2, 1, 0.5}, {6, 5, 4.5}),
                                                    make_box({1, 2, 1}, {5, 6, 5})})
                         .mesh)));
}

TEST_CASE("pieces in general position add up to the union, split to the base, inlay to the union") {
    const Mesh a = make_icosphere({0, 0, 0}, 5, 3), b = turned(make_torus(5, 1.5, 30, 14), 0.7, {1, 1, 0});
    auto total = [](const Volumes& v) {
        double sum = 0;
        for (double x : v) sum += x;
        return sum;
    };
    const double both = signed_volume(combined(Operation::union_of, {a, b}).mesh);
    CHECK(total(piece_volumes(combined_any(Operation::pieces, {a, b}))) == Approx(both));
    CHECK(total(piece_volumes(combined_any(Operation::inlay, {a, b}))) == Approx(both));
    CHECK(total(piece_volumes(combined_any(Operation::split, {a, b}))) == Approx(signed_volume(a)));
    CHECK(signed_volume(combined(Operation::scribe, {a, b}).mesh) == Approx(signed_volume(a)));
    CHECK(combined(Operation::scribe, {a, b}).mesh.faces.size() > a.faces.size());
}

TEST_CASE("gather keeps every face as it is, open or crossing") {
    Mesh open = make_box({0, 0, 0}, {1, 1, 1});
    open.faces.raw().pop_back();
    const Combined both = combined_any(Operation::gather, {open, make_box({0, 0, 0}, {2, 2, 2})});
    CHECK(both.pieces() == 2);
    CHECK(both.piece(0) == welded(open));
    CHECK(both.source[11].operand == 1);
}

TEST_CASE("a bundle acts as one: what its own steps make is taken away") {
    const Mesh a = make_box({0, 0, 0}, {4, 4, 4}), b = make_box({1, 1, -1}, {3, 3, 5}),
               c = make_box({2, 0, -2}, {5, 5, 6});
    const Mesh* operands[] = {&a, &b, &c};
    Progress progress;
    auto prepared = prepare(operands, progress);
    REQUIRE(prepared);
    auto volume = [&](const std::vector<CombineStep>& steps) {
        auto result = combine(*prepared, steps, progress);
        REQUIRE(result);
        return signed_volume(result->mesh);
    };
    using Op = Operation;
    CHECK(volume({{Op::difference, 1, {}}}) == Approx(64 - 16));
    CHECK(volume({{Op::difference, 1, {{Op::difference, 2, {}}}}}) == Approx(64 - 8));  // A - (B - C)
    CHECK(volume({{Op::difference, 1, {{Op::union_of, 2, {}}}}}) == Approx(32 - 8));    // A - (B u C)
    CHECK(volume({{Op::intersection, 1, {{Op::intersection, 2, {}}}}}) == Approx(8));   // A n (B n C)
    // De Morgan's law, with the base as the whole: A - (B u C) = (A - B) n (A - C).
    CHECK(volume({{Op::difference, 1, {}}, {Op::difference, 2, {}}}) ==
          volume({{Op::difference, 1, {{Op::union_of, 2, {}}}}}));
}

TEST_CASE("a step that changes nothing is told, with the reason and the distance") {
    const Mesh a = make_box({0, 0, 0}, {4, 4, 4});
    auto said = [&](Operation operation, const Mesh& b) {
        const Combined result = combined_any(operation, {a, b});
        return result.messages.empty() ? std::string() : result.messages.back();
    };
    using Op = Operation;
    CHECK(said(Op::difference, make_box({4.4, 0, 0}, {5, 1, 1})) ==
          "Operand 2: It removes nothing: it is 0.4 mm away from the body.");
    CHECK(said(Op::difference, make_box({4, 0, 0}, {5, 1, 1})) ==
          "Operand 2: It removes nothing: it only touches the body.");
    CHECK(said(Op::difference, make_box({1, 1, 1}, {2, 2, 2})).empty());
    CHECK(said(Op::union_of, make_box({1, 1, 1}, {2, 2, 2})) ==
          "Operand 2: It adds nothing: it lies wholly inside the body.");
    CHECK(said(Op::union_of, make_box({-1, -1, -1}, {5, 5, 5})) == "Operand 2: It swallows the whole body.");
    CHECK(said(Op::union_of, make_box({9, 9, 9}, {10, 10, 10})).empty());
    CHECK(said(Op::intersection, make_box({-1, -1, -1}, {5, 5, 5})) ==
          "Operand 2: It changes nothing: the body lies wholly inside it.");
    CHECK(said(Op::intersection, make_box({0, 0, 7}, {1, 1, 8})) ==
          "Operand 2: It has nothing in common with the body: it is 3 mm away from the body.");
    CHECK(said(Op::split, make_box({-1, -1, -1}, {5, 5, 5})) ==
          "Operand 2: It cuts nothing: the body lies wholly inside it.");
    CHECK(said(Op::scribe, make_box({0, 0, 5}, {4, 4, 6})) ==
          "Operand 2: It has nothing in common with the body: it is 1 mm away from the body.");
    // Edge to edge: 3-4-5.
    CHECK(said(Op::difference, make_box({7, 8, 0}, {9, 9, 4})) ==
          "Operand 2: It removes nothing: it is 5 mm away from the body.");
}

TEST_CASE("the laws of sets hold as volumes over random operand lists") {
    for (unsigned seed = 1; seed <= 6; ++seed) {
        INFO("seed " << seed);
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> u(-2, 2);
        auto body = [&]() -> Mesh {
            const Vec3 at{u(random), u(random), u(random)};
            switch (random() % 3) {
                case 0: return make_box(at - Vec3{2, 1, 1}, at + Vec3{1, 2, 2});
                case 1: return make_icosphere(at, 2, 2);
                default: return moved(make_frustum(1.5, 1, -3, 3, 12), at);
            }
        };
        const std::vector<Mesh> operands{make_box({-9, -9, -9}, {9, 9, 9}), body(), body(), body()};
        std::vector<const Mesh*> pointers;
        for (const Mesh& m : operands) pointers.push_back(&m);
        Progress progress;
        const auto prepared = prepare(pointers, progress);
        REQUIRE(prepared);
        // Everything within the base, which holds all: a list of steps as a bundle.
        using Op = Operation;
        using Steps = std::vector<CombineStep>;
        auto volume = [&](std::uint32_t first, const Steps& steps) {
            const auto result = combine(*prepared, Steps{{Op::intersection, first, steps}}, progress);
            REQUIRE(result);
            CHECK(findings_text(inspected(result->mesh)) == "none");
            return signed_volume(result->mesh);
        };
        const CombineStep or2{Op::union_of, 2, {}}, or3{Op::union_of, 3, {}}, and2{Op::intersection, 2, {}},
            and3{Op::intersection, 3, {}}, less2{Op::difference, 2, {}}, less3{Op::difference, 3, {}};
        // Idempotence: A u A = A n A = A.
        const double a = volume(1, {});
        CHECK(volume(1, {{Op::union_of, 1, {}}}) == a);
        CHECK(volume(1, {{Op::intersection, 1, {}}}) == a);
        // Associativity: (A u B) u C = A u (B u C), and for intersections.
        CHECK(volume(1, {or2, or3}) == volume(1, {{Op::union_of, 2, {or3}}}));
        CHECK(volume(1, {and2, and3}) == volume(1, {{Op::intersection, 2, {and3}}}));
        // Commutativity, and absorption: A u (A n B) = A.
        CHECK(volume(1, {or2}) == Approx(volume(2, {{Op::union_of, 1, {}}})));
        CHECK(volume(1, {{Op::union_of, 1, {and2}}}) == a);
        // Distributivity: A n (B u C) = (A n B) u (A n C).
        CHECK(volume(1, {{Op::intersection, 2, {or3}}}) == Approx(volume(1, {and2, {Op::union_of, 1, {and3}}})));
        // De Morgan: A less (B u C) = (A less B) n (A less C), A less (B n C) = (A less B) u (A less C).
        CHECK(volume(1, {{Op::difference, 2, {or3}}}) == volume(1, {less2, less3}));
        CHECK(volume(1, {{Op::difference, 2, {and3}}}) == Approx(volume(1, {less2, {Op::union_of, 1, {less3}}})));
        // Inclusion and exclusion for three.
        const double b = volume(2, {}), c = volume(3, {});
        CHECK(volume(1, {or2, or3}) ==
              Approx(a + b + c - volume(1, {and2}) - volume(1, {and3}) - volume(2, {and3}) + volume(1, {and2, and3})));
    }
}
