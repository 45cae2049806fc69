#pragma once

#include "core/job/kinds/kind.h"

namespace anvil {

/// The values of a step that mends so.
Values values_of(std::span<const Repair> repairs, const MendOptions& options,
                 std::span<const Question::About> answered);
/// The options of a kind that has the fields of *mend*, in double precision.
MendOptions mend_options(const Kind& kind, const Values& values);

/// What the kind *mend* does.
Result<Treated> treat_by_mending(const std::shared_ptr<const Mesh>& body, const Values& values,
                                 const TreatSettings& settings, Progress& progress);

/// The values of a step that is one edit by hand; its kind is the word of the tool.
Values values_of(const HandEdit& edit);

}  // namespace anvil
