#pragma once

#include <optional>
#include <span>
#include <string>

#include "cli/commands.h"
#include "cli/report.h"
#include "core/job/model.h"

namespace anvil::cli {

/// Reads "NAME=VALUE" settings of a kind. Where one is wrong that is said, and the status is given.
std::optional<Status> read_settings(const Kind& kind, std::span<const std::string> settings, Values& values);
/// The kinds with their fields, a line each, for help.
std::string settings_of(std::span<const Kind* const> kinds);
/// Evaluates a job, and writes the result. `about`: what errors are about; `json`: what is known of the run so far.
Status evaluated(const Job& job, const SettleOptions& settle, const std::string& about, Json json,
                 const std::string& output, const std::string& json_file, Progress& progress);

}  // namespace anvil::cli
