#pragma once

#include "core/combine/rounding.h"

namespace anvil {

/// Leaves the boundary of what closed faces are wound around more than 0 times, less shells thinner than four places of
/// the last digit (see flakes.h). False, and all is as it was, where they do not close. Precondition: they are proven
/// to cross nowhere. Fails only where it was stopped.
Result<bool> keep_enclosed(RoundedFaces& faces, Precision precision, Progress& progress);

}  // namespace anvil
