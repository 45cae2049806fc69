#pragma once

#include <filesystem>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/job/job.h"
#include "core/job/model.h"

namespace anvil {

/// The version that this program writes. A file of a newer major version is refused; a newer minor one is read, and
/// the fields that are not known are kept.
inline constexpr int job_format_major = 1, job_format_minor = 4;

/// Reads a .anvil file as docs/job-format.md describes it. Safe on hostile bytes: what it unpacks to, its entries and
/// the depth of its text are limited. Can be stopped.
Result<Job> read_job(const std::filesystem::path& file, Progress& progress);
Result<Job> read_job(const std::filesystem::path& file);

/// Writes beside, syncs and renames.
Result<void> write_job(const Job& job, const std::filesystem::path& file);

/// A job whose parts own lists of steps, out of a file of format 2 or before.
Result<sheet::Job> read_lists(const std::filesystem::path& file, Progress& progress);
/// In format 2. Writes beside, syncs and renames.
Result<void> write_lists(const sheet::Job& job, const std::filesystem::path& file);

}  // namespace anvil
