#pragma once

#include "cli/commands.h"

namespace anvil::cli {

/// `run` for a job whose parts own lists of steps.
Status run_lists(const RunOptions& options, Progress& progress);

}  // namespace anvil::cli
