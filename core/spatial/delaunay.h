#pragma once

#include <span>
#include <vector>

#include "core/mesh/mesh.h"

namespace anvil {

/// The faces of the Delaunay tetrahedra of these points, each once, by the points' numbers; sorted. Empty where all lie
/// in one plane. A source of likely faces: nothing is decided by them.
std::vector<Triangle> delaunay_faces(std::span<const Vec3> points);

}  // namespace anvil
