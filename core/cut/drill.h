#pragma once

#include "core/base/result.h"
#include "core/cut/cutter.h"
#include "core/mesh/transform.h"

namespace anvil {

/// A hole, from its place on the surface down; mm.
struct Hole {
    double diameter = 5;
    double depth = 0;      ///< of the full diameter; 0: through all
    bool pointed = false;  ///< it ends in a drill's cone of 118 degrees (common practice), below its depth
    enum class Head { none, counterbore, countersink } head = Head::none;
    double head_diameter = 10;
    double head_depth = 5;   ///< of a counterbore
    double head_angle = 90;  ///< degrees, of a countersink, from side to side
    double above = 0.5;      ///< how far it begins above its place, so that no skin stays on what is curved
    Facets facets{};
};

inline constexpr std::size_t most_holes = 10'000;

/// Holes at those places, all square to a plane whose front side looks out of the body. `box`: what they go into.
/// Sides: 8 k + 0 its wall, 1 its end, 2 the wall of its head, 3 the head's floor or cone.
/// Fails: out_of_range, where the measures do not go together.
Result<Cut> drilled(const Hole& hole, std::span<const Vec3> places, const Vec3& normal, const Box& box);

}  // namespace anvil
