#pragma once

#include "core/arrange/cells.h"
#include "core/arrange/contact_cache.h"
#include "core/arrange/sub_edges.h"

namespace anvil {

/// The exact arrangement of any number of closed operands: sub-faces and patches that meet in common corners and edges
/// only, the cells between them, and each operand's winding number in every cell. Every combining operation is a choice
/// of cells; see core/combine. Operands are closed, or sheets.
struct Arrangement {
    Soup soup;
    PointTable points;
    Crossings crossings;
    ActiveFaces active;
    SubFaces faces;
    Patches patches;
    SubEdges edges;
    Cells cells;
    std::size_t crossing_pairs() const { return crossings.segments.size(); }  ///< of faces
    /// Pairs of faces that lay on each other or touched in one plane.
    std::size_t coplanar_pairs() const { return crossings.coplanar.size(); }

    struct Seconds {
        double cross = 0, subdivide = 0, cells = 0;
    } seconds;
};

/// Self-crossing, doubled and degenerate faces are welcome. Decisions are exact for the given doubles and the result
/// does not depend on the number of threads.
/// `cache`: used, and afterwards holds the contacts of these operands only. `before`: an arrangement that has some of
/// the operands at the same places of the list; what only they make is taken over from it, bit for bit the same. May be
/// null.
/// Fails: open_operand where an operand does not close; cancelled.
Result<Arrangement> arrange(std::vector<std::shared_ptr<const Operand>> operands, Progress& progress,
                            ContactCache* cache = nullptr, const Arrangement* before = nullptr);

/// The same for meshes, each made ready first. The error's operand tells which one does not close.
Result<Arrangement> arrange(std::span<const Mesh* const> meshes, Progress& progress, Taken taken = Taken::as_wound);

}  // namespace anvil
