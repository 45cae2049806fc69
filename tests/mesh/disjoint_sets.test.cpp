#include "core/mesh/disjoint_sets.h"

#include <random>
#include <thread>

#include "tests/support/support.h"

using namespace anvil;

TEST_CASE("sets joined from several threads are those that one thread joins, each under its lowest member") {
    constexpr std::uint32_t n = 20000;
    const std::uint32_t seed = test::seed_of_run();
    CAPTURE(seed);
    std::mt19937 random(seed);
    // Long chains and chance: as many pairs as leave some thousand sets, most of them small.
    std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs;
    for (std::uint32_t i = 0; i < n; ++i) pairs.emplace_back(random() % n, random() % n);
    for (std::uint32_t i = 0; i + 1 < n / 4; ++i) pairs.emplace_back(i + 1, i);
    std::ranges::shuffle(pairs, random);

    DisjointSets alone(n), together(n);
    for (const auto& [a, b] : pairs) alone.join(a, b);
    constexpr std::size_t threads = 4;
    std::vector<std::jthread> running;
    for (std::size_t t = 0; t < threads; ++t)
        running.emplace_back([&, t] {
            for (std::size_t i = t; i < pairs.size(); i += threads)
                together.join_beside_others(pairs[i].first, pairs[i].second);
        });
    running.clear();

    std::vector<std::uint32_t> expected, found;
    CHECK(together.number(found) == alone.number(expected));
    CHECK(found == expected);
    for (std::uint32_t i = 0; i < n; ++i)
        if (together.find(i) != alone.find(i) || together.find(i) > i) FAIL("the root of " << i);
}
