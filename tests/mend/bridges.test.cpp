// Borders that run near each other, joined by a strip.
#include "core/mend/mend.h"
#include "tests/support/mending.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A body with a narrow pocket round it: two shells of a box, one in the other, each open at the top.
Mesh double_walled(double gap) {
    auto open = [](const Vec3& low, const Vec3& high) {
        Mesh m = make_box(low, high);
        std::erase_if(m.faces.raw(), [&](const Triangle& t) {
            return m.points[t[0]].z == high.z && m.points[t[1]].z == high.z && m.points[t[2]].z == high.z;
        });
        return m;
    };
    Mesh m = open({0, 0, 0}, {20, 20, 10});
    Mesh inner = open({gap, gap, gap}, {20 - gap, 20 - gap, 10});
    turn_over(inner);
    append(m, inner);
    return m;
}

}  // namespace

TEST_CASE("a cup whose two walls end apart gets a rim between them, in place of two lids") {
    const Mesh cup = double_walled(1);
    const Mended bridged = mended(cup, {.bridge_within = 1.5});
    INFO(findings_text(bridged.after));
    CHECK(bridged.after.print_ready);
    CHECK(signed_volume(bridged.mesh) == Approx(20 * 20 * 10 - 18 * 18 * 9));
    for (const Repaired& r : bridged.repairs)
        if (r.repair == Repair::bridges) CHECK(r.said == "1 pair of borders was bridged with 8 faces.");
    for (const Repaired& r : mended(cup, {.bridge_within = 0.9}).repairs)
        if (r.repair == Repair::bridges) CHECK(r.changed == 0);
}

TEST_CASE("of several borders the nearest pairs are bridged; a chosen place limits it to its border") {
    Mesh two = double_walled(1);
    append(two, moved(double_walled(1), {50, 0, 0}));
    Progress progress;
    Mesh own = welded(two);
    const auto both = bridge_near_borders(own, {.bridge_within = 1.5}, progress);
    REQUIRE(both);
    CHECK(both->changed == 2);
    CHECK(inspected(own).print_ready);
    Mesh one = welded(two);
    const auto chosen =
        bridge_near_borders(one, {.bridge_within = 1.5, .places = {{50, 0, 10}, {70, 0, 10}}}, progress);
    REQUIRE(chosen);
    CHECK(chosen->changed == 1);
    CHECK(inspected(one).count(FindingKind::holes) == 2);
}
