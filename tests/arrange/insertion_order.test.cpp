#include "core/arrange/insertion_order.h"

#include <tbb/global_control.h>

#include <algorithm>

#include "core/arrange/arrangement.h"
#include "core/exact/stages.h"
#include "tests/support/star_prism.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

std::vector<PlanePoint> crowded(std::size_t count) {
    std::mt19937 random(7);
    std::normal_distribution<double> near(0, 1e-3);
    std::uniform_real_distribution<double> anywhere(-10, 10);
    std::vector<PlanePoint> points;
    for (std::uint32_t i = 0; i < count; ++i)
        points.push_back(i % 8 == 0 ? PlanePoint{anywhere(random), anywhere(random), i}
                                    : PlanePoint{near(random), near(random), i});
    return points;
}

std::vector<std::uint32_t> ids(const std::vector<PlanePoint>& points) {
    std::vector<std::uint32_t> out;
    for (const PlanePoint& p : points) out.push_back(p.id);
    return out;
}

double decisions(int corners) {
    const Mesh star = star_prism(corners);
    const Mesh* operand = &star;
    Progress progress;
    stage_counts() = {};
    REQUIRE(arrange(std::span(&operand, 1), progress, Taken::repaired));
    double sum = 0;
    for (const std::uint64_t n : stage_counts().decided) sum += static_cast<double>(n);
    return sum;
}

}  // namespace

TEST_CASE("Points are put in order whatever order they came in, each round about three times the one before") {
    std::vector<PlanePoint> points = crowded(5000), turned_round(points.rbegin(), points.rend());
    const auto ends = put_in_insertion_order(points);
    put_in_insertion_order(turned_round);
    CHECK(ids(points) == ids(turned_round));
    auto sorted = ids(points);
    std::ranges::sort(sorted);
    CHECK(std::ranges::adjacent_find(sorted) == sorted.end());
    CHECK(sorted.size() == 5000);
    REQUIRE(ends.size() > 3);
    CHECK(ends.back() == 5000);
    for (std::size_t i = 1; i < ends.size(); ++i) CHECK(ends[i - 1] == (ends[i] / 3));
    CHECK(put_in_insertion_order({}).empty());
}

TEST_CASE("In a round each point lies near the one before, where points crowd too") {
    std::vector<PlanePoint> points = crowded(8000);
    const auto ends = put_in_insertion_order(points);
    // The crowd is 1e-3 wide: a way through all of its points in no order would be about 1.8e-3 a step.
    double way = 0;
    std::size_t steps = 0;
    for (std::size_t i = ends[ends.size() - 2] + 1; i < points.size(); ++i) {
        const double u = points[i].u - points[i - 1].u, v = points[i].v - points[i - 1].v;
        if (std::hypot(points[i].u, points[i].v) > 5e-3 || std::hypot(points[i - 1].u, points[i - 1].v) > 5e-3)
            continue;
        way += std::hypot(u, v);
        ++steps;
    }
    CHECK(steps > 3000);
    CHECK(way / static_cast<double>(steps) < 2e-4);
}

TEST_CASE("Numbers by chance: each once, always the same") {
    auto order = by_chance(1000);
    CHECK(order == by_chance(1000));
    CHECK_FALSE(std::ranges::is_sorted(order));
    std::ranges::sort(order);
    for (std::uint32_t i = 0; i < 1000; ++i) CHECK(order[i] == i);
    CHECK(by_chance(0).empty());
}

TEST_CASE("A star prism takes decisions by the square of its corners, as it has crossings") {
    // Counted, not timed: three times the corners took twenty times the decisions when points and segments went in
    // side by side.
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);  // a thread counts for itself
    const double small = decisions(41), large = decisions(123);
    INFO(small << " and " << large);
    CHECK(large < 9 * 1.3 * small);
}
