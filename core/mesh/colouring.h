#pragma once

#include <span>

#include "core/mesh/mesh.h"

namespace anvil {

/// Copies whose faces have a material each for the shell that they belong to, or for the region between creases (edges
/// at which the surface turns by more than `crease_angle` degrees, or ends, or branches); neighbours in number differ
/// in colour, and the same mesh always gets the same colours.
Mesh coloured_by_shell(const Mesh& mesh);
/// Soft shades, for a body in pieces: piece k has the faces from `start[k]` up to `start[k + 1]`.
Mesh coloured_by_piece(const Mesh& mesh, std::span<const std::size_t> start);
Mesh coloured_by_region(const Mesh& mesh, double crease_angle);

}  // namespace anvil
