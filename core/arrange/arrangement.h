#pragma once

#include "core/arrange/cells.h"

namespace anvil {

/// The exact arrangement of any number of closed operands: sub-faces that meet in common corners and edges only,
/// the cells between them, and each operand's winding number in every cell. Every combining operation is a choice
/// of cells; see core/combine.
struct Arrangement {
    Soup soup;
    PointTable points;
    SubFaces faces;
    Cells cells;
    std::size_t crossing_pairs = 0;  ///< pairs of faces that crossed
    std::size_t coplanar_pairs = 0;  ///< pairs of faces that lay on each other or touched in one plane

    struct Seconds {
        double gather = 0, cross = 0, subdivide = 0, cells = 0;
    } seconds;
};

/// Preconditions: coordinates are finite (`check_finite`); every operand is closed (every edge is run along as often
/// one way as the other; `check_closed`). Self-crossing, doubled and degenerate faces are welcome. Decisions are exact
/// for the given doubles and the result does not depend on the number of threads.
/// Fails: open_operand where an operand does not close; cancelled.
Result<Arrangement> arrange(std::span<const Mesh* const> operands, Progress& progress);

}  // namespace anvil
