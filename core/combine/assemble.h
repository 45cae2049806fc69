#pragma once

#include "core/combine/rounding.h"

namespace anvil {

/// Puts the extraction's patches and its rounded sub-faces together into one mesh, patches first, in the order of the
/// operands.
struct Assembled {
    Mesh mesh;
    std::vector<FaceSource> source;  ///< per face
    std::vector<char> may_pinch;     ///< per point: its faces may form more than one fan
};
Assembled assemble(const Arrangement& arrangement, const Extraction& extraction, const RoundedFaces& rounded);

}  // namespace anvil
