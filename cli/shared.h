#pragma once

#include <string>
#include <vector>

#include "cli/commands.h"
#include "core/base/result.h"
#include "core/combine/pinches.h"
#include "core/inspect/inspect.h"

namespace anvil::cli {

/// Prints the error, and gives the exit status for it.
Status fail(const Error& error);
Status fail_usage(const std::string& text);
void print_messages(const std::vector<std::string>& messages);

/// An output whose ending is unknown is wrong usage, and better said before the work than after it.
bool check_output(const std::string& file, Status& status);
/// What the next program will read: for formats with less precision, the mesh as it comes back.
Result<Inspection> inspect_written(const Mesh& mesh, const std::string& file, Progress& progress);
/// The precision of the numbers that a file's format holds.
Precision precision_of(const std::string& file);

}  // namespace anvil::cli
