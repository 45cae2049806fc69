#pragma once

#include <span>

#include "core/base/runs.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// One face's use of an edge.
struct EdgeUse {
    VertexId low, high;
    std::uint32_t face;
    bool forward;  ///< the face runs from low to high
};

/// The three uses of each face, sorted by the edge, then by the face; `for_each_run` with `same_edge` visits the edges.
std::vector<EdgeUse> edge_uses(std::span<const Triangle> faces);

}  // namespace anvil
