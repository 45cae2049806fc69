#pragma once

#include "core/combine/pinches.h"
#include "core/combine/rounding.h"

namespace anvil {

/// Puts the extraction's patches and its rounded sub-faces together into one mesh, patches first, in the order of the
/// operands. Only where something met something can the result touch itself; not at a new point with one ring of faces.
struct Assembled {
    Mesh mesh;
    std::vector<FaceSource> source;  ///< per face
    PinchCandidates may_pinch;
};
Assembled assemble(const Arrangement& arrangement, const Extraction& extraction, const RoundedSurface& rounded);

}  // namespace anvil
