#pragma once

#include "core/combine/pinches.h"
#include "core/combine/rounding.h"

namespace anvil {

/// Puts the extraction's patches and its rounded sub-faces together into one mesh, patches first, in the order of the
/// operands.
struct Assembled {
    Mesh mesh;
    std::vector<FaceSource> source;  ///< per face
    PinchCandidates may_pinch;
};
Assembled assemble(const Arrangement& arrangement, const Extraction& extraction, const RoundedFaces& rounded);

}  // namespace anvil
