#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// A body whose flat regions have no more faces than their outlines ask for.
struct MergedFlat {
    Mesh mesh;
    std::size_t regions = 0, points_gone = 0;  ///< that were triangulated anew, and what they had too much
    std::size_t regions_left = 0;              ///< that could not be, since their outlines touch themselves
};

/// Makes each region of one material that is flat but for `within` mm as few faces as its outline allows: points inside
/// go, and those on its rim that lie on a line between two regions. Other points stay where they are, to the bit; no
/// place of the surface is farther from where it was than `within`. Regions grow from the largest face on, as long as
/// faces lie in its plane and do not turn by more than a degree. Mesh: welded, every edge with two faces. Fails only
/// where it was stopped.
Result<MergedFlat> merged_flat(const Mesh& body, double within, Progress& progress);

}  // namespace anvil
