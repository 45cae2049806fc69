// Open surfaces that enclose nothing as they are, and are to be closed: what they become, and what cannot be closed.
#include "tests/support/mending.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

const MendOptions closing{.sheets = SheetRule::close};

/// The part of a sphere below a height, without its lid.
Mesh bowl(double height) {
    return without_top(combined(Operation::intersection,
                                {make_icosphere({0, 0, 0}, 10, 4), make_box({-20, -20, -20}, {20, 20, height})})
                           .mesh,
                       height);
}

}  // namespace

TEST_CASE("a bowl is closed by its lid: the volume of a spherical cap") {
    // pi h^2 (3 r - h) / 3; I. N. Bronstein, K. A. Semendjajew, Handbook of Mathematics, "Solids". The facets of the
    // sphere lie within: a bit less.
    for (const double height : {-6.0, -4.0, -1.0}) {
        const double h = 10 + height, cap = std::numbers::pi * h * h * (30 - h) / 3;
        const Mended left = mended(bowl(height)), closed = mended(bowl(height), closing);
        CHECK(left.sheet);
        CHECK(closed.after.print_ready);
        CHECK(!closed.sheet);
        const double volume = signed_volume(closed.mesh);
        CHECK(volume < cap);
        CHECK(volume == Approx(cap).epsilon(0.02));
        CHECK(closed.largest_move == 0);
    }
}

TEST_CASE("every hole of a sheet is filled, however large, also where long ones are to stay open") {
    // A short tube: two rims of 40 mm, walls of 80 mm2, lids of 200.
    Mesh tube = make_box({0, 0, 0}, {10, 10, 2});
    std::erase_if(tube.faces.raw(), [&](const Triangle& t) {
        const double z = tube.points[t[0]].z;
        return tube.points[t[1]].z == z && tube.points[t[2]].z == z;
    });
    CHECK(mended(tube).sheet);
    const Mended closed = mended(tube, {.longest_hole = 5, .sheets = SheetRule::close});
    CHECK(closed.after.print_ready);
    CHECK(signed_volume(closed.mesh) == Approx(200));
}

TEST_CASE("a sheet that is flat altogether cannot be closed, and that is said; beside a bowl it goes") {
    const Mesh plate = make_plate({0, 0, 30}, 3, 2);
    const Mended flat = mended(plate, closing);
    CHECK(flat.sheet);
    CHECK(std::ranges::any_of(
        flat.repairs, [](const Repaired& r) { return r.said == "It is flat: closing it would enclose nothing."; }));
    CHECK(flat.remains() == "It is flat, and encloses nothing; give it a thickness to print it.");
    CHECK(flat.mesh.faces.size() == plate.faces.size());
    Mesh plates = plate;
    append(plates, moved(plate, {0, 0, 5}));
    CHECK(mended(plates, closing).remains() ==
          "Each of its parts is flat, and encloses nothing; give them a thickness to print them.");
    Mesh both = bowl(-1);
    const double alone = signed_volume(mended(both, closing).mesh);
    append(both, plate);
    const Mended closed = mended(both, closing);
    CHECK(closed.after.print_ready);
    CHECK(closed.after.measures.shells == 1);
    CHECK(signed_volume(closed.mesh) == Approx(alone));
}

TEST_CASE("sheets beside solids are told apart") {
    Mesh both = bowl(-4);
    for (int k = 1; k < 4; ++k) append(both, moved(bowl(-4), {30.0 * k, 0, 0}));
    append(both, make_box({0, 30, 0}, {1, 31, 1}));
    const Mended left = mended(both);
    CHECK(left.sheet);
    CHECK(left.remains() == "Sheets that enclose nothing are left; close them or give them a thickness to print it.");
    CHECK(std::ranges::any_of(left.repairs, [](const Repaired& r) {
        return r.said == "4 sheets that enclose nothing have more area than the solids beside them: all stays open.";
    }));
    const Mended closed = mended(both, closing);
    CHECK(closed.after.print_ready);
    CHECK(closed.after.measures.shells == 5);
}

TEST_CASE("a bowl as an operand: a sheet that takes nothing away, or closed, which does") {
    const Mesh block = make_box({-15, -15, -15}, {15, 15, 15}), cut = bowl(-1);
    const Mesh* const operands[] = {&block, &cut};
    Progress progress;
    const auto whole = combine(Operation::difference, operands, progress);
    REQUIRE(whole);
    CHECK(signed_volume(whole->mesh) == Approx(27000));
    const auto hollowed = combine(Operation::difference, operands, progress, {}, Taken::closed);
    REQUIRE(hollowed);
    CHECK(findings_text(inspected(hollowed->mesh)) == "none");
    CHECK(signed_volume(hollowed->mesh) == Approx(27000 - signed_volume(mended(cut, closing).mesh)));
    CHECK(says(*hollowed, "It was open: 1 hole was closed"));
}
