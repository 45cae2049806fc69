#pragma once

#include "core/base/progress.h"
#include "core/job/edits.h"
#include "core/job/tags.h"

namespace anvil {

/// A skin that a cutter has left standing in a result.
struct SkinLeft {
    std::string step;     ///< whose cutter stops short of the other side
    double thinnest = 0;  ///< mm
    Vec3 place{};         ///< in its middle
    Values through{};     ///< of the broach that takes it away: the cutter's end, pushed through it
};

/// The skins thinner than `below` mm whose one side is made by a step that takes something away. `result`: what the
/// list of such steps leaves, each piece by itself; `lineage`: how it came about. Fails only where it was stopped.
Result<std::vector<SkinLeft>> skins_left(const Job& job, const Combined& result, Lineage& lineage, double below,
                                         Progress& progress);

/// Drives the cutters through: a broach for each of the skins. Returns the id of the last one's step.
std::string drive_through(Job& job, const Place& at, std::span<const SkinLeft> skins);

}  // namespace anvil
