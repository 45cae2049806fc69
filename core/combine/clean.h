#pragma once

#include "core/combine/extract.h"

namespace anvil {

/// Takes back cuts that the result has no use for: points and edges within what is left of one face, as they stay where
/// an operand cut and another choice of cells kept both sides. What is left of a face is triangulated anew where it had
/// such a point, as nearly Delaunay as it can be; all other faces stay as they are. Exact; the shape does not change.
/// `merge_flush`: the same for regions of different faces of one material that lie in one plane side by side, and for
/// the points that were given; patches are then taken apart.
/// `drawn`: operands whose crossing lines are kept. Leaves off anywhere where it was stopped.
Extraction cleaned(const Arrangement& arrangement, Extraction extraction, bool merge_flush,
                   std::span<const std::uint32_t> drawn, const Progress& progress);

}  // namespace anvil
