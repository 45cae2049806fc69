#pragma once

#include "core/arrange/arrangement.h"
#include "core/combine/operation.h"

namespace anvil {

/// The surface of one piece, picked out of an arrangement: sub-faces wound so that the inside is behind them.
struct Extraction {
    std::vector<Triangle> corners;   ///< in the numbers of the arrangement's points
    std::vector<FaceSource> source;  ///< per face: where it comes from; `reversed` where it is turned over
};

/// Step 6: the boundaries of the pieces that `steps` make, one after the other. A wall between two pieces is in both,
/// once from each side. There is always one piece at least, if only an empty one.
std::vector<Extraction> extract(const Arrangement& arrangement, std::span<const CombineStep> steps);

}  // namespace anvil
