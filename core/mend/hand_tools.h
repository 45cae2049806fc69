#pragma once

#include "core/mend/mend.h"

namespace anvil {

/// Edits one after the other. One that cannot be done is left out, and says why: its elements are not there, or the
/// surface would no longer hang together.
/// Preconditions: coordinates are finite.
/// Fails: out_of_memory, cancelled.
Result<Mended> mend_by_hand(const Mesh& mesh, std::span<const HandEdit> edits, const MendOptions& options,
                            Progress& progress);
/// What is told of edits that were made one by one, with both meshes inspected. `after`: welded. Fails as above.
Result<Mended> told_of_edits(const Mesh& before, const Mesh& after, std::vector<HandDone> edits,
                             const MendOptions& options, Progress& progress);
/// One of them, on a mesh that is welded, without inspecting it. Fails as above, the mesh as it was.
Result<HandDone> edit_by_hand(Mesh& mesh, const HandEdit& edit, const MendOptions& options, Progress& progress);

/// Whether a mended mesh has faults that rebuilding would take away: all but holes and stray sheets, which filling
/// takes care of, and what is wrong with a sheet.
bool wants_rebuilding(const Mended& mended);
/// Edits that rebuild the regions round these faults, one for each place where they lie together.
std::vector<HandEdit> rebuild_faults(const Mended& mended);

}  // namespace anvil
