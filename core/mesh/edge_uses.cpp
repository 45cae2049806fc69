#include "core/mesh/edge_uses.h"

#include <algorithm>
#include <limits>
#include <tuple>

#include "core/base/sort.h"

namespace anvil {
namespace {

bool by_other_end(const EdgeUse& a, const EdgeUse& b) { return std::tie(a.high, a.face) < std::tie(b.high, b.face); }

template <class Visit>
void for_each_use(std::span<const Triangle> faces, const Visit& visit) {
    for (std::uint32_t f = 0; f < faces.size(); ++f)
        for (std::size_t k = 0; k < 3; ++k) {
            const VertexId p = faces[f][k], q = faces[f][k == 2 ? 0 : k + 1];
            visit(EdgeUse{std::min(p, q), std::max(p, q), f, p < q});
        }
}

}  // namespace

std::vector<EdgeUse> edge_uses(std::span<const Triangle> faces) {
    std::vector<EdgeUse> uses;
    std::uint32_t low = std::numeric_limits<std::uint32_t>::max(), high = 0;
    for (const Triangle& t : faces)
        for (const VertexId v : t) low = std::min(low, v.value()), high = std::max(high, v.value());
    if (faces.size() < 64 || (high - low) / 8 > faces.size()) {
        uses.reserve(3 * faces.size());
        for_each_use(faces, [&](const EdgeUse& use) { uses.push_back(use); });
        sort_by_number(
            uses, [](const EdgeUse& u) { return u.low.value(); }, by_other_end);
        return uses;
    }
    // Each goes at once where its lower end's uses lie: no list to sort from is ever made.
    std::vector<std::uint32_t> end(std::size_t{high - low} + 2, 0);
    for_each_use(faces, [&](const EdgeUse& use) { ++end[use.low.value() - low + 1]; });
    for (std::size_t v = 1; v < end.size(); ++v) end[v] += end[v - 1];
    uses.resize(3 * faces.size());
    for_each_use(faces, [&](const EdgeUse& use) { uses[end[use.low.value() - low]++] = use; });
    for (std::size_t v = 0, from = 0; v + 1 < end.size(); from = end[v++]) {
        // Few uses share an end: put in order one by one.
        if (end[v] - from > 24) {
            std::sort(uses.begin() + static_cast<long>(from), uses.begin() + static_cast<long>(end[v]), by_other_end);
            continue;
        }
        for (std::size_t i = from + 1; i < end[v]; ++i) {
            const EdgeUse use = uses[i];
            std::size_t to = i;
            for (; to > from && by_other_end(use, uses[to - 1]); --to) uses[to] = uses[to - 1];
            uses[to] = use;
        }
    }
    return uses;
}

}  // namespace anvil
