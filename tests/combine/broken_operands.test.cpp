// Operands that are no sound solids: the result is closed all the same, and what was assumed is said.
#include <numbers>

#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

const Mesh cutter = make_box({3, 3, -1}, {5, 5, 9});
constexpr double box_less_cutter = 512 - 4 * 8;
Mesh box() { return make_box({0, 0, 0}, {8, 8, 8}); }

void drop(Mesh& mesh, std::initializer_list<std::size_t> faces) {
    std::vector<Triangle> kept;
    for (std::size_t f = 0; f < mesh.faces.size(); ++f)
        if (std::find(faces.begin(), faces.end(), f) == faces.end()) kept.push_back(mesh.faces[FaceId(f)]);
    mesh.faces.raw() = kept;
}

}  // namespace

TEST_CASE("open base: flat holes are closed flat, and the result has the whole body's volume") {
    for (const std::size_t missing : {0, 5, 11}) {
        Mesh open = box();
        drop(open, {missing});
        const Combined result = combined(Operation::difference, {open, cutter});
        CHECK(signed_volume(result.mesh) == Approx(box_less_cutter));
        CHECK(says(result, "Operand 1: It was open: 1 hole was closed with 1 face of 32 mm²"));
    }
    Mesh lidless = box();  // both faces of one side
    const auto normal_z = [&](std::size_t f) {
        return cross(lidless.corner(FaceId(f), 1) - lidless.corner(FaceId(f), 0),
                     lidless.corner(FaceId(f), 2) - lidless.corner(FaceId(f), 0))
            .z;
    };
    std::vector<Triangle> kept;
    for (std::size_t f = 0; f < 12; ++f)
        if (normal_z(f) <= 0) kept.push_back(lidless.faces[FaceId(f)]);
    lidless.faces.raw() = kept;
    CHECK(signed_volume(combined(Operation::difference, {lidless, cutter}).mesh) == Approx(box_less_cutter));
}

TEST_CASE("open operand with long rims: a tube without ends cuts like the whole cylinder") {
    const int sides = 400;  // longer than what is filled exactly at once
    Mesh tube = make_frustum(2, 2, -1, 9, sides);
    std::vector<Triangle> wall;
    for (FaceId f : ids<FaceId>(tube.faces.size())) {
        const Vec3 n = cross(tube.corner(f, 1) - tube.corner(f, 0), tube.corner(f, 2) - tube.corner(f, 0));
        if (std::fabs(n.z) < 1e-9 * norm(n)) wall.push_back(tube.faces[f]);
    }
    tube.faces.raw() = wall;
    const Mesh base = make_box({-4, -4, 0}, {4, 4, 8});
    const Combined result = combined(Operation::difference, {base, tube});
    // The area of a regular polygon: n/2 r^2 sin(2 pi / n).
    const double polygon = sides / 2.0 * 4 * std::sin(2 * std::numbers::pi / sides);
    CHECK(signed_volume(result.mesh) == Approx(512 - 8 * polygon));
    CHECK(says(result, "Operand 2: It was open: 2 holes were closed"));
}

TEST_CASE("mixed orientation: the fewer faces are turned") {
    Mesh mixed = box();
    for (const std::size_t f : {1, 4, 9}) std::swap(mixed.faces[FaceId(f)][1], mixed.faces[FaceId(f)][2]);
    const Combined result = combined(Operation::difference, {mixed, cutter});
    CHECK(signed_volume(result.mesh) == Approx(box_less_cutter));
    CHECK(says(result, "Operand 1: 3 faces ran against the neighbours and were turned."));
}

TEST_CASE("shells: a cavity stays one, an inside-out body beside another is turned") {
    Mesh hollow = box(), inner = make_box({1, 1, 1}, {2, 2, 2});
    turn_over(inner);
    append(hollow, inner);
    const Combined with_cavity = combined(Operation::difference, {hollow, cutter});
    CHECK(signed_volume(with_cavity.mesh) == Approx(box_less_cutter - 1));
    CHECK(with_cavity.messages.empty());
    Mesh beside = box(), out = make_box({20, 0, 0}, {21, 1, 1});
    turn_over(out);
    append(beside, out);
    const Combined turned = combined(Operation::difference, {beside, cutter});
    CHECK(signed_volume(turned.mesh) == Approx(box_less_cutter + 1));
    CHECK(says(turned, "Operand 1: It was inside out"));
}

