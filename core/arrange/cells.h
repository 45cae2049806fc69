#pragma once

#include "core/arrange/patches.h"
#include "core/arrange/subdivide.h"
#include "core/arrange/wings.h"

namespace anvil {

/// Step 5: the cells into which the surfaces divide space, and how often each operand is wound around each cell. Sheets
/// divide space too, but are wound around nothing.
struct Cells {
    using Sides = std::array<std::uint32_t, 2>;  ///< the cell in front of (on the normal's side of) and behind a face
    std::uint32_t count = 0;
    std::uint32_t operands = 0;
    std::vector<Sides> of_face;         ///< per sub-face
    std::vector<Sides> of_patch;        ///< per patch
    std::vector<std::int32_t> winding;  ///< cell-major: winding[cell * operands + operand]

    // For sheets only; empty where there is none.
    std::vector<char> is_sheet;  ///< per operand
    /// Two different cells with a face between them, the lower first, and which sheets lie there: a number in `sheets`.
    struct Wall {
        std::uint32_t a, b, sheets;
        auto operator<=>(const Wall&) const = default;
    };
    std::vector<Wall> walls;                         ///< sorted
    std::vector<std::vector<std::uint32_t>> sheets;  ///< sorted operands each; the first list is empty
    /// An edge at which a sheet ends in the midst of a cell.
    struct OpenEnd {
        VertexId a, b;
        std::uint32_t cell, sheet;
    };
    std::vector<OpenEnd> open_ends;

    std::span<const std::int32_t> winding_of(std::uint32_t cell) const {
        return std::span(winding).subspan(std::size_t{cell} * operands, operands);
    }
    bool sheet(std::uint32_t operand) const { return !is_sheet.empty() && is_sheet[operand] != 0; }
};

/// Fails where it was stopped, and where the faces of some operand do not close (its boundary would have to end
/// somewhere): then no winding number exists. `wings`: as find_wings has them.
Result<Cells> find_cells(const Soup& soup, const PointTable& points, const ActiveFaces& active, const SubFaces& faces,
                         const Patches& patches, std::span<const Wing> wings, Progress& progress);

}  // namespace anvil
