#pragma once

#include <string>

#include "core/combine/combine.h"
#include "core/inspect/compare.h"
#include "core/inspect/inspect.h"
#include "core/report/facts.h"

namespace anvil::cli {

/// The report of a combine: where surfaces meet, lie flush, and were closed. Operands count from 1.
Json curve_facts(std::span<const CrossingCurve> curves);
Json flush_facts(std::span<const FlushArea> areas);
Json hole_facts(std::span<const ClosedHole> holes);

/// The same in a few lines for people.
std::string summary(const Inspection& inspection);

/// A report's JSON as text. Bytes of names that are no UTF-8 are replaced.
std::string json_text(const Json& json);

}  // namespace anvil::cli
