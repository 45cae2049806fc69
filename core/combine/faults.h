#pragma once

#include "core/combine/rounding.h"

namespace anvil {

/// Per rounded face: whether it degenerates or meets another face where it should not. Only faces with a moved corner,
/// and those that they meet, can. Empty where all is well.
std::vector<char> find_faults(const RoundedFaces& rounded);

/// Whether no rounded face meets a face of the extraction's patches where it should not. Rounded points that fall on a
/// patch's point become that point.
bool fits_patches(const Arrangement& arrangement, const Extraction& extraction, RoundedFaces& rounded);

}  // namespace anvil
