#pragma once

#include "core/mesh/mesh.h"

namespace anvil {

/// The same surface in smaller faces: edges longer than `longest` mm are halved until none is left, or until there
/// would be more than `most_faces`. Points of the mesh keep their numbers. For showing: middles are rounded.
Mesh refined(const Mesh& mesh, double longest, std::size_t most_faces);

}  // namespace anvil
