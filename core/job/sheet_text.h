#pragma once

#include "core/job/job_text.h"
#include "core/job/model.h"

namespace anvil {

/// The version of the format in which parts own lists of steps.
inline constexpr int lists_format_major = 2, lists_format_minor = 0;

/// job.json of such a job.
std::string job_text(const sheet::Job& job);
/// The job that job.json describes, of this format or the one before. Safe on hostile text, as `job_from_text` is. Uses
/// of parts that are not there, and parts made of themselves, are refused by their names; a kind that is not known is
/// kept as it stands.
Result<sheet::Job> lists_from_text(std::string_view text, const MeshOfEntry& mesh);

/// A job of the format before: the base has the steps in its own list, unless it stands elsewhere than it was made or
/// is an operand, too; then the part in work is one of its own, which uses it. It gives the same result, bit for bit.
sheet::Job upgraded(const Job& job);

}  // namespace anvil
