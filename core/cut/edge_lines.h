#pragma once

#include <vector>

#include "core/base/result.h"
#include "core/mesh/selection.h"

namespace anvil {

/// An edge as a line runs along it: the faces on its left and right, as seen from outside.
struct LineEdge {
    Vec3 along;  ///< of length 1
    Vec3 left_normal, right_normal;
    Vec3 left, right;  ///< in the faces, square to the edge, away from it; of length 1
    Vec3 outward;      ///< mean of the normals, of length 1
    double length = 0;
};
/// Edges one behind the other.
struct EdgeLine {
    std::vector<Vec3> points;     ///< of a closed one the first is not repeated
    std::vector<LineEdge> edges;  ///< one fewer than points, or as many where it is closed
    bool closed = false;
};

/// Chosen edges as lines that end where edges branch; in an order of their own, whatever that of the selection.
/// Mesh: welded. Fails: lost where there is none; out_of_range, with the place, where an edge has not two faces.
Result<std::vector<EdgeLine>> edge_lines(const Mesh& mesh, const Selection& edges);

}  // namespace anvil
