#pragma once

#include "core/arrange/arrangement.h"
#include "core/combine/operation.h"

namespace anvil {

/// The surface of one piece, picked out of an arrangement: faces wound so that the inside is behind them. Or, behind
/// trims, a surface that encloses nothing.
struct Extraction {
    bool surface = false;             ///< it need not close
    std::vector<Triangle> corners;    ///< sub-faces, in the numbers of the arrangement's points
    std::vector<FaceSource> source;   ///< per sub-face: where it comes from; `reversed` where it is turned over
    std::vector<FaceId> plane;        ///< per sub-face: a face of the soup that lies in its plane
    std::vector<char> against_plane;  ///< per sub-face: it runs against that face
    std::vector<Cells::Sides> cells;  ///< per sub-face: in front of and behind the plane's face
    /// Per sub-face: its number in the arrangement, where it is one of its faces as they are; else not as long as
    /// those.
    std::vector<std::uint32_t> sub_face;
    struct Whole {
        std::uint32_t patch;
        bool turned;
    };
    std::vector<Whole> patches;  ///< patches of untouched faces, whole

    bool has_sub_faces() const { return sub_face.size() == corners.size(); }
};

/// Step 6: the boundaries of the pieces that `steps` make, one after the other. A wall between two pieces is in both,
/// once from each side. There is always one piece at least, if only an empty one. Trims give one surface: of the base's
/// faces, wound as they were given, or of the body's where other steps came before them. `base`: the operand that the
/// steps start from; the body of a bundle starts from another one than 0. Of no use where it was stopped.
std::vector<Extraction> extract(const Arrangement& arrangement, std::span<const CombineStep> steps,
                                std::uint32_t base = 0, const Progress& progress = Progress());

/// The same with every patch taken apart into its faces: for what looks at all faces alike. Of no use where it was
/// stopped.
Extraction taken_apart(const Arrangement& arrangement, const Extraction& extraction,
                       const Progress& progress = Progress());

}  // namespace anvil
