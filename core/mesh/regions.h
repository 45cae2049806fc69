#pragma once

#include "core/mesh/disjoint_sets.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// Faces that hang together up to edges at which the surface turns by more than `crease_angle` degrees, ends or
/// branches.
DisjointSets regions_between_creases(const Mesh& mesh, double crease_angle);

/// Points that hang together by faces.
DisjointSets points_joined_by_faces(const Mesh& mesh);

}  // namespace anvil
