#pragma once

#include "core/combine/pinches.h"
#include "core/combine/settle.h"

namespace anvil {

/// Moves the parts of a result that touch each other apart, place by place, by the smallest step, from a few places of
/// the last digit up, that proves clean. Where none does, they are skins about as thin as a digit of the coordinates:
/// faces there go to coarser grids, on which such skins vanish, until what is left can be moved apart. Where no way
/// back is free of crossings at all, a small body is cut out round the contact. Returns whether it touches itself
/// nowhere any more. Fails only where it was stopped, as does the other.
Result<bool> separate_contacts(Settled& settled, const Pinches& pinches, Precision precision, const Attempt& attempt,
                               Progress& progress);

/// Adds small bodies where a result touches itself. Where none holds it together soundly, it is separated.
Result<bool> join_contacts(Settled& settled, const Pinches& pinches, Precision precision, const Attempt& attempt,
                           Progress& progress);

}  // namespace anvil
