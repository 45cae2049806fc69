#pragma once

#include <filesystem>
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/job/model.h"

namespace anvil {

/// Reads a .anvil file as docs/job-format.md describes it, of this format or the one before. Safe on hostile bytes:
/// what it unpacks to, its entries and the depth of its text are limited. Can be stopped.
Result<Job> read_job(const std::filesystem::path& file, Progress& progress);
Result<Job> read_job(const std::filesystem::path& file);

/// A part whose mesh could not be read.
struct LostPart {
    std::string name, why;
};
/// The same, but a part whose mesh is missing or damaged comes without faces, and is told; the rest is as it was.
Result<Job> read_job_in_part(const std::filesystem::path& file, Progress& progress, std::vector<LostPart>& lost);

/// Writes beside, syncs and renames.
Result<void> write_job(const Job& job, const std::filesystem::path& file);

}  // namespace anvil
