#pragma once

#include "core/combine/settle.h"

namespace anvil {

/// Moves the parts of a result that touch each other apart, by the smallest step, from a few places of the last digit
/// up, that proves clean. Where none does, they are skins about as thin as a digit of the coordinates: faces there go
/// to coarser grids, on which such skins vanish, until what is left can be moved apart. Where no way back is free of
/// crossings at all, a small body is cut out round the contact. Leaves the result as it is, with no step, where nothing
/// helps. Fails only where it was stopped, as does the other.
Result<void> separate_contacts(Settled& settled, const Pinches& pinches, Precision precision, Progress& progress);

/// Adds small bodies where a result touches itself. Where none holds it together soundly, it is separated.
Result<void> join_contacts(Settled& settled, const Pinches& pinches, Precision precision, Progress& progress);

}  // namespace anvil
