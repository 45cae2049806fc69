#pragma once

#include <cstdint>
#include <numeric>
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
    /// Numbers the sets 0, 1, ... by their lowest members; returns the number of sets.
    std::uint32_t number(std::vector<std::uint32_t>& number_of) {
        number_of.resize(parent_.size());
        std::uint32_t sets = 0;
        for (std::uint32_t i = 0; i < parent_.size(); ++i) number_of[i] = parent_[i] == i ? sets++ : number_of[find(i)];
        return sets;
    }

  private:
    std::vector<std::uint32_t> parent_;
};

}  // namespace anvil
