#pragma once

#include "core/mesh/polygon.h"

namespace anvil {

/// The k-th of n points round a circle of radius 1, any k, n >= 1. What lies in another octant is the mirror image of a
/// point of the first one to the bit: quarters are exact, and so is every symmetry.
Point2 on_circle(int k, int n);

}  // namespace anvil
