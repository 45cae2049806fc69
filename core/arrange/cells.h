#pragma once

#include "core/arrange/subdivide.h"
#include "core/spatial/box_tree.h"

namespace anvil {

/// Step 5: the cells into which the sub-faces divide space, and how often each operand is wound around each cell.
/// A cell that several unconnected surfaces bound has a number for each of them, with the same winding numbers.
struct Cells {
    std::uint32_t count = 0;
    std::uint32_t operands = 0;
    std::vector<std::array<std::uint32_t, 2>>
        of_face;                        ///< the cell in front of (on the normal's side of) and behind each sub-face
    std::vector<std::int32_t> winding;  ///< cell-major: winding[cell * operands + operand]

    std::span<const std::int32_t> winding_of(std::uint32_t cell) const {
        return std::span(winding).subspan(std::size_t{cell} * operands, operands);
    }
};

/// Fails where it was stopped, and where the faces of some operand do not close (its boundary would have to end
/// somewhere): then no winding number exists.
/// `tree`: over the boxes of the soup's faces.
Result<Cells> find_cells(const Soup& soup, const BoxTree& tree, const PointTable& points, const SubFaces& faces,
                         Progress& progress);

}  // namespace anvil
