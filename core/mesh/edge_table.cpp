#include "core/mesh/edge_table.h"

#include <algorithm>

namespace anvil {

EdgeTable::EdgeTable(std::span<const Triangle> faces, std::size_t vertices) : faces_(faces) {
    auto ends = [&](std::uint32_t h) { return std::minmax(faces[h / 3][h % 3], faces[h / 3][(h % 3 + 1) % 3]); };

    // Count, then fill one bucket per lower vertex; a bucket holds few half-edges and is sorted on its own.
    const std::uint32_t halves = static_cast<std::uint32_t>(faces.size() * 3);
    std::vector<std::uint32_t> start(vertices + 1, 0);
    for (std::uint32_t h = 0; h < halves; ++h)
        if (auto [low, high] = ends(h); low != high) ++start[low.value() + 1];
    for (std::size_t v = 0; v < vertices; ++v) start[v + 1] += start[v];
    struct Entry {
        VertexId high;
        std::uint32_t half;
    };
    std::vector<Entry> entries(start[vertices]);
    std::vector<std::uint32_t> next(start.begin(), start.end() - 1);
    for (std::uint32_t h = 0; h < halves; ++h)
        if (auto [low, high] = ends(h); low != high) entries[next[low.value()]++] = {high, h};

    constexpr long few = 24;
    uses_.resize(entries.size());
    edge_of_.resize(halves);
    edges_.reserve(entries.size() / 2);
    for (std::size_t v = 0; v < vertices; ++v) {
        const auto from = entries.begin() + start[v], to = entries.begin() + start[v + 1];
        auto less = [](const Entry& a, const Entry& b) { return a.high != b.high ? a.high < b.high : a.half < b.half; };
        if (to - from > few) {
            std::sort(from, to, less);
        } else {  // by insertion: a handful is sorted before a general sort has started
            for (auto i = from; i != to; ++i)
                for (auto j = i; j != from && less(*j, *(j - 1)); --j) std::iter_swap(j, j - 1);
        }
        for (std::uint32_t i = start[v]; i < start[v + 1]; ++i) {
            if (i == start[v] || entries[i].high != entries[i - 1].high)
                edges_.push_back({VertexId(v), entries[i].high, i, 0});
            ++edges_.back().count;
            uses_[i] = entries[i].half;
            edge_of_[entries[i].half] = EdgeId(edges_.size() - 1);
        }
    }
}

}  // namespace anvil
