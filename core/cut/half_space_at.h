#pragma once

#include "core/cut/frame.h"
#include "core/shape/shapes.h"

namespace anvil {

/// From a point to the farthest one of a box, mm; a thousandth at least, also of an empty box.
inline double reach_of(const Vec3& from, const Box& box) {
    double reach = 1e-3;
    for (int corner = 0; corner < 8 && !box.empty(); ++corner)
        reach = std::max(reach, norm(Vec3{(corner & 1 ? box.high : box.low).x, (corner & 2 ? box.high : box.low).y,
                                          (corner & 4 ? box.high : box.low).z} -
                                     from));
    return reach;
}

/// All in front of a plane that something in the box can reach. Sides: `number` the plane, 1000 + `number` all others.
inline Solid half_space_at(const Transform& frame, const Box& box, std::uint32_t number = 0) {
    Solid out = half_space_within(reach_of(apply(frame, {}), box));
    for (Vec3& p : out.mesh.points) p = apply(frame, p);
    for (std::uint32_t& side : out.side) side = side == 0 ? number : 1000 + number;
    return out;
}

}  // namespace anvil
