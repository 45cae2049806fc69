#pragma once

#include "core/job/model.h"

namespace anvil {

/// The id of a mending's treatment: those of steps are another set.
inline std::string row_of(const Mending& mending) { return "/" + mending.id; }

/// A job as parts that own lists: each part with its mendings as treatments; the part in work, which uses the base and
/// has the steps; and for each bundle a part that uses its operand and has the bundle's steps. Ids of steps and
/// mendings stay, see `row_of`.
sheet::Job translated(const Job& job);

}  // namespace anvil
