#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/mesh/mesh.h"

namespace anvil {

/// Faces between a rim and the rims of islands within it, as they lie seen along the axis that shows the first rim
/// widest: in one plane where the rims do. No point is added or moved. The first rim is the outer one; all run the way
/// that the faces are to run. Nothing where the rims cross or touch as seen there.
std::optional<std::vector<Triangle>> flat_fill(const Mesh& mesh, std::span<const std::vector<VertexId>> rims);

/// Which of the other rims are islands in a hole: as near to its plane as its own points are, or a 50th of its width,
/// within it, and running the other way round. In doubles: what is taken for one is told in the report.
std::vector<std::size_t> find_islands(const Mesh& mesh, std::span<const VertexId> hole,
                                      std::span<const std::vector<VertexId>> others);

}  // namespace anvil
