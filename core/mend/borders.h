#pragma once

#include "core/arrange/join_borders.h"
#include "core/mend/repairs.h"
#include "core/mesh/measures.h"

namespace anvil {

/// The points of a border in order.
using BoundaryLoop = std::vector<VertexId>;

/// mm: borders no farther apart are taken for one.
inline double border_reach(const Mesh& mesh, const MendOptions& options) {
    return options.border_reach >= 0 ? options.border_reach : usual_border_reach * bounds(mesh).diagonal();
}

/// The borders of a mesh as it is.
inline std::vector<UnbalancedEdge> unbalanced_edges(const Mesh& mesh) {
    return find_unbalanced(mesh.faces.raw(), find_half_edges(mesh.faces.raw(), mesh.points.size()));
}

}  // namespace anvil
