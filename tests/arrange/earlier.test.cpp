// What is taken over from an earlier arrangement is, bit for bit, what would be worked out anew.
#include "core/arrange/earlier.h"

#include <random>

#include "core/arrange/operands.h"
#include "core/mesh/transform.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

using List = std::vector<std::shared_ptr<const Operand>>;

Arrangement arranged(const List& list, const Arrangement* before = nullptr) {
    Progress progress;
    auto made = arrange(list, progress, nullptr, before);
    INFO((made ? "" : made.error().sentence()));
    REQUIRE(made);
    return std::move(*made);
}

void check_same(const Arrangement& a, const Arrangement& b) {
    REQUIRE(a.points.size() == b.points.size());
    bool same = true;
    for (std::size_t v = 0; v < a.points.size(); ++v) {
        const VertexId id(v);
        same = same && a.points.same_as(id) == b.points.same_as(id) && a.points.approx(id) == b.points.approx(id) &&
               same_point(a.points.view(id), b.points.view(id));
    }
    CHECK(same);
    CHECK(a.active.faces == b.active.faces);
    CHECK(a.faces.corners == b.faces.corners);
    CHECK(a.faces.plane == b.faces.plane);
    CHECK(a.faces.of_active == b.faces.of_active);
    REQUIRE(a.faces.source == b.faces.source);
    REQUIRE(a.faces.sources.size() == b.faces.sources.size());
    for (std::uint32_t k = 0; k < a.faces.sources.size(); ++k)
        same = same && std::ranges::equal(a.faces.sources[k], b.faces.sources[k]);
    CHECK(same);
    CHECK(a.cells.of_face == b.cells.of_face);
    CHECK(a.cells.of_patch == b.cells.of_patch);
    CHECK(a.cells.winding == b.cells.winding);
}

Clusters clusters_of(const Arrangement& a) { return find_clusters(a.soup, a.crossings, a.active); }

/// How many clusters are found as they were.
std::size_t taken_over(const Arrangement& now, const Arrangement& before) {
    EarlierArrangement earlier(before, now.soup);
    earlier.match(now.crossings.definitions);
    const Clusters clusters = clusters_of(now);
    return static_cast<std::size_t>(std::ranges::count_if(clusters.list, [&](const Cluster& c) {
        return earlier.find(c, clusters, now.active, now.crossings, now.points) != nullptr;
    }));
}

}  // namespace

TEST_CASE("where the last of many operands moved the others' faces are split as they were") {
    List list{ready(make_icosphere({0, 0, 0}, 10, 4))};
    std::vector<Mesh> knobs;
    for (int k = 0; k < 12; ++k) {
        const double angle = 0.5 * k;
        knobs.push_back(make_icosphere(Vec3{std::cos(angle), std::sin(angle), 0} * 10, 1, 2));
        list.push_back(ready(knobs.back()));
    }
    const Arrangement before = arranged(list);
    list.back() = ready(transformed(knobs.back(), translation({0, 0, 0.01})));
    const Arrangement now = arranged(list, &before);
    check_same(now, arranged(list));
    const std::size_t all = clusters_of(now).list.size(), taken = taken_over(now, before);
    CHECK(taken * 13 > all * 11);
    CHECK(taken < all);
    // One in the middle, which gives all points behind its own other numbers.
    List other = list;
    other[5] = ready(transformed(knobs[4], translation({0, 0, 0.2})));
    const Arrangement later = arranged(other, &now);
    check_same(later, arranged(other));
    CHECK(taken_over(later, now) * 13 > clusters_of(later).list.size() * 10);
    // One more, and one less.
    other.push_back(ready(make_icosphere({0, 0, 10}, 1, 2)));
    const Arrangement more = arranged(other, &later);
    check_same(more, arranged(other));
    CHECK(taken_over(more, later) * 13 > clusters_of(more).list.size() * 11);
    other.pop_back();
    check_same(arranged(other, &more), later);
}

TEST_CASE("random heaps: flush, coincident, folded and crossing bodies, moved one after the other") {
    const std::uint32_t seed = seed_of_run();
    INFO("seed " << seed);
    std::mt19937 random(seed);
    auto chance = [&](int n) { return static_cast<int>(random() % static_cast<unsigned>(n)); };
    auto body = [&] {
        const Vec3 at{0.5 * chance(6), 0.5 * chance(6), 0.5 * chance(6)};
        switch (chance(4)) {
            case 0: return make_icosphere(at, 1 + 0.25 * chance(3), 2);
            case 1: {  // two boxes in one, which cross or lie on each other
                Mesh both = make_box(at, at + Vec3{1, 1, 1});
                append(both, make_box(at + Vec3{0.5, 0, 0}, at + Vec3{1.5, 1, 1}));
                return both;
            }
            case 2: return make_plate(at, 3, 3);
            default: return make_box(at, at + Vec3{1.0 + chance(2), 1.0 + chance(3), 1.5});
        }
    };
    for (int heap = 0; heap < 25; ++heap) {
        INFO("heap " << heap);
        List list;
        for (int k = 0, n = 2 + chance(6); k < n; ++k) list.push_back(ready(body()));
        std::vector<Arrangement> known;
        known.push_back(arranged(list));
        for (int edit = 0; edit < 6; ++edit) {
            const auto where = static_cast<std::size_t>(chance(static_cast<int>(list.size())));
            if (chance(4) == 0)
                list.push_back(ready(body()));
            else if (chance(5) == 0 && list.size() > 2)
                list.erase(list.begin() + static_cast<long>(where));
            else
                list[where] = ready(body());
            const Arrangement& before = known[static_cast<std::size_t>(chance(static_cast<int>(known.size())))];
            Arrangement now = arranged(list, &before);
            check_same(now, arranged(list));
            known.push_back(std::move(now));
        }
    }
}
