#pragma once

#include "core/arrange/patches.h"
#include "core/arrange/subdivide.h"

namespace anvil {

/// Step 5: the cells into which the surfaces divide space, and how often each operand is wound around each cell.
/// A cell that several unconnected surfaces bound has a number for each of them, with the same winding numbers.
struct Cells {
    using Sides = std::array<std::uint32_t, 2>;  ///< the cell in front of (on the normal's side of) and behind a face
    std::uint32_t count = 0;
    std::uint32_t operands = 0;
    std::vector<Sides> of_face;         ///< per sub-face
    std::vector<Sides> of_patch;        ///< per patch
    std::vector<std::int32_t> winding;  ///< cell-major: winding[cell * operands + operand]

    std::span<const std::int32_t> winding_of(std::uint32_t cell) const {
        return std::span(winding).subspan(std::size_t{cell} * operands, operands);
    }
};

/// Fails where it was stopped, and where the faces of some operand do not close (its boundary would have to end
/// somewhere): then no winding number exists.
Result<Cells> find_cells(const Soup& soup, const PointTable& points, const ActiveFaces& active, const SubFaces& faces,
                         const Patches& patches, Progress& progress);

}  // namespace anvil
