// Sheets as cutters and as what is trimmed: open surfaces, which enclose nothing.
#include <numbers>

#include "core/arrange/arrangement.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A flat rectangle across the z axis, of two faces.
Mesh plate(double z, const Point2& low, const Point2& high) {
    Mesh mesh;
    for (const Vec3& p :
         {Vec3{low.u, low.v, z}, Vec3{high.u, low.v, z}, Vec3{high.u, high.v, z}, Vec3{low.u, high.v, z}})
        mesh.points.push_back(p);
    mesh.faces.push_back({VertexId(0), VertexId(1), VertexId(2)});
    mesh.faces.push_back({VertexId(0), VertexId(2), VertexId(3)});
    return mesh;
}
Mesh cube() { return make_box({0, 0, 0}, {8, 8, 8}); }
/// A wavy sheet over the square from -1 to 9, about z.
Mesh wavy(double z, int n) {
    Mesh mesh;
    for (int j = 0; j <= n; ++j)
        for (int i = 0; i <= n; ++i) {
            const double x = -1 + 10.0 * i / n, y = -1 + 10.0 * j / n;
            mesh.points.push_back({x, y, z + 0.4 * std::sin(1.3 * x + 0.2) * std::cos(0.9 * y)});
        }
    auto at = [&](int i, int j) { return VertexId(j * (n + 1) + i); };
    for (int j = 0; j < n; ++j)
        for (int i = 0; i < n; ++i) {
            mesh.faces.push_back({at(i, j), at(i + 1, j), at(i + 1, j + 1)});
            mesh.faces.push_back({at(i, j), at(i + 1, j + 1), at(i, j + 1)});
        }
    return mesh;
}

std::vector<double> volumes(const Combined& c) {
    std::vector<double> out;
    for (std::size_t k = 0; k < c.pieces(); ++k) {
        CHECK(findings_text(inspected(c.piece(k))) == "none");
        out.push_back(signed_volume(c.piece(k)));
    }
    std::sort(out.begin(), out.end());
    return out;
}

}  // namespace

TEST_CASE("split by one sheet: two closed pieces that fill the body") {
    const Combined flat = combined_only(Operation::split, {cube(), plate(3, {-1, -1}, {9, 9})});
    const std::vector<double> v = volumes(flat);
    REQUIRE(v.size() == 2);
    CHECK(v[0] == Approx(192));
    CHECK(v[1] == Approx(320));
    CHECK(flat.messages.empty());

    const Combined curved = combined_only(Operation::split, {make_icosphere({4, 4, 4}, 3.5, 4), wavy(4.1, 40)});
    const std::vector<double> w = volumes(curved);
    REQUIRE(w.size() == 2);
    CHECK(w[0] + w[1] == Approx(signed_volume(make_icosphere({4, 4, 4}, 3.5, 4))));
}

TEST_CASE("split by an array of sheets, in turn: n sheets give n + 1 slices, crossing ones give more") {
    std::vector<Mesh> operands{cube()};
    for (int k = 1; k <= 6; ++k) operands.push_back(plate(8.0 * k / 7, {-1, -1}, {9, 9}));
    std::vector<double> v = volumes(combined_only(Operation::split, operands));
    REQUIRE(v.size() == 7);
    for (double one : v) CHECK(one == Approx(512.0 / 7));

    // Two that cross each other within the body: four quarters.
    Mesh upright = plate(0, {-1, -1}, {9, 9});
    for (Vec3& p : upright.points) p = {4, p.x, p.y};
    v = volumes(combined_only(Operation::split, {cube(), plate(2, {-1, -1}, {9, 9}), upright}));
    REQUIRE(v.size() == 4);
    CHECK(v[0] == Approx(64));
    CHECK(v[3] == Approx(192));
}

TEST_CASE("split: a sheet that ends within the body says where, and cuts nothing there") {
    const Combined none = combined_only(Operation::split, {cube(), plate(3, {-1, -1}, {5, 9})});
    REQUIRE(none.pieces() == 1);
    CHECK(signed_volume(none.mesh) == Approx(512));
    CHECK(none.mesh.faces.size() == 12);
    CHECK(
        says(none, "Operand 2: It cuts nothing: it does not pass all the way through: it ends inside the body along"));
    CHECK(says(none, "at (5, 4, 3)"));

    // A sheet with a hole in its middle: the body hangs together through it.
    Mesh pierced = plate(3, {-1, -1}, {9, 9});
    pierced.faces.raw().clear();
    for (const Vec3& p : {Vec3{3, 3, 3}, Vec3{5, 3, 3}, Vec3{5, 5, 3}, Vec3{3, 5, 3}}) pierced.points.push_back(p);
    for (std::uint32_t k = 0; k < 4; ++k) {
        const VertexId a(k), b((k + 1) % 4), c(4 + k), d(4 + (k + 1) % 4);
        pierced.faces.push_back({a, b, d});
        pierced.faces.push_back({a, d, c});
    }
    CHECK(says(combined_only(Operation::split, {cube(), pierced}), "ends inside the body along 4 edges"));

    const Combined away = combined_only(Operation::split, {cube(), plate(8.5, {-1, -1}, {9, 9})});
    CHECK(says(away, "Operand 2: It cuts nothing: it is 0.5 mm away from the body."));
}

