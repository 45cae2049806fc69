#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/base/vec3.h"

namespace anvil {

struct Arrangement;
struct Extraction;

/// Where the surfaces of two operands meet on the result, or where a line is drawn into it.
struct CrossingCurve {
    std::uint32_t a, b;  ///< the operands on its two sides, the lower first; one and the same for a drawn line
    std::vector<Vec3> points;
    bool closed = false;  ///< the last point is joined to the first

    double length() const;  ///< mm
};

/// The curves on the surfaces of these pieces, as they were extracted; what two of them have in common is there once.
/// `drawn`: operands that are no part of the result, whose lines count as well. In the order of the operands.
/// Of no use where it was stopped.
std::vector<CrossingCurve> crossing_curves(const Arrangement& arrangement, std::span<const Extraction> pieces,
                                           std::span<const std::uint32_t> drawn, const Progress& progress);

/// Faces of two operands that lie in one plane on each other.
struct FlushArea {
    std::uint32_t a, b;  ///< the lower first
    bool facing;         ///< they look against each other: the bodies touch; else both lie on the same side
    double area = 0;     ///< mm2
    Vec3 place;          ///< in the largest part
};
/// For every pair of operands that has such faces, in order.
/// Nothing where it was stopped.
std::vector<FlushArea> flush_areas(const Arrangement& arrangement, const Progress& progress);

}  // namespace anvil
