#pragma once

#include "core/job/segment.h"

namespace anvil {

/// The result of a list where that stands: moved, rounded anew, and its settled pieces proven again. Faces keep their
/// sources, what was said of them stays; what has faults keeps those. Fails: cancelled, out_of_memory, out_of_range
/// where a piece cannot be settled.
Result<Combined> placed_result(const SegmentResult& result, const Transform& stands, const SettleOptions& settle,
                               Progress& progress);

}  // namespace anvil
