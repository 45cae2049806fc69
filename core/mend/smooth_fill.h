#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/mesh/mesh.h"

namespace anvil {

/// Faces over a rim that go on from the surface round it without a crease, as fine as that is; their points are added
/// to the mesh. The rim runs the way that the faces are to run. Nothing where the surface round it is not manifold, or
/// the rim is too long (2,000 edges). Method: P. Liepa, "Filling Holes in Meshes" (2003); M. Botsch, L. Kobbelt, "An
/// Intuitive Framework for Real-Time Freeform Modeling" (2004), as CGAL has them.
std::optional<std::vector<Triangle>> smooth_fill(Mesh& mesh, std::span<const VertexId> rim);

}  // namespace anvil
