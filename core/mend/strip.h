#pragma once

#include <span>
#include <vector>

#include "core/mesh/mesh.h"

namespace anvil {

/// Faces between two rims, once round both, starting at a point of each: of all such strips the one with the smallest
/// area. Both rims run the way that the faces are to run along them. Takes |a| * |b| steps and bytes.
/// Method: H. Fuchs, Z. M. Kedem, S. P. Uselton, "Optimal Surface Reconstruction from Planar Contours" (1977), with a
/// given first pair.
std::vector<Triangle> strip_between(const Mesh& mesh, std::span<const VertexId> a, std::size_t at_a,
                                    std::span<const VertexId> b, std::size_t at_b);

/// More steps than this are not worth waiting for.
inline constexpr std::size_t longest_strip = 4'000'000;

}  // namespace anvil
