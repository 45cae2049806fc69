#pragma once

#include "core/arrange/half_edges.h"

namespace anvil {

/// Per point: whether the faces round it certainly form one closed fan that some projection shows without overlap, so
/// that no two of them meet in more than the corners and edges they share. Most points of a sound mesh are told so.
std::vector<char> find_sound_stars(std::span<const Vec3> points, std::span<const Triangle> faces,
                                   const HalfEdges& edges);

}  // namespace anvil
