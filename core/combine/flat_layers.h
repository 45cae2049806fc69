#pragma once

#include <unordered_set>

#include "core/combine/live_faces.h"

namespace anvil {

/// Faces that hang together and lie within a distance of one plane.
struct FlatRegion {
    std::vector<std::uint32_t> faces;
    int axis = 0;  ///< along which the plane is seen
};

/// What can be reached across edges from two faces that meet, none of it farther than `most` mm from a plane; no faces
/// where those two are no layers of one.
FlatRegion flat_region_at(const LiveFaces& live, std::uint32_t f, std::uint32_t g, double most);

/// Where new points lie, as the plane's axis sees them, and old ones may be put besides, so that none is so near to
/// an edge that rounding takes it across.
struct PlaneGrid {
    double width;                                ///< a power of two in mm, no less than the last digit
    std::unordered_set<std::uint32_t> points{};  ///< that go there, too
};

/// Lays the layers of a region into one: seen across the plane they are split along each other's edges, and what comes
/// to lie on each other adds up or cancels. So skins between layers vanish whose thickness rounding cannot keep,
/// however large they are. Points stay where they are, but for the grid's; new ones lie on a layer, rounded. Faces
/// round the region are split where its rim is. Returns the points of what was made: none where there was only one
/// layer. Fails only where it was stopped.
Result<std::vector<VertexId>> flatten_layers(LiveFaces& live, const FlatRegion& region, const PlaneGrid& grid,
                                             Precision precision, Progress& progress);

}  // namespace anvil
