#pragma once

#include "core/cut/broach.h"
#include "core/inspect/thin_places.h"

namespace anvil {

/// mm by which a cutter goes beyond both sides of a skin.
inline constexpr double over_travel_of_skins = 0.01;

/// Of the two faces across from each other where it is thinnest, the one whose wall is smaller: the floor of a pocket,
/// not the wall that it nearly reaches.
FaceId smaller_wall(const Mesh& mesh, const ThinPlace& place);

/// The wall that one of those two belongs to: faces of the thin place that hang together. Mesh: welded.
std::vector<FaceId> wall_of(const Mesh& mesh, const ThinPlace& place, FaceId at);

/// How a wall is pushed through, and out on both sides by `over` mm: along its mean normal, or where it is bent along
/// each corner's own.
Broach push_through(const Mesh& mesh, std::span<const FaceId> wall, const ThinPlace& place, double over);

}  // namespace anvil
