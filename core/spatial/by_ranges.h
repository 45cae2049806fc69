#pragma once

#include <tbb/parallel_for.h>

#include <algorithm>
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

/// Brings the elements of several lists, one behind the other, into ranges, so that each range can be sorted by a
/// thread of its own. `key(element)`: below `keys`.
template <class T, class Key>
InRanges<T> by_ranges(std::span<const std::vector<T>> lists, std::size_t keys, const Key& key) {
    std::size_t count = 0;
    for (const auto& list : lists) count += list.size();
    const std::size_t ranges = std::clamp(count / 1024, std::size_t{1}, std::size_t{1024}), width = keys / ranges + 1;
    auto range_of = [&](const T& t) { return key(t) / width; };
    std::vector<std::vector<std::size_t>> place(lists.size());  // counts, and then where the next one goes
    tbb::parallel_for(std::size_t{0}, lists.size(), [&](std::size_t k) {
        place[k].assign(ranges, 0);
        for (const T& t : lists[k]) ++place[k][range_of(t)];
    });
    InRanges<T> out;
    std::size_t next = 0;
    for (std::size_t r = 0; r < ranges; ++r) {
        out.start.push_back(next);
        for (auto& own : place) next += std::exchange(own[r], next);
    }
    out.start.push_back(next);
    out.all.resize(next);
    tbb::parallel_for(std::size_t{0}, lists.size(), [&](std::size_t k) {
        for (const T& t : lists[k]) out.all[place[k][range_of(t)]++] = t;
    });
    return out;
}

}  // namespace anvil
