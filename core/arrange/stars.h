#pragma once

#include "core/arrange/ray_fan.h"

namespace anvil {

/// Per point: whether the faces round it certainly form one fan, and no two of them meet in more than the corners and
/// edges they share. Nearly all points of a sound mesh are told so.
std::vector<char> find_sound_stars(std::span<const Vec3> points, std::span<const Triangle> faces,
                                   const HalfEdges& edges, Fans fans);

}  // namespace anvil
