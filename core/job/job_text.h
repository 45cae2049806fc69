#pragma once

#include <functional>

#include "core/base/result.h"
#include "core/job/model.h"

namespace anvil {

/// The version that this program writes. A file of a newer major version is refused; a newer minor one is read, and
/// the fields that are not known are kept.
inline constexpr int job_format_major = 2, job_format_minor = 4;

/// job.json of a job file.
std::string job_text(const Job& job);

/// Gives the mesh of an entry of the job file.
using MeshOfEntry = std::function<Result<std::shared_ptr<const Mesh>>(const std::string& entry)>;
/// The job that job.json describes, of this format or the one before. Safe on hostile text: what is missing, out of
/// range or of the wrong kind is told by its place ("parts[2].position"), uses of parts that are not there and parts
/// made of themselves by their names; a kind that is not known is kept as it stands. Errors have no file yet.
Result<Job> job_from_text(std::string_view text, const MeshOfEntry& mesh);

}  // namespace anvil
