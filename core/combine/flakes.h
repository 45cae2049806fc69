#pragma once

#include "core/combine/rounding.h"

namespace anvil {

/// Takes out closed shells of rounded faces that are thinner than a few places of the last digit, or than a few times
/// `grid` mm: rounding may have turned them inside out. Returns how many.
std::size_t drop_flakes(RoundedFaces& rounded, Precision precision, double grid);

}  // namespace anvil