TEST_CASE("split by a sheet: cavities and other bodies stay with the piece in which they are") {
    Mesh hollow = cube(), bubble = make_icosphere({4, 4, 6}, 1, 2);
    const double bubble_volume = signed_volume(bubble);
    turn_over(bubble);
    append(hollow, bubble);
    append(hollow, make_box({20, 0, 0}, {21, 1, 1}));
    const Combined result = combined_only(Operation::split, {hollow, plate(3, {-1, -1}, {9, 9})});
    const std::vector<double> v = volumes(result);
    REQUIRE(v.size() == 2);
    // The loose box is not parted by the sheet: it stays with the first piece, whichever side that is.
    const double below = 192, above = 320 - bubble_volume;
    CHECK(
        ((v[0] == Approx(below) && v[1] == Approx(above + 1)) || (v[0] == Approx(below + 1) && v[1] == Approx(above))));
}

TEST_CASE("a closed body around another one that does not touch it: cells of one region are one") {
    // Split by a closed surface taken as a solid, and by sheets with islands within: the region between is one.
    const Combined shells =
        combined_only(Operation::pieces, {cube(), make_box({2, 2, 2}, {3, 3, 3}), make_box({5, 5, 5}, {6, 6, 6})});
    const std::vector<double> v = volumes(shells);
    REQUIRE(v.size() == 3);
    CHECK(v[2] == Approx(510));
    // A sheet wholly within the body parts nothing.
    const Combined floating = combined_only(Operation::split, {cube(), plate(4, {3, 3}, {5, 5})});
    CHECK(floating.pieces() == 1);
    CHECK(says(floating, "ends inside the body along 4 edges"));
}

TEST_CASE("sheets: other operations find nothing to work with, and say so; scribe draws") {
    const Mesh sheet = plate(3, {-1, -1}, {9, 9});
    const Combined less = combined_only(Operation::difference, {cube(), sheet});
    CHECK(signed_volume(less.mesh) == Approx(512));
    CHECK(says(less, "Operand 2: It removes nothing: it is a sheet and encloses nothing."));
    const Combined common = combined_only(Operation::intersection, {cube(), sheet});
    CHECK(common.empty);
    CHECK(!common.reason.empty());
    const Combined from_sheet = combined_only(Operation::difference, {sheet, cube()});
    CHECK(from_sheet.empty);
    CHECK(from_sheet.reason == "The base is a sheet and encloses nothing.");

    const Combined drawn = combined_only(Operation::scribe, {cube(), sheet});
    CHECK(findings_text(inspected(drawn.mesh)) == "none");
    CHECK(signed_volume(drawn.mesh) == Approx(512));
    std::size_t on_line = 0;
    for (const Vec3& p : drawn.mesh.points) on_line += p.z == 3;
    CHECK(on_line >= 4);
    // A flat sheet on a side of the body draws its outline, and no diagonal through it.
    const Combined outline = combined_only(Operation::scribe, {cube(), plate(8, {2, 2}, {6, 6})});
    CHECK(findings_text(inspected(outline.mesh)) == "none");
    CHECK(outline.mesh.points.size() == 12);
}

