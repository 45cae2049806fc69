#pragma once

#include "core/job/edits.h"

namespace anvil {

/// Puts steps into a group of their own, in the place of the first of them and in the order in which they stand.
/// Returns its id. Fails: where they do not all stand in the same list or group, or one is an edit by hand.
Result<std::string> group_steps(Job& job, std::span<const std::string> steps);
/// Takes the steps of a group out of it, into its place.
void ungroup(Job& job, const std::string& group);
/// The operation of all combining steps in a group, and in those within it; none where they differ or there is none.
std::optional<Operation> operation_of_group(const Step& group);
void set_operation_of_group(Job& job, const std::string& group, Operation operation);

/// Whether a group holds combining steps only, and groups of them: it parts no run of them.
bool combines_only(const Step& group);

}  // namespace anvil
