#pragma once

#include <filesystem>

#include "core/base/result.h"
#include "core/job/job.h"

namespace anvil {

/// The version that this program writes. A file of a newer major version is refused; a newer minor one is read, and
/// the fields that are not known are kept.
inline constexpr int job_format_major = 1, job_format_minor = 3;

/// Reads a .anvil file as docs/job-format.md describes it. Safe on hostile bytes.
Result<Job> read_job(const std::filesystem::path& file);

/// Writes beside and renames.
Result<void> write_job(const Job& job, const std::filesystem::path& file);

}  // namespace anvil
