#pragma once

#include <optional>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/cut/cutter.h"
#include "core/cut/joints.h"
#include "core/mesh/transform.h"

namespace anvil {

/// Which side of a plane stays: what its normal points to, or what is behind.
enum class KeepSide { front, back, both };

struct PlaneCut {
    Vec3 origin, normal{0, 0, 1};
    KeepSide keep = KeepSide::both;
    bool cap = true;      ///< of one side: the cut is closed; else the surface ends there
    int count = 1;        ///< planes behind each other along the normal; of several all pieces stay
    double distance = 0;  ///< mm, from one to the next
    double layer = 0;     ///< mm: instead as many planes as make layers of that height, from the lowest point along the
                          ///< normal upwards; the last one may be thinner. 0: none
    /// mm, of a bed that each piece has to fit on, cut square to the axes into equal lengths; instead of all above.
    std::optional<Vec3> bed{};
    Joints joints{};                ///< where both sides stay; pegs on the side in front
    std::vector<Vec3> joints_at{};  ///< by hand, of a single plane; empty: by themselves
};

/// What a plane cut makes. `box`: round what it acts on; `body`: that, for a bed or joints, else null. Sides: 0 and on
/// the planes, in their order; 1000 and on what else of half spaces is seen; 2000 and on joints.
/// Fails: out_of_range, where planes would be too many, or joints do not fit; cancelled.
Result<Cut> plane_cut(const PlaneCut& cut, const Box& box, const Mesh* body, Progress& progress);

}  // namespace anvil
