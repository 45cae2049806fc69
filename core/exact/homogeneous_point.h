#pragma once

#include "core/exact/dyadic.h"

namespace anvil {

/// An exact point (x / w, y / w, z / w) with w > 0.
struct HomogeneousPoint {
    Dyadic x, y, z, w;
    const Dyadic& operator[](int axis) const { return axis == 0 ? x : axis == 1 ? y : z; }
};

}  // namespace anvil