TEST_CASE("a fin, doubled faces and loose sheets change nothing") {
    Mesh fin = box();  // a flap on an edge of the box
    const VertexId tip = fin.points.push_back({4, -3, 12});
    fin.faces.push_back({fin.faces[FaceId(0)][0], fin.faces[FaceId(0)][1], tip});
    CHECK(signed_volume(combined(Operation::difference, {fin, cutter}).mesh) == Approx(box_less_cutter));
    Mesh doubled = box();
    doubled.faces.push_back(doubled.faces[FaceId(3)]);
    CHECK(signed_volume(combined(Operation::difference, {doubled, cutter}).mesh) == Approx(box_less_cutter));
    Mesh back_to_back = box();
    const Triangle t = doubled.faces[FaceId(3)];
    back_to_back.faces.push_back(t);
    back_to_back.faces.push_back({t[0], t[2], t[1]});
    CHECK(signed_volume(combined(Operation::difference, {back_to_back, cutter}).mesh) == Approx(box_less_cutter));
    Mesh sheet = box();
    Mesh loose = make_box({1, 1, 1}, {2, 2, 2});
    loose.faces.raw().resize(2);
    append(sheet, loose);
    const Combined result = combined(Operation::difference, {sheet, cutter});
    CHECK(signed_volume(result.mesh) == Approx(box_less_cutter));
    CHECK(says(result, "Operand 1: 1 loose sheet beside the solid was left out."));
}

TEST_CASE("cracks narrower than a hundred-thousandth of the size are joined") {
    Mesh cracked;  // every face by itself, its corners a hair off
    std::mt19937 random(7);
    std::uniform_real_distribution<double> hair(-2e-5, 2e-5);
    const Mesh sphere = make_icosphere({4, 4, 4}, 3.5, 3);
    for (FaceId f : ids<FaceId>(sphere.faces.size())) {
        Triangle t;
        for (int k = 0; k < 3; ++k)
            t[k] = cracked.points.push_back(sphere.corner(f, k) + Vec3{hair(random), hair(random), hair(random)});
        cracked.faces.push_back(t);
    }
    const Combined result = combined(Operation::difference, {cracked, cutter});
    const Combined sound = combined(Operation::difference, {sphere, cutter});
    CHECK(signed_volume(result.mesh) == Approx(signed_volume(sound.mesh)).epsilon(1e-4));
    CHECK(says(result, "Operand 1: Borders up to"));
}

TEST_CASE("degenerate faces split what they touch and leave no crack") {
    Mesh flat = box();  // one edge of a face gets a point in its middle, the gap is closed by a face without area
    const Triangle t = flat.faces[FaceId(0)];
    const Vec3 middle = (flat.points[t[0]] + flat.points[t[1]]) * 0.5;
    const VertexId m = flat.points.push_back(middle);
    flat.faces[FaceId(0)] = {t[0], m, t[2]};
    flat.faces.push_back({m, t[1], t[2]});
    flat.faces.push_back({t[0], t[1], m});
    REQUIRE(inspected(flat).count(FindingKind::degenerate_faces) == 1);
    CHECK(signed_volume(combined(Operation::difference, {flat, cutter}).mesh) == Approx(box_less_cutter));
}

TEST_CASE("a million copies of one triangle, and a single one, end quickly with a reason") {
    Mesh many;
    const VertexId a = many.points.push_back({0, 0, 0}), b = many.points.push_back({1, 0, 0}),
                   c = many.points.push_back({0, 1, 0});
    for (int i = 0; i < (instrumented ? 100000 : 1000000); ++i) many.faces.push_back({a, b, c});
    const Mesh base = box();
    const Mesh* operands[] = {&base, &many};
    Progress progress;
    const auto result = combine(Operation::difference, operands, progress);
    REQUIRE(result);
    CHECK(signed_volume(result->mesh) == Approx(512));
    CHECK(says(*result, "Operand 2: It removes nothing: it is a sheet and encloses nothing."));
    many.faces.raw().resize(1);
    const auto single = combine(Operation::difference, operands, progress);
    REQUIRE(single);
    CHECK(says(*single, "Operand 2: It removes nothing: it is a sheet and encloses nothing."));
}
