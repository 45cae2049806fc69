#pragma once

#include <atomic>
#include <cstdint>
#include <numeric>
#include <utility>
#include <vector>

namespace anvil {

/// Union and find over 0 .. n-1. The root of a set is its lowest member, so results do not depend on the order of
/// the calls.
class DisjointSets {
  public:
    explicit DisjointSets(std::size_t n) : parent_(n) { std::iota(parent_.begin(), parent_.end(), 0u); }

    std::uint32_t find(std::uint32_t i) {
        while (parent_[i] != i) i = parent_[i] = parent_[parent_[i]];
        return i;
    }
    void join(std::uint32_t a, std::uint32_t b) {
        a = find(a);
        b = find(b);
        if (a < b)
            parent_[b] = a;
        else
            parent_[a] = b;
    }
    /// The same from any thread, beside other calls of this kind. A root is always made a member of a set with a lower
    /// one, as in: R. Anderson, H. Woll, "Wait-free Parallel Algorithms for the Union-Find Problem" (1991).
    void join_beside_others(std::uint32_t a, std::uint32_t b) {
        for (;;) {
            a = root_beside_others(a);
            b = root_beside_others(b);
            if (a == b) return;
            if (a < b) std::swap(a, b);
            std::uint32_t known = a;
            if (std::atomic_ref(parent_[a]).compare_exchange_strong(known, b, std::memory_order_relaxed)) return;
        }
    }
    /// Numbers the sets 0, 1, ... by their lowest members; returns the number of sets.
    std::uint32_t number(std::vector<std::uint32_t>& number_of) {
        number_of.resize(parent_.size());
        std::uint32_t sets = 0;
        for (std::uint32_t i = 0; i < parent_.size(); ++i) number_of[i] = parent_[i] == i ? sets++ : number_of[find(i)];
        return sets;
    }

  private:
    std::uint32_t root_beside_others(std::uint32_t i) {
        constexpr auto relaxed = std::memory_order_relaxed;
        for (;;) {
            const std::uint32_t above = std::atomic_ref(parent_[i]).load(relaxed);
            if (above == i) return i;
            const std::uint32_t next = std::atomic_ref(parent_[above]).load(relaxed);
            if (next == above) return above;
            std::atomic_ref(parent_[i]).store(next, relaxed);
            i = next;
        }
    }

    std::vector<std::uint32_t> parent_;
};

}  // namespace anvil
