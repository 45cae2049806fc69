#pragma once

#include <unordered_set>

#include "core/combine/live_faces.h"

namespace anvil {

/// Faces that hang together and lie within a distance of one plane.
struct FlatRegion {
    std::vector<std::uint32_t> faces;
    int axis = 0;          ///< along which the plane is seen
    double thickness = 0;  ///< mm
};

/// What can be reached across edges from two faces that meet, none of it farther than `most` mm from a plane; no faces
/// where those two are no layers of one. Unless it is to be the whole, or these are the sides of a skin, which goes as
/// a whole, it is what lies a few faces around.
FlatRegion flat_region_at(const LiveFaces& live, std::uint32_t f, std::uint32_t g, double most, bool whole);

/// Where new points lie, as the plane's axis sees them, and old ones may be put besides, so that none is so near to
/// an edge that rounding takes it across.
struct PlaneGrid {
    double width;                                ///< a power of two in mm, no less than the last digit
    std::unordered_set<std::uint32_t> points{};  ///< that go there, too
};

/// Lays the layers of a region into one: what their rims cover, seen across the plane, adds up or cancels. So skins
/// between layers vanish whose thickness rounding cannot keep, however large they are. Faces stay where they can; where
/// edges within the region cross, other faces take their place. Points stay where they are, but for the grid's; new
/// ones lie on a rim, rounded. Faces round the region are split where its rim is. Returns the points of what was made:
/// none where all faces could stay. Fails only where it was stopped.
Result<std::vector<VertexId>> flatten_layers(LiveFaces& live, const FlatRegion& region, const PlaneGrid& grid,
                                             Precision precision, Progress& progress);

}  // namespace anvil
