#pragma once

#include <nlohmann/json.hpp>
#include <string>

#include "core/combine/combine.h"
#include "core/inspect/compare.h"
#include "core/inspect/inspect.h"

namespace anvil::cli {

using Json = nlohmann::ordered_json;

/// The facts of a mesh as every report gives them: file, counts, measures, findings.
Json facts(const Inspection& inspection, const std::string& file);
Json facts(const Measures& measures, const std::string& file);

/// The report of a combine: where surfaces meet, lie flush, and were closed. Operands count from 1.
Json curve_facts(std::span<const CrossingCurve> curves);
Json flush_facts(std::span<const FlushArea> areas);
Json hole_facts(std::span<const ClosedHole> holes);

/// The same in a few lines for people.
std::string summary(const Inspection& inspection);

/// Writes JSON to a file, or to standard output for "-".
Result<void> write_json(const Json& json, const std::string& file);

}  // namespace anvil::cli
