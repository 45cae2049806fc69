#pragma once

#include "core/mesh/edge_table.h"

namespace anvil {

/// Faces that hang together across regular edges, have a free border, and meet the rest only at edges that are sound
/// without them: a flap on a body. Nothing as large as half of the mesh is one.
std::vector<std::vector<FaceId>> find_fins(const Mesh& mesh, const EdgeTable& edges);

}  // namespace anvil
