#pragma once

#include "core/combine/extract.h"

namespace anvil {

/// Sub-faces with their corners rounded to doubles, equal ones made one. Faces that collapse are gone.
struct RoundedFaces {
    std::vector<Vec3> points;
    std::vector<VertexId> input;  ///< per point: a point of the soup that it is; not valid for a new one
    std::vector<char> moved;      ///< per point: rounding moved it
    std::vector<Triangle> faces;
    std::vector<FaceSource> source;
    std::vector<std::uint32_t> origin;  ///< per face: which face of the extraction
    double largest_move = 0;            ///< mm
};

/// Puts the extraction's patches and its rounded sub-faces together into one mesh, patches first, in the order of the
/// operands.
struct Assembled {
    Mesh mesh;
    std::vector<FaceSource> source;  ///< per face
    std::vector<char> may_pinch;     ///< per point: its faces may form more than one fan
};
Assembled assemble(const Arrangement& arrangement, const Extraction& extraction, const RoundedFaces& rounded);

}  // namespace anvil
