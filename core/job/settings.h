#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/combine/settle_options.h"
#include "core/inspect/accepted.h"

namespace anvil {

/// What a job file says that this version does not know, as JSON: it is written back as it came. Empty for nothing.
using Extra = std::string;

/// What the numbers of a file that names no unit are meant in.
enum class ImportUnit { millimetre, centimetre, metre, inch, foot };
inline constexpr ImportUnit import_units[] = {ImportUnit::millimetre, ImportUnit::centimetre, ImportUnit::metre,
                                              ImportUnit::inch, ImportUnit::foot};
/// "mm", "cm", "m", "in", "ft": as job files and the command line have it.
std::string_view word(ImportUnit unit);
std::optional<ImportUnit> import_unit_from(std::string_view word);

/// What holds for the job as a whole.
struct JobSettings {
    std::optional<ImportUnit> import_unit;  ///< the answer, so that it is asked for once
    ContactRule contact = ContactRule::separate;
    bool merge_flush = false;  ///< flush faces side by side become one flat region
    /// From where on things are told, by the names of `InspectOptions`, where that is not the usual for the mesh.
    std::map<std::string, double, std::less<>> told_from{};
    /// Findings that may stay: by the id of a part, as it is before it is placed; of the result under "".
    std::map<std::string, std::vector<AcceptedFinding>, std::less<>> accepted{};
    /// Beside them, those of kinds that this version does not know: lists, by part.
    std::map<std::string, Extra, std::less<>> accepted_extra{};
    Extra extra{};
    bool operator==(const JobSettings&) const = default;
};
/// Whether `name` is a threshold of `InspectOptions`.
bool is_threshold(std::string_view name);

/// Millimetres that one unit is long.
double millimetres(ImportUnit unit);
/// From where on things are told in a job of these settings: what they say under "told_from", else the usual for the
/// mesh.
InspectOptions inspect_options(const JobSettings& settings, const Mesh& mesh);
/// Sets a threshold, by its name as `InspectOptions` has it: "thin_below" and so on. Precondition: it is one.
void set_threshold(JobSettings& settings, std::string_view name, double value);
/// How a job's result is to be settled.
SettleOptions settle_options(const JobSettings& settings, Precision precision = Precision::double_precision);

}  // namespace anvil
