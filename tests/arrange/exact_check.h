#pragma once

#include "core/arrange/arrangement.h"

namespace anvil::test {

/// All faces of an arrangement alike: its sub-faces, and the faces of its patches.
struct AllFaces {
    std::vector<Triangle> corners;
    std::vector<std::vector<FaceSource>> sources;
    std::vector<Cells::Sides> cells;
};
AllFaces all_faces(const Arrangement& arrangement);

/// An arrangement judged with rational numbers and solid angles: nothing of the engine's own predicates is used.
struct ArrangementVerdict {
    std::size_t badly_met = 0;       ///< pairs of sub-faces that share more than common corners and edges
    std::size_t degenerate = 0;      ///< sub-faces without area
    std::size_t off_plane = 0;       ///< sub-faces that do not lie in the face they come from, or not within it
    std::size_t wrong_windings = 0;  ///< sides of sub-faces whose winding numbers differ from the solid angle's
    double area_error = 0;           ///< largest difference, over operands, between its area and its sub-faces' area
    bool sound() const { return badly_met + degenerate + off_plane + wrong_windings == 0 && area_error < 1e-9; }
    std::string text() const;
};
ArrangementVerdict judge(const Arrangement& arrangement, const std::vector<Mesh>& operands);

}  // namespace anvil::test
