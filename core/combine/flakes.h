#pragma once

#include "core/combine/rounding.h"

namespace anvil {

/// Takes out closed shells of rounded faces that are thinner than a few places of the last digit, or than a few times
/// `grid` mm: rounding may have turned them inside out. How thick they were counts as a move. Returns how many.
std::size_t drop_flakes(RoundedFaces& rounded, Precision precision, double grid);

}  // namespace anvil
