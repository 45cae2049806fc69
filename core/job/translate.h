#pragma once

#include "core/job/model.h"

namespace anvil {

// Ids of steps and of mendings may be alike in a job, and hold anything; in its translation they are told apart.
inline std::string row_of(const Step& step) { return "step " + step.id; }
inline std::string row_of(const Mending& mending) { return "mending " + mending.id; }

/// A job as parts that own lists: each part with its mendings as treatments; the part in work, which uses the base and
/// has the steps; and for each bundle a part that uses its operand and has the bundle's steps. Steps
/// and mendings are known by `row_of` there, parts of the job by their own ids.
sheet::Job translated(const Job& job);

}  // namespace anvil
