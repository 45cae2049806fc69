// What was proven of an earlier result is not proven again: what is found is, all the same, what would be found anew.
#include "core/combine/proven_faces.h"

#include <random>

#include "core/arrange/operands.h"
#include "core/combine/faults.h"
#include "core/mesh/transform.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

using List = std::vector<std::shared_ptr<const Operand>>;

/// The union of all operands, or the first less the others, rounded.
struct Rounded {
    Arrangement arrangement;
    Extraction extraction;
    RoundedSurface surface;
};
Rounded rounded(const List& list, Operation operation) {
    Progress progress;
    auto made = arrange(list, progress);
    REQUIRE(made);
    std::vector<CombineStep> steps;
    for (std::uint32_t o = 1; o < list.size(); ++o) steps.push_back({operation, o, {}});
    Rounded out{std::move(*made), {}, {}};
    out.extraction = extract(out.arrangement, steps).front();
    out.surface = round_points(out.arrangement, out.extraction, Precision::double_precision, true, progress);
    return out;
}

FreshFaults proven_anew(const Rounded& r) {
    Progress progress;
    const auto faults = find_faults(r.surface, progress);
    REQUIRE(faults);
    return {*faults, fit_to_patches(r.arrangement, r.extraction, r.surface.faces, r.surface.tree, progress)};
}

std::vector<std::pair<std::uint32_t, VertexId>> sorted(const std::vector<PatchFit::Landing>& landings) {
    std::vector<std::pair<std::uint32_t, VertexId>> out;
    for (const PatchFit::Landing& l : landings) out.emplace_back(l.point, l.input);
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

void check_same(const FreshFaults& a, const FreshFaults& b) {
    CHECK(a.faults.pairs == b.faults.pairs);
    CHECK(a.faults.flat == b.faults.flat);
    CHECK(a.fit.misfits == b.fit.misfits);
    CHECK(sorted(a.fit.landings) == sorted(b.fit.landings));
}

bool is_clean(const FreshFaults& f) { return f.faults.empty() && f.fit.misfits.empty() && f.fit.landings.empty(); }

/// Knobs round the equator of a ball.
struct Knobs {
    List list{ready(make_icosphere({0, 0, 0}, 10, 4))};
    std::vector<Mesh> knobs;
    explicit Knobs(int count) {
        for (int k = 0; k < count; ++k) {
            const double angle = 6.283185307179586 * k / count;
            knobs.push_back(make_icosphere(Vec3{std::cos(angle), std::sin(angle), 0.001 * k} * 10, 0.8, 2));
            list.push_back(ready(knobs.back()));
        }
    }
};

}  // namespace

TEST_CASE("where one of many operands moved, little is proven again") {
    for (const Operation operation : {Operation::union_of, Operation::difference}) {
        Knobs all(30);
        const Rounded before = rounded(all.list, operation);
        REQUIRE(is_clean(proven_anew(before)));
        const ProvenFaces proven(before.arrangement, before.extraction, before.surface.faces);
        CHECK(std::ranges::count(proven.among(before.surface.faces), 1) ==
              static_cast<long>(before.surface.faces.faces.size()));
        all.list[7] = ready(transformed(all.knobs[6], translation({0, 0, 0.01})));
        const Rounded now = rounded(all.list, operation);
        const auto fresh = find_fresh(now.arrangement, now.extraction, now.surface.faces, proven);
        REQUIRE(fresh);
        CHECK_FALSE(fresh->sub_faces.empty());
        CHECK(30 * fresh->sub_faces.size() < 2 * now.surface.faces.faces.size());
        Progress progress;
        const auto found = prove_fresh(now.arrangement, now.extraction, now.surface.faces, *fresh, progress);
        REQUIRE(found);
        check_same(*found, proven_anew(now));
    }
}

TEST_CASE("faults of what moved are found beside what was proven") {
    // The two layers that the knob makes with its neighbour are too near to each other to be rounded apart.
    Knobs all(30);
    const Rounded before = rounded(all.list, Operation::difference);
    const ProvenFaces proven(before.arrangement, before.extraction, before.surface.faces);
    bool any = false;
    for (const double by : {1e-13, 1e-14, 3e-15, 1e-15}) {
        List list = all.list;
        list[9] = ready(transformed(all.knobs[9], translation({by, -by, 0.5 * by})));
        const Rounded now = rounded(list, Operation::difference);
        const auto fresh = find_fresh(now.arrangement, now.extraction, now.surface.faces, proven);
        REQUIRE(fresh);
        Progress progress;
        const auto found = prove_fresh(now.arrangement, now.extraction, now.surface.faces, *fresh, progress);
        REQUIRE(found);
        check_same(*found, proven_anew(now));
        any = any || !is_clean(*found);
    }
    CHECK(any);
}

TEST_CASE("bodies moved one after the other, near to others or far: the same faults, proven anew or not") {
    const std::uint32_t seed = seed_of_run();
    INFO("seed " << seed);
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> any(-1, 1);
    auto chance = [&](unsigned n) { return random() % n; };
    int tried = 0;
    for (int heap = 0; heap < 6; ++heap) {
        INFO("heap " << heap);
        const Operation operation = chance(2) == 0 ? Operation::union_of : Operation::difference;
        Knobs all(24);
        std::unique_ptr<ProvenFaces> proven;
        for (int edit = 0; edit < 8; ++edit) {
            const std::size_t which = chance(24), other = chance(3) == 0 ? chance(24) : which;
            const double far = std::pow(10, -1 - static_cast<int>(chance(15)));
            if (edit > 0)
                all.list[which + 1] = ready(
                    transformed(all.knobs[other], translation(Vec3{any(random), any(random), any(random)} * far)));
            const Rounded now = rounded(all.list, operation);
            const FreshFaults expected = proven_anew(now);
            const auto fresh =
                proven ? find_fresh(now.arrangement, now.extraction, now.surface.faces, *proven) : std::nullopt;
            if (fresh) {
                Progress progress;
                const auto found = prove_fresh(now.arrangement, now.extraction, now.surface.faces, *fresh, progress);
                REQUIRE(found);
                check_same(*found, expected);
            }
            tried += fresh.has_value();
            if (is_clean(expected))
                proven = std::make_unique<ProvenFaces>(now.arrangement, now.extraction, now.surface.faces);
        }
    }
    CHECK(tried > 20);  // of 42
}
