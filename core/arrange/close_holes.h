#pragma once

#include "core/arrange/half_edges.h"

namespace anvil {

/// Directed loops that together run along every unbalanced edge as often as it is missing. A loop that comes by a point
/// twice is taken apart there.
std::vector<std::vector<VertexId>> find_missing_loops(std::span<const UnbalancedEdge> unbalanced);

/// Faces that close a loop, running along it: of all triangulations of its points, one with the smallest area. Long
/// loops are first cut across where that is shortest, so that there the area is only nearly the smallest. The faces may
/// cross others and each other: the arrangement resolves that.
/// Based on: G. Barequet, M. Sharir, "Filling Gaps in the Boundary of a Polyhedron" (1995), for the smallest area.
std::vector<Triangle> smallest_fill(const Mesh& mesh, std::span<const VertexId> loop);

}  // namespace anvil
