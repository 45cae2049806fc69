#pragma once

#include <functional>
#include <memory>
#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/job/job.h"

namespace anvil {

/// job.json of a job file.
std::string job_text(const Job& job);

/// Gives the mesh of an entry of the job file.
using MeshOfEntry = std::function<Result<std::shared_ptr<const Mesh>>(const std::string& entry)>;
/// The job that job.json describes. Safe on hostile text: what is missing, out of range or of the wrong kind is told
/// by its place ("parts[2].position"); nothing is taken half. Errors have no file yet.
Result<Job> job_from_text(std::string_view text, const MeshOfEntry& mesh);

}  // namespace anvil
