#pragma once

#include "core/mend/mend.h"

namespace anvil {

/// Edits one after the other. One that cannot be done is left out, and says why: its elements are not there, or the
/// surface would no longer hang together.
/// Preconditions: coordinates are finite.
/// Fails: out_of_memory, cancelled.
Result<Mended> mend_by_hand(const Mesh& mesh, std::span<const HandEdit> edits, const MendOptions& options,
                            Progress& progress);
/// The same on a mesh that is welded, without inspecting it.
HandDone edit_by_hand(Mesh& mesh, const HandEdit& edit);

}  // namespace anvil
