#pragma once

#include "core/base/result.h"
#include "core/cut/cutter.h"
#include "core/mesh/transform.h"
#include "core/shape/outline.h"

namespace anvil {

/// An outline that is carried through a body, from its plane. Down is against the frame's z axis.
struct OutlineCut {
    Drawing drawing{};                         ///< in the frame's x and y; closed loops
    std::vector<std::vector<Point2>> lines{};  ///< or open lines, which cut as sheets
    Operation does = Operation::difference;
    enum class Way { all, to_depth, between } way = Way::all;
    double from = 0, to = 10;  ///< mm below the plane; what is raised stands above it instead
    double draft = 0;          ///< degrees that it narrows by on its way down, below 0 widens
};

/// What an outline cut makes. `frame`: the plane; `box`: round what it acts on. Sides: 0 its lower end, 1 its upper
/// one, 2 and on its walls, one for each stretch of the outline. Fails: out_of_range, where the outline encloses
/// nothing, or the draft leaves nothing of it.
Result<Cut> outline_cut(const OutlineCut& cut, const Transform& frame, const Box& box);

/// Over-travel by which a cut begins above the plane that it is drawn on, mm, so that no skin stays there.
inline constexpr double over_travel = 0.01;

}  // namespace anvil
