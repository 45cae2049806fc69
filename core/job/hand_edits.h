#pragma once

#include <span>

#include "core/job/row_outcome.h"
#include "core/job/segment.h"

namespace anvil {

/// Edits by hand, one after the other, and what became of the row of each. An edit that cannot be done is left out.
/// What each did is kept; of the bodies between them the last ones, since as many as there are edits would fill the
/// memory. One more edit goes on from there. Fails: what ends the whole evaluation.
Result<std::shared_ptr<const Mesh>> edited_by_hand(std::span<const Step* const> edits, const Body& body,
                                                   const SettleOptions& settle, KeptResults& kept, RowOutcomes& rows,
                                                   Progress& progress);

/// What edits did together to the body of a row, and what it is like now. `before`: the key of that body. Fails:
/// cancelled, out_of_memory.
Result<std::shared_ptr<const Treated>> told_together(std::vector<HandDone> edits,
                                                     const std::shared_ptr<const Mesh>& from, const ContentKey& before,
                                                     const Body& now, Precision precision, KeptResults& kept,
                                                     Progress& progress);

}  // namespace anvil
