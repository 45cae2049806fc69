#include "core/shape/outline.h"

#include <numbers>

#include "core/shape/shapes.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Outline read(const char* text) {
    const auto outline = outline_from_text(text, 0.02);
    INFO((outline ? "" : outline.error().sentence()));
    REQUIRE(outline);
    return *outline;
}
double area(const FilledOutline& fill) {
    double out = 0;
    for (const auto& [a, b, c] : fill.triangles) {
        const Point2 &p = fill.points[a], &q = fill.points[b], &r = fill.points[c];
        const double twice = (q.u - p.u) * (r.v - p.v) - (r.u - p.u) * (q.v - p.v);
        CHECK(twice > 0);
        out += twice / 2;
    }
    return out;
}
double area(const char* text, FillRule rule = FillRule::even_odd) { return area(filled({{read(text), rule}})); }
std::string why_not(const char* text) {
    const auto outline = outline_from_text(text, 0.02);
    REQUIRE(!outline);
    return outline.error().sentence();
}

}  // namespace

TEST_CASE("outlines are read a point a line; loops end at empty lines, comments count for nothing") {
    const Outline two = read("0 0\n 10,0 \n10\t10 # corner\n# all of a line\n0 10\n0 0\n\n\n2;2\n4 2\r\n+4 4e0\n");
    REQUIRE(two.size() == 2);
    CHECK(two[0].size() == 4);  // closed by hand is closed once
    CHECK(two[1].size() == 3);
    CHECK(two[1][2].v == 4);
    CHECK(read("").empty());
    CHECK(why_not("0 0\n1 x\n").find("line 2") != std::string::npos);
    CHECK(why_not("0 0\n1\n").find("line 2: a line of an outline is a point") != std::string::npos);
    CHECK(why_not("0 0 0 0\n").find("\"0 0 0 0\"") != std::string::npos);
    CHECK(why_not("0 nan\n").find("line 1") != std::string::npos);
    CHECK(why_not("0 1e9\n").find("line 1") != std::string::npos);
    CHECK(why_not("0 0\n1 1\n\n0 0\n").find("three points") != std::string::npos);
    std::string many;
    for (int k = 0; k < 20001; ++k) many += "0 " + std::to_string(k) + "\n";
    CHECK(why_not(many.c_str()).find("20000") != std::string::npos);
}

TEST_CASE("outlines are filled by their rule: holes, islands, loops that cross themselves, overlap or touch") {
    const char* const square = "0 0\n10 0\n10 10\n0 10\n";
    CHECK(area(square) == Approx(100));
    CHECK(area("0 10\n10 10\n10 0\n0 0\n") == Approx(100));  // either way round
    CHECK(area("0 0\n10 0\n10 10\n0 10\n\n2 2\n4 2\n4 4\n2 4\n") == Approx(96));
    CHECK(area("0 0\n10 0\n10 10\n0 10\n\n2 2\n4 2\n4 4\n2 4\n", FillRule::non_zero) == Approx(100));
    CHECK(area("0 0\n10 0\n10 10\n0 10\n\n2 2\n2 4\n4 4\n4 2\n", FillRule::non_zero) == Approx(96));
    CHECK(area("0 0\n10 0\n10 10\n0 10\n\n2 2\n8 2\n8 8\n2 8\n\n4 4\n6 4\n6 6\n4 6\n") == Approx(100 - 36 + 4));
    // Two squares that overlap by 5 x 10.
    const char* const overlap = "0 0\n10 0\n10 10\n0 10\n\n5 0\n15 0\n15 10\n5 10\n";
    CHECK(area(overlap) == Approx(100));
    CHECK(area(overlap, FillRule::non_zero) == Approx(150));
    CHECK(area("0 0\n10 10\n10 0\n0 10\n") == Approx(50));  // a bow tie
    CHECK(area("0 0\n5 0\n10 0\n") == 0);
    CHECK(area("1 1\n1 1\n1 1\n1 1\n") == 0);
    CHECK(area("0 0\n10 0\n0 0\n10 0\n") == 0);
    // A pentagram of circumradius 1: five times sin(36 degrees), and each crossing of its lines 1 / phi^2 from the
    // middle (W. W. Rouse Ball, H. S. M. Coxeter, "Mathematical Recreations and Essays", regular star polygons).
    Outline star(1);
    for (int k = 0; k < 5; ++k)
        star[0].push_back({std::cos(k * 4 * std::numbers::pi / 5), std::sin(k * 4 * std::numbers::pi / 5)});
    const double phi = std::numbers::phi, inner = 1 / (phi * phi), s = std::sin(std::numbers::pi / 5);
    const double whole = 5 * inner * s, pentagon = 2.5 * inner * inner * std::sin(2 * std::numbers::pi / 5);
    CHECK(area(filled({{star, FillRule::non_zero}})) == Approx(whole));
    CHECK(area(filled({{star, FillRule::even_odd}})) == Approx(whole - pentagon));
}

TEST_CASE("profiles are closed, with the volume of their outline; a touching one is left to what uses it") {
    auto solid = [](const char* text) {
        auto made = profile_shape({{{read(text)}}, 5, 2});
        REQUIRE(made);
        return std::move(*made);
    };
    const Solid frame = solid("0 0\n10 0\n10 10\n0 10\n\n2 2\n4 2\n4 4\n2 4\n");
    CHECK(inspected(frame.mesh).print_ready);
    CHECK(signed_volume(frame.mesh) == Approx(96 * 4 * 5));
    CHECK(frame.side.size() == frame.mesh.faces.size());
    const Solid tie = solid("0 0\n10 10\n10 0\n0 10\n");
    const Inspection in = inspected(tie.mesh);
    CHECK(in.closed);
    CHECK(in.count(FindingKind::self_intersections) == 0);
    CHECK(signed_volume(combined(Operation::union_of, {tie.mesh, make_box({50, 0, 0}, {51, 1, 1})}).mesh) ==
          Approx(50 * 4 * 5 + 1).epsilon(1e-6));
    CHECK(profile_shape({{{read("0 0\n5 0\n10 0\n")}}, 5, 1}).error().text.find("encloses nothing") !=
          std::string::npos);
    // Ragged loops by chance, which cross themselves often.
    std::mt19937 random(7);
    for (int k = 0; k < 20; ++k) {
        Outline ragged(1 + k % 3);
        for (auto& loop : ragged)
            for (int i = 0; i < 40; ++i)
                loop.push_back({static_cast<double>(random() % 1000) / 37, static_cast<double>(random() % 1000) / 41});
        const auto made = profile_shape({{{ragged, k % 2 ? FillRule::even_odd : FillRule::non_zero}}, 3, 1});
        REQUIRE(made);
        const Inspection found = inspected(made->mesh);
        INFO(findings_text(found));
        CHECK(found.closed);
        CHECK(found.count(FindingKind::self_intersections) == 0);
    }
}
