#pragma once

#include <tbb/parallel_for.h>

#include <algorithm>
#include <bit>
#include <span>
#include <utility>
#include <vector>

namespace anvil {

/// Elements by ranges of their keys, in the order of these; within a range in the order in which they came.
template <class T>
struct InRanges {
    std::vector<T> all;
    std::vector<std::size_t> start;  ///< per range, and the end
    std::size_t size() const { return start.size() - 1; }
    std::span<T> range(std::size_t r) { return std::span(all).subspan(start[r], start[r + 1] - start[r]); }
};

/// Brings elements that come in blocks, one behind the other, into ranges, so that each range can be sorted by a thread
/// of its own. `for_each(block, visit)` calls visit(element) for each of a block; it is called twice, from any thread,
/// so that no lists have to be made. `key(element)`: below `keys`. About `count` elements are to come.
template <class T, class Key, class ForEach>
InRanges<T> by_ranges(std::size_t blocks, std::size_t count, std::size_t keys, const Key& key,
                      const ForEach& for_each) {
    const std::size_t wanted = std::clamp(count / 1024, std::size_t{1}, std::size_t{1024});
    const auto shift = static_cast<int>(std::bit_width(keys / wanted));  // as wide as a power of two: no division
    const std::size_t ranges = (keys >> shift) + 1;
    auto range_of = [&](const T& t) { return std::size_t{key(t)} >> shift; };
    std::vector<std::vector<std::size_t>> place(blocks);  // counts, and then where the next one goes
    tbb::parallel_for(std::size_t{0}, blocks, [&](std::size_t k) {
        place[k].assign(ranges, 0);
        for_each(k, [&](const T& t) { ++place[k][range_of(t)]; });
    });
    InRanges<T> out;
    std::size_t next = 0;
    for (std::size_t r = 0; r < ranges; ++r) {
        out.start.push_back(next);
        for (auto& own : place) next += std::exchange(own[r], next);
    }
    out.start.push_back(next);
    out.all.resize(next);
    tbb::parallel_for(std::size_t{0}, blocks,
                      [&](std::size_t k) { for_each(k, [&](const T& t) { out.all[place[k][range_of(t)]++] = t; }); });
    return out;
}

}  // namespace anvil
