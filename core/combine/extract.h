#pragma once

#include "core/arrange/arrangement.h"
#include "core/combine/operation.h"

namespace anvil {

/// A surface picked out of an arrangement: sub-faces wound so that the inside is behind them.
struct Extraction {
    std::vector<Triangle> corners;   ///< in the numbers of the arrangement's points
    std::vector<FaceSource> source;  ///< per face: where it comes from; `reversed` where it is turned over
};

/// Step 6: the boundary between the cells that `steps` keep and the others.
Extraction extract(const Arrangement& arrangement, std::span<const CombineStep> steps);

}  // namespace anvil
