// Sorting by numbers, against the standard library's.
#include "core/base/sort.h"

#include <random>
#include <tuple>

#include "tests/support/support.h"

using namespace anvil;

namespace {

struct Numbered {
    std::uint32_t number = 0, rest = 0;
    bool operator==(const Numbered&) const = default;
};
std::uint32_t number(const Numbered& n) { return n.number; }
bool by_rest(const Numbered& a, const Numbered& b) { return a.rest < b.rest; }

std::vector<Numbered> sorted_plainly(std::vector<Numbered> list) {
    std::ranges::sort(list, {}, [](const Numbered& n) { return std::tuple(n.number, n.rest); });
    return list;
}

}  // namespace

TEST_CASE("lists are sorted by numbers, and merged, whether the numbers lie close together or far apart") {
    std::mt19937 random(5);
    for (const std::uint32_t range : {1u, 7u, 500u, 100000u, 0xffffffffu}) {
        for (const std::size_t size : {0u, 1u, 40u, 3000u}) {
            INFO(range << " " << size);
            std::vector<std::vector<Numbered>> lists(5);
            std::vector<Numbered> all;
            for (std::size_t i = 0; i < size; ++i) {
                const auto n = static_cast<std::uint32_t>(random() % range);
                all.push_back({n, static_cast<std::uint32_t>(random())});
                lists[random() % 4].push_back(all.back());  // the last one stays empty
            }
            const std::vector<Numbered> expected = sorted_plainly(all);
            CHECK(merged_by_number(lists, number, by_rest) == expected);
            sort_by_number(all, number, by_rest);
            CHECK(all == expected);
        }
    }
}
