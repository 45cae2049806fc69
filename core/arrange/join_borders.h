#pragma once

#include "core/arrange/half_edges.h"

namespace anvil {

/// Borders no farther apart than this share of the diagonal are taken for one, where nothing else is asked for.
inline constexpr double usual_border_reach = 1e-5;

/// Borders that lie on each other but are not joined.
struct JoinedBorders {
    std::size_t points = 0;   ///< points that went to another one
    double largest_move = 0;  ///< mm
};

/// Makes points of unbalanced edges one where they are no more than `reach` mm apart. Faces may lose corners to each
/// other: drop those that have one twice.
JoinedBorders join_borders(Mesh& mesh, std::span<const UnbalancedEdge> unbalanced, double reach);

}  // namespace anvil
