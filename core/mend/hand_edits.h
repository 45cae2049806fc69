#pragma once

#include <array>
#include <span>
#include <string>

#include "core/mend/mend.h"

namespace anvil::hand {

// One tool each, on a welded mesh. They return why they could not, and have changed nothing then; empty where they did.
// Points that faces no longer use stay in the list until the mesh is welded.

using Edge = std::array<VertexId, 2>;

std::string merge_points(Mesh& mesh, std::span<const VertexId> points, double& largest_move);
std::string join_points(Mesh& mesh, VertexId a, VertexId b);
std::string split_edge(Mesh& mesh, const Edge& edge);
std::string collapse_edge(Mesh& mesh, const Edge& edge, double& largest_move);
std::string rotate_edge(Mesh& mesh, const Edge& edge);
std::string fill_border(Mesh& mesh, const Edge& edge, FillStyle style);
std::string bridge_borders(Mesh& mesh, const Edge& first, const Edge& second);

/// Not one of them: it tells its own story, and fails where it was stopped or memory gave out.
Result<HandDone> rebuild_region(Mesh& mesh, const HandEdit& edit, const MendOptions& options, Progress& progress);

}  // namespace anvil::hand