TEST_CASE("trims: what lies outside and what lies inside make up the sheet") {
    const Mesh sheet = wavy(4, 30), ball = make_icosphere({4, 4, 4}, 2.5, 3);
    const Combined outside = combined_only(Operation::trim_outside, {sheet, ball});
    const Combined inside = combined_only(Operation::trim_inside, {sheet, ball});
    CHECK(surface_area(outside.mesh) + surface_area(inside.mesh) == Approx(surface_area(sheet)));
    CHECK(surface_area(inside.mesh) > 15);
    for (const Combined* c : {&outside, &inside}) {
        const Inspection i = inspected(c->mesh);
        CHECK(i.counts[static_cast<std::size_t>(FindingKind::self_intersections)] == 0);
        CHECK(i.counts[static_cast<std::size_t>(FindingKind::degenerate_faces)] == 0);
        CHECK(i.counts[static_cast<std::size_t>(FindingKind::nonmanifold_edges)] == 0);
        CHECK(i.counts[static_cast<std::size_t>(FindingKind::open_edges)] > 0);
        for (FaceId f : ids<FaceId>(c->mesh.faces.size())) {
            const Vec3 m = face_middle(c->mesh, f);
            const double at = winding_number(ball, m);
            CHECK((at > 0.5) == (c == &inside));
            CHECK(c->source[f.value()].operand == 0);
        }
    }
    // Faces keep the way they were wound.
    for (FaceId f : ids<FaceId>(outside.mesh.faces.size())) {
        const Mesh& m = outside.mesh;
        CHECK(cross(m.corner(f, 1) - m.corner(f, 0), m.corner(f, 2) - m.corner(f, 0)).z > 0);
    }
}

TEST_CASE("trims: an open cylinder by a box, a closed body as a surface, flush faces") {
    // The wall of a tube from z = 0 to 8, trimmed by a box round its upper half: half the wall.
    Mesh tube = make_frustum(2, 2, 0, 8, 64), wall;
    wall.points = tube.points;
    for (FaceId f : ids<FaceId>(tube.faces.size())) {
        const Vec3 n = cross(tube.corner(f, 1) - tube.corner(f, 0), tube.corner(f, 2) - tube.corner(f, 0));
        if (std::fabs(n.z) < 1e-9 * norm(n)) wall.faces.push_back(tube.faces[f]);
    }
    const Combined half = combined_only(Operation::trim_outside, {wall, make_box({-3, -3, 4}, {3, 3, 9})});
    CHECK(surface_area(half.mesh) == Approx(surface_area(wall) / 2));
    // A closed body is taken as its skin and capped nowhere.
    const Combined cup = combined_only(Operation::trim_outside, {cube(), make_box({1, 1, 4}, {7, 7, 9})});
    CHECK(surface_area(cup.mesh) == Approx(6 * 64 - 36));
    CHECK(inspected(cup.mesh).counts[static_cast<std::size_t>(FindingKind::holes)] == 1);
    // What lies on the solid's boundary counts as inside: once, in one of the two.
    const Mesh sheet = plate(4, {0, 0}, {8, 8}), flush = make_box({2, 2, 4}, {6, 6, 6});
    CHECK(surface_area(combined_only(Operation::trim_outside, {sheet, flush}).mesh) == Approx(48));
    CHECK(surface_area(combined_only(Operation::trim_inside, {sheet, flush}).mesh) == Approx(16));
}

TEST_CASE("trims that change nothing or leave nothing say why") {
    const Mesh sheet = plate(4, {0, 0}, {8, 8});
    CHECK(says(combined_only(Operation::trim_outside, {sheet, make_box({0, 0, 4.5}, {8, 8, 6})}),
               "Operand 2: It trims nothing: it is 0.5 mm away from the body."));
    const Combined gone = combined_only(Operation::trim_outside, {sheet, make_box({-1, -1, 0}, {9, 9, 9})});
    CHECK(gone.empty);
    CHECK(gone.reason == "The whole surface lies inside the operand.");
    CHECK(says(combined_only(Operation::trim_inside, {sheet, make_box({-1, -1, 0}, {9, 9, 9})}),
               "It trims nothing: the whole surface lies inside it."));
    const Combined none = combined_only(Operation::trim_outside, {sheet, plate(2, {0, 0}, {1, 1})});
    CHECK(surface_area(none.mesh) == Approx(64));
    CHECK(says(none, "encloses nothing"));
}

TEST_CASE("a base bored first and trimmed then: the bored body's skin") {
    const Mesh base = cube(), bore = make_box({3, 3, -1}, {5, 5, 9}), knife = make_box({-1, -1, 4}, {9, 9, 9});
    const Mesh* operands[] = {&base, &bore, &knife};
    Progress progress;
    const auto prepared = prepare(operands, progress);
    REQUIRE(prepared);
    const CombineStep steps[] = {{Operation::difference, 1, {}}, {Operation::trim_outside, 2, {}}};
    const auto result = combine(*prepared, steps, progress);
    REQUIRE(result);
    CHECK(surface_area(result->mesh) == Approx((64 - 4) + 4 * 8 * 4 + 4 * 2 * 4));
    const CombineStep late[] = {{Operation::trim_outside, 2, {}}, {Operation::difference, 1, {}}};
    CHECK(starts_as_surface(late));
    CHECK(comes_too_late(std::span(late).first(1), Operation::difference));
}
