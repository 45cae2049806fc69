#pragma once

#include <span>
#include <utility>
#include <vector>

#include "core/arrange/point_table.h"
#include "core/mesh/edge_uses.h"

namespace anvil {

/// A face among others in one plane.
struct FlushFace {
    FaceId id;
    Triangle corners;  ///< by the numbers that stand for their places
    std::uint32_t operand;
    bool against;  ///< it is wound the other way than the first of them
};

/// Edges between two faces of one operand where a lower one covers the plane all along and round them, wound the same
/// way: with that one's faces there, they part nothing that anything depends on, and need no crossings. Pairs of
/// points, the lower first, sorted. `faces`: by operands, sorted; `edges`: theirs, as edge_uses has them; `folded`:
/// operands whose faces lie on each other.
std::vector<std::pair<VertexId, VertexId>> find_covered_edges(const Soup& soup, std::span<const FlushFace> faces,
                                                              std::span<const EdgeUse> edges,
                                                              std::span<const std::uint32_t> folded, int axis);

}  // namespace anvil
