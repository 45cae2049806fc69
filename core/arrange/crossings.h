#pragma once

#include <vector>

#include "core/arrange/point_table.h"
#include "core/arrange/soup.h"
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/spatial/box_tree.h"

namespace anvil {

/// Two faces of different planes that meet in more than a shared corner or edge: in one point, or between two.
struct Crossing {
    FaceId a, b;
    VertexId p, q;  ///< ends of the segment; q is not valid where they only touch in p
};

/// Steps 2 and 3: which faces meet, and in which points. Points are already identified.
struct Crossings {
    std::vector<Crossing> segments;
    std::vector<std::pair<FaceId, FaceId>> coplanar;  ///< pairs of one plane that overlap or touch
    std::vector<char> touched;                        ///< per input point: lies on a face or edge it is no corner of
};

/// `tree`: over the boxes of the soup's faces. Fails only where it was stopped.
Result<Crossings> find_crossings(const Soup& soup, const BoxTree& tree, PointTable& points, Progress& progress);

}  // namespace anvil
