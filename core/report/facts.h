#pragma once

#include <nlohmann/json_fwd.hpp>
#include <string>

#include "core/inspect/accepted.h"
#include "core/mend/mend.h"

namespace anvil {

using Json = nlohmann::ordered_json;

/// The facts of a mesh as every report gives them: file, counts, measures, findings. The keys are fixed
/// (docs/manual.md).
Json facts(const Inspection& inspection, const std::string& file);
Json facts(const Measures& measures, const std::string& file);
/// How many findings of each kind are accepted, of those of which any are.
Json facts(const Acceptance& acceptance);
/// What repairs did: `repair`, `changed`, `largest_move`, `said`, `places`.
Json facts(std::span<const Repaired> repairs);

/// From where on findings of a kind are told, and the extreme of what was found: " under 0.2 mm, the thinnest 0.08 mm".
/// Empty for kinds without a size.
std::string threshold_text(const Inspection& inspection, FindingKind kind);

}  // namespace anvil
