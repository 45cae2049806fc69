#pragma once

#include <gmp.h>

#include "core/exact/homogeneous_point.h"

namespace anvil {

/// A homogeneous point in one stretch of memory, no longer than its digits. Those that a thread packs one after the
/// other share blocks, each given back with the last of its points: an arrangement keeps up to a million.
using PackedPoint = const mp_limb_t;

/// To be given back by `release`.
PackedPoint* packed(const HomogeneousPoint& p);
PackedPoint* copy_of(PackedPoint* p);
HomogeneousPoint unpacked(PackedPoint* p);
/// From any thread. `p`: may be null.
void release(PackedPoint* p) noexcept;

}  // namespace anvil
