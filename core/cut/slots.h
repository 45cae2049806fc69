#pragma once

#include "core/cut/broach.h"

namespace anvil {

/// A slot along each edge, or a round hole at each point, pushed through the body as a broach is. Slots are as wide as
/// `thickness` mm, and round at their ends so that they meet. The way: that of the broach, or against the mean of the
/// normals there, or each by its own. They begin farther out than faces do, by half the thickness, since the surface
/// may rise beside an edge. Sides of the k-th: 3 k its outer end, 3 k + 1 its inner one, 3 k + 2 its walls.
/// Mesh: welded. Fails: lost, where nothing is chosen; bad_count, where that is too much; out_of_range, where the
/// normals tell no direction.
Result<Cut> slotted(const Mesh& body, const Selection& edges_or_points, double thickness, double chord,
                    const Broach& broach, const Box& box);

}  // namespace anvil
