#pragma once

#include <bit>
#include <cstdint>
#include <span>
#include <vector>

#include "core/base/vec3.h"

namespace anvil {

/// Of points by their coordinates; 0 and -0 are the same.
struct CoordinateHash {
    std::size_t operator()(const Vec3& p) const {
        auto bits = [](double v) { return std::bit_cast<std::uint64_t>(v + 0.0); };  // + 0.0 makes -0 to 0
        std::uint64_t h = bits(p.x) * 0x9e3779b97f4a7c15ull;
        h = (h ^ (h >> 32) ^ bits(p.y)) * 0xbf58476d1ce4e5b9ull;
        h = (h ^ (h >> 29) ^ bits(p.z)) * 0x94d049bb133111ebull;
        return h ^ (h >> 32);
    }
};

/// For each point, the number of its first bit-equal twin's group; groups are numbered in order of first
/// appearance. 0 and -0 count as equal.
struct WeldMap {
    std::vector<std::uint32_t> group;
    std::uint32_t groups = 0;
};
WeldMap weld_map(std::span<const Vec3> points);

}  // namespace anvil
