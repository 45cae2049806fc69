#pragma once

#include <filesystem>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/job/model.h"

namespace anvil {

/// Reads a .anvil file as docs/job-format.md describes it, of this format or the one before. Safe on hostile bytes:
/// what it unpacks to, its entries and the depth of its text are limited. Can be stopped.
Result<Job> read_job(const std::filesystem::path& file, Progress& progress);
Result<Job> read_job(const std::filesystem::path& file);

/// Writes beside, syncs and renames.
Result<void> write_job(const Job& job, const std::filesystem::path& file);

}  // namespace anvil
