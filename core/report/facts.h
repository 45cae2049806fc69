#pragma once

#include <nlohmann/json_fwd.hpp>
#include <string>

#include "core/inspect/accepted.h"
#include "core/mend/mend.h"
#include "core/mesh/transform.h"

namespace anvil {

using Json = nlohmann::ordered_json;

/// The facts of a mesh as every report gives them: file, counts, measures, findings. The keys are fixed
/// (docs/manual.md). `stands`: where the mesh stands, without scale; places and bounds are told there.
Json facts(const Inspection& inspection, const std::string& file, const Transform& stands = Transform::Identity());
Json facts(const Measures& measures, const std::string& file);
/// How many findings of each kind are accepted, of those of which any are.
Json facts(const Acceptance& acceptance);
/// What repairs did: `repair`, `changed`, `largest_move`, `said`, `places`.
Json facts(std::span<const Repaired> repairs, const Transform& stands = Transform::Identity());
/// The measures of a mesh where it stands.
Measures measures_at(const Inspection& inspection, const Transform& stands);

/// From where on findings of a kind are told, and the extreme of what was found: " under 0.2 mm, the thinnest 0.08 mm".
/// Empty for kinds without a size.
std::string threshold_text(const Inspection& inspection, FindingKind kind);

}  // namespace anvil
