#pragma once

#include "core/combine/extract.h"
#include "core/combine/pinches.h"

namespace anvil {

/// Sub-faces that rounding their corners turns over, the first so many of them at most: where there is one, there are
/// faults, as good as surely.
std::vector<FaceSource> turned_over(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                                    std::size_t most);

}  // namespace anvil
