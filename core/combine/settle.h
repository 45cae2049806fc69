#pragma once

#include "core/combine/extract.h"

namespace anvil {

/// A result in doubles, proven.
struct Settled {
    Mesh mesh;
    std::vector<FaceSource> source;  ///< per face of `mesh`
    double largest_move = 0;         ///< how far rounding moved a point at most, mm
    int rounds = 0;                  ///< how often rounding made faces cross and they were resolved again
    bool clean = true;               ///< no crossing or degenerate face is left
};

/// Step 7: rounds the points to doubles, makes equal points one, and proves that the rounded faces neither cross nor
/// degenerate; where they do, they are arranged again, exactly, and rounded again.
Result<Settled> settle(const Arrangement& arrangement, const Extraction& extraction, Progress& progress);

}  // namespace anvil
