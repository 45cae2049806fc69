#pragma once

#include "core/base/result.h"
#include "core/cut/cutter.h"
#include "core/mesh/selection.h"

namespace anvil {

/// A groove along edges, or a rib.
struct Notch {
    bool square = false;     ///< else a V
    double width = 2;        ///< mm from the edge over the faces on its left, seen along its way from outside
    double width_right = 2;  ///< and on its right
    double depth = 2;        ///< mm below the edge, against the mean of its faces' normals; of a rib above it
    bool rib = false;        ///< turned outward
    enum class Ends { straight, run_out, tilted } ends = Ends::straight;
    double tilt = 45;    ///< degrees, of tilted ends against the surface
    double over = 0.01;  ///< mm by which straight ends, and the open side, go beyond
};

/// What a notch makes: bars along all lines of edges, mitred where those bend. Sides: 0 its left flank, 1 its right
/// one, 2 what lies outside, 3 the ends, 4 the floor of a square one. Mesh: welded. `said` tells where faces come out
/// twisted by more than 5 degrees; `places` has them. Fails: out_of_range, where an edge has not two faces, or turns
/// back on itself; lost, where there is none.
Result<Cut> notched(const Mesh& body, const Selection& edges, const Notch& notch);

}  // namespace anvil
