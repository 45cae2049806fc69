#pragma once

#include "core/mesh/mesh.h"

namespace anvil {

/// Copies whose faces have a material each for the shell that they belong to, or for the region between creases (edges
/// at which the surface turns by more than `crease_angle` degrees, or ends, or branches); neighbours in number differ
/// in colour, and the same mesh always gets the same colours.
Mesh coloured_by_shell(const Mesh& mesh);
Mesh coloured_by_region(const Mesh& mesh, double crease_angle);

}  // namespace anvil
