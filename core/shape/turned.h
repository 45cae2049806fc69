#pragma once

#include <span>

#include "core/mesh/polygon.h"
#include "core/shape/solid.h"

namespace anvil {

/// Turns a profile of (radius, z) round the z axis, counter-clockwise in that plane, radius >= 0: `n` faces around. The
/// edge from point k to the next is side `sides[k]`.
Solid turned(std::span<const Point2> profile, std::span<const std::uint32_t> sides, int n);

}  // namespace anvil
