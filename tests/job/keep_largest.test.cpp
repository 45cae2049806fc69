#include "tests/job/treated.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A box of 10 with a hollow of 6, in which a box of 4 lies with a hollow of its own; beside it a crumb.
Mesh nested() {
    auto cube = [](double half) { return make_box({-half, -half, -half}, {half, half, half}); };
    auto inward = [](Mesh mesh) {
        turn_over(mesh);
        return mesh;
    };
    Mesh out = cube(5);
    append(out, inward(cube(3)));
    append(out, cube(2));
    append(out, inward(cube(1)));
    append(out, make_box({7, 0, 0}, {8, 1, 1}));
    return out;
}

}  // namespace

TEST_CASE("keep the largest shell: its own hollow stays, what lies in the hollow and beside goes") {
    const Treated done = treated("keep-largest", nested());
    CHECK(signed_volume(*done.mesh) == Approx(1000 - 216));
    CHECK(done.said == "3 shells were dropped.");
    CHECK(inspected(*done.mesh).print_ready);
}

TEST_CASE("keep the largest shell: without its hollows it is full") {
    const Treated done = treated("keep-largest", nested(), {{"hollows", false}});
    CHECK(signed_volume(*done.mesh) == Approx(1000));
    CHECK(done.said == "4 shells were dropped.");
    const Treated one = treated("keep-largest", make_box({0, 0, 0}, {1, 1, 1}));
    CHECK(one.mesh->faces.size() == 12);
    CHECK(one.said == "There is one shell only.");
    CHECK(treated("keep-largest", Mesh()).mesh->empty());
}

TEST_CASE("keep the largest shell: of two that lie inside out, too") {
    Mesh pair = make_box({0, 0, 0}, {3, 3, 3});
    append(pair, make_box({5, 0, 0}, {6, 1, 1}));
    turn_over(pair);
    CHECK(signed_volume(*treated("keep-largest", pair).mesh) == Approx(-27));
}
