#pragma once

#include <span>

#include "core/mesh/mesh.h"

namespace anvil {

/// A face at an edge v -> w.
struct FaceAtEdge {
    std::size_t place;  ///< in a list of the caller's
    bool leaves;        ///< the face runs v -> w (else w -> v)
    VertexId apex;      ///< its third corner
};

/// Sorts faces at an edge by their angle, counter-clockwise about v -> w, from the first on: ahead of one that runs
/// w -> v lies its inside, up to the next. False, and they stay as they are, where one has no angle; also where two
/// have the same third corner. Precondition: no two others lie on each other.
bool sort_round_edge(std::span<const Vec3> points, VertexId v, VertexId w, std::span<FaceAtEdge> faces);

}  // namespace anvil
