// What a drag or typed numbers make of a new outline.
#include "core/job/new_cut.h"

#include "core/job/kinds/kind.h"
#include "core/shape/drawn.h"
#include "tests/job/cutting.h"

using namespace anvil;
using namespace anvil::test;

namespace {

double of(const Values& values, const char* field) { return std::get<double>(values.at(field)); }

}  // namespace

TEST_CASE("a dragged outline is where it was dragged; typed sizes stand in for the pointer's, to the digit") {
    const Vec3 up{0, 0, 1}, a{3, 4, 5};
    const auto dragged = values_of_outline("rectangle", a, a + Vec3{-10.02, 6.5, 0}, up);
    REQUIRE(dragged.has_value());
    CHECK(of(*dragged, "width") == Approx(10.02));
    CHECK(of(*dragged, "length") == 6.5);
    CHECK(norm(std::get<Vec3>(dragged->at("origin")) - (a + Vec3{-5.01, 3.25, 0})) < 0.006);
    const double sizes[] = {25.4, 6.35}, one[] = {12.3456789}, none[] = {0.0};
    const auto typed = values_of_outline("rectangle", a, a + Vec3{-1, 1, 0}, up, sizes);
    REQUIRE(typed.has_value());
    CHECK(of(*typed, "width") == 25.4);
    CHECK(of(*typed, "length") == 6.35);
    // It goes to the side that the pointer is on.
    CHECK(norm(std::get<Vec3>(typed->at("origin")) - (a + Vec3{-12.7, 3.175, 0})) < 0.006);
    CHECK(of(*values_of_outline("rectangle", a, a, up, one), "length") == one[0]);  // one size: a square
    CHECK(of(*values_of_outline("circle", a, a, up, one), "diameter") == one[0]);
    CHECK(of(*values_of_outline("polygon", a, a, up, one), "across") == one[0]);
    CHECK(!values_of_outline("circle", a, a + Vec3{5, 0, 0}, up, none).has_value());
    CHECK(!values_of_outline("rectangle", a, a + Vec3{5, 0, 0}, up).has_value());
}

TEST_CASE("the outline that is drawn while dragging is the one that cuts") {
    for (const Vec3& normal : {Vec3{0, 0, 1}, Vec3{0, -1, 0}, Vec3{1, 2, 2}})
        for (const char* shape : {"rectangle", "circle", "polygon"}) {
            const auto values = values_of_outline(shape, {0, 0, 0}, {3, 5, -1}, normal);
            REQUIRE(values.has_value());
            const std::vector<Vec3> loop = outline_of(*values);
            REQUIRE(loop.size() >= 4);
            const Vec3 origin = std::get<Vec3>(values->at("origin"));
            Vec3 area;
            for (std::size_t k = 0; k < loop.size(); ++k) {
                CHECK(std::fabs(dot(loop[k] - origin, normalized(normal))) < 1e-12);
                area = area + cross(loop[k] - origin, loop[(k + 1) % loop.size()] - origin) * 0.5;
            }
            // A prism: what it takes out of the middle of a body is its area by its way, and the 0.01 mm before that.
            Cutting block(make_box({-50, -50, -50}, {50, 50, 50}));
            Values cut = *values;
            cut["way"] = std::string("depth");
            cut["depth"] = 4.0;
            block.cut("cut-outline", cut);
            CHECK(1e6 - signed_volume(block.sound().combined->mesh) == Approx(4.01 * norm(area)));
        }
    CHECK(outline_of({{"shape", std::string("drawing")}}).empty());
}

TEST_CASE("a typed stretch is as long as was typed, at the angle that was typed or towards the pointer") {
    for (const Vec3& normal : {Vec3{0, 0, 1}, Vec3{1, 0, 0}, Vec3{0.3, -0.5, 0.8}}) {
        const Vec3 from{1, 2, 3}, to = from + normalized(cross(normal, {1, 1, 0})) * 7;
        const double length[] = {12.5}, both[] = {8, 30};
        CHECK(stretch_end(from, to, normal, {}) == to);
        const Vec3 towards = stretch_end(from, to, normal, length);
        CHECK(norm(towards - from) == Approx(12.5));
        CHECK(norm(normalized(towards - from) - normalized(to - from)) < 1e-12);
        const Stretch told = stretch_between(from, stretch_end(from, to, normal, both), normal);
        CHECK(told.length == Approx(8));
        CHECK(told.angle == Approx(30));
    }
    // Lengths that were typed are kept, others are put to numbers that can be read.
    const std::vector<Vec3> points{{0, 0, 0}, {10.123456, 0, 0}, {10.123456, 7.654321, 0}};
    auto drawn = [&](bool typed) {
        const Values values = values_of_drawn("drawing", points, {0, 0, 1}, typed);
        return *drawn_from_text(std::get<std::string>(values.at("outline")));
    };
    const auto exact = drawn(true).front(), round = drawn(false).front();
    CHECK(exact[1].at.u - exact[0].at.u == Approx(10.123456).epsilon(1e-9));
    CHECK(round[1].at.u - round[0].at.u != Approx(10.123456).epsilon(1e-6));
}
