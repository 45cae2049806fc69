// Sound bodies with defects put into them at random, one kind at a time and all together: mended, each has its volume
// back, within what the defect itself took away.
#include "core/inspect/compare.h"
#include "core/mend/mend.h"
#include "tests/support/defects.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A sphere of 10 mm whose faces are no longer than 1 mm: whatever happens to a few of its faces changes its surface by
/// less than that, and its volume by less than a hundredth.
Mesh body() { return make_icosphere({3, -2, 5}, 10, 4); }

void check_mended(const std::string& what, const Mesh& broken) {
    INFO(what);
    Progress progress;
    const auto done = mend(broken, whole_plan(), {}, progress);
    REQUIRE(done);
    INFO(done->remains());
    CHECK(done->after.print_ready);
    CHECK(signed_volume(done->mesh) == Approx(signed_volume(body())).epsilon(0.01));
    const auto distance = compare(body(), done->mesh, 0.5, progress);
    REQUIRE(distance);
    CHECK(distance->hausdorff() < 1.0);
}

}  // namespace

TEST_CASE("injected defects of one kind are mended, whichever kind") {
    for (int kind = 0; kind < defect_kinds; ++kind)
        for (unsigned seed = 0; seed < 4; ++seed) {
            Injector injector(body(), 100 * static_cast<unsigned>(kind) + seed);
            for (unsigned i = 0; i <= 4 * seed; ++i) injector.inject(kind);
            check_mended(std::string(defect_names[kind]) + ", seed " + std::to_string(seed), injector.mesh());
        }
}

TEST_CASE("injected mixtures of all kinds are mended") {
    for (unsigned seed = 0; seed < 12; ++seed) {
        Injector injector(body(), 5000 + seed);
        std::mt19937 random(seed);
        for (unsigned i = 0; i < 4 + 2 * seed; ++i)
            injector.inject(std::uniform_int_distribution<int>(0, defect_kinds - 1)(random));
        check_mended("mixture " + std::to_string(seed), injector.mesh());
    }
}
