#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "core/base/vec3.h"

namespace anvil {

/// For each point, the number of its first bit-equal twin's group; groups are numbered in order of first
/// appearance. 0 and -0 count as equal.
struct WeldMap {
    std::vector<std::uint32_t> group;
    std::uint32_t groups = 0;
};
WeldMap weld_map(std::span<const Vec3> points);

}  // namespace anvil
