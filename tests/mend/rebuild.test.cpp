// Regions put anew by hand, and what is offered where a plan cannot finish.
#include "core/io/mesh_file.h"
#include "core/mend/hand_tools.h"
#include "tests/mend/plan.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Mended rebuilt(const Mended& left, const MendOptions& options) {
    Progress progress;
    auto out = mend_by_hand(left.mesh, rebuild_faults(left), options, progress);
    REQUIRE(out);
    return std::move(*out);
}
/// Two bodies through each other, one of them with a hole far from there.
Mesh crossing_and_open() {
    Mesh ball = make_icosphere({0, 0, 0}, 10, 4);
    std::erase_if(ball.faces.raw(), [&](const Triangle& t) { return ball.points[t[0]].z < -9.5; });
    append(ball, turned(make_box({7, -2, -2}, {15, 2, 2}), 0.2, {1, 1, 1}));
    return ball;
}

}  // namespace

TEST_CASE("crossings in a part whose holes are left open are offered to be rebuilt, there and nowhere else") {
    const MendOptions options{.longest_hole = 1};
    const Mended left = mended_by_plan(crossing_and_open(), options);
    REQUIRE(left.refused());
    REQUIRE(left.after.count(FindingKind::self_intersections) > 0);
    REQUIRE(wants_rebuilding(left));
    const auto edits = rebuild_faults(left);
    REQUIRE(edits.size() == 1);
    CHECK(edits[0].tool == HandTool::rebuild_region);
    const Mended out = rebuilt(left, options);
    REQUIRE(out.by_hand.size() == 1);
    INFO(out.by_hand[0].said);
    CHECK(!out.by_hand[0].refused);
    CHECK(out.by_hand[0].said.starts_with("A region of "));
    CHECK(out.after.count(FindingKind::self_intersections) == 0);
    CHECK(out.after.count(FindingKind::holes) == 1);
    CHECK(out.after.fault_kinds() == 2);  // the hole and its edges
    CHECK(!wants_rebuilding(out));
    CHECK(out.largest_move < 0.1);
    // With all holes filled the plan finishes by itself.
    CHECK(!wants_rebuilding(mended_by_plan(crossing_and_open(), {})));
}

TEST_CASE("places far from each other are regions of their own, near ones one; never more than a dozen") {
    const MendOptions options{.longest_hole = 1};
    Mesh many = crossing_and_open();
    for (int k = 0; k < 40; ++k) {
        const double x = 100 + 20 * k;
        append(many, make_box({x, 0, 0}, {x + 4, 4, 4}));
        append(many, make_box({x + 2, 1, 1}, {x + 6, 3, 3}));
    }
    const Mended left = mended_by_plan(many, options);
    const auto edits = rebuild_faults(left);
    CHECK(edits.size() > 1);
    CHECK(edits.size() <= 12);
    for (const Finding& f : left.after.findings) {
        if (f.kind != FindingKind::self_intersections) continue;
        CHECK(std::ranges::any_of(edits, [&](const HandEdit& e) {
            Box box;
            for (const Vec3& p : e.points) box.add(p);
            Box at;
            at.add(f.place);
            return at.meets(box);
        }));
    }
}

TEST_CASE("a region by hand: in a scanned mess one sound surface; where nothing is it says so") {
    Progress progress;
    Mesh mesh = welded(make_box({0, 0, 0}, {10, 10, 10}));
    const HandEdit away{.tool = HandTool::rebuild_region, .points = {{50, 50, 50}, {60, 60, 60}}};
    const auto nothing = edit_by_hand(mesh, away, {}, progress);
    REQUIRE(nothing);
    CHECK(nothing->refused);
    CHECK(nothing->said == "Nothing is there to be rebuilt.");
    Mesh sheet = welded(make_plate({0, 0, 0}, 10, 10));
    const auto refused =
        edit_by_hand(sheet, {.tool = HandTool::rebuild_region, .points = {{0, 0, -1}, {1, 1, 1}}}, {}, progress);
    REQUIRE(refused);
    CHECK(refused->refused);
    CHECK(refused->said.find("sheet") != std::string::npos);
    CHECK(sheet.faces.size() == 2);
    const HandEdit small{.tool = HandTool::rebuild_region, .points = {{8, 8, 8}, {11, 11, 11}}, .cell = 0.5};
    const auto done = edit_by_hand(mesh, small, {}, progress);
    REQUIRE(done);
    CHECK(!done->refused);
    CHECK(done->said.find("in cells of 0.5 mm") != std::string::npos);
    CHECK(findings_text(inspected(mesh)) == "none");
    CHECK(signed_volume(mesh) == Approx(1000).epsilon(1e-3));
    progress.cancel();
    CHECK(!edit_by_hand(mesh, small, {}, progress));
}

TEST_CASE("real meshes that cross themselves, their holes left open: rebuilding takes the crossings away") {
    std::size_t tried = 0;
    for (const auto& file : real_meshes()) {
        auto mesh = read_mesh(file);
        if (!mesh || mesh->faces.size() > 3000) continue;
        const MendOptions options{.longest_hole = 0};
        const Mended left = mended_by_plan(*mesh, options);
        if (!wants_rebuilding(left)) continue;
        INFO(file.filename().string());
        ++tried;
        const Mended out = rebuilt(left, options);
        std::string said;
        for (const HandDone& done : out.by_hand) said += done.said + "\n";
        INFO(said);
        CHECK(out.after.count(FindingKind::self_intersections) == 0);
        CHECK(!wants_rebuilding(out));
    }
    CHECK(tried > 0);
}
