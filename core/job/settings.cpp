#include "core/job/settings.h"

#include <algorithm>

namespace anvil {

namespace {
constexpr std::pair<ImportUnit, const char*> unit_words[] = {{ImportUnit::millimetre, "mm"},
                                                             {ImportUnit::centimetre, "cm"},
                                                             {ImportUnit::metre, "m"},
                                                             {ImportUnit::inch, "in"},
                                                             {ImportUnit::foot, "ft"}};
}  // namespace

std::string_view word(ImportUnit unit) {
    for (const auto& [known, text] : unit_words)
        if (known == unit) return text;
    return "";
}
std::optional<ImportUnit> import_unit_from(std::string_view w) {
    for (const auto& [known, text] : unit_words)
        if (w == text) return known;
    return std::nullopt;
}

double millimetres(ImportUnit unit) {
    switch (unit) {
        case ImportUnit::millimetre: return 1;
        case ImportUnit::centimetre: return 10;
        case ImportUnit::metre: return 1000;
        case ImportUnit::inch: return 25.4;
        case ImportUnit::foot: return 304.8;
    }
    return 1;
}

namespace {
constexpr std::pair<const char*, double InspectOptions::*> thresholds[] = {
    {"thin_below", &InspectOptions::thin_below},   {"gap_below", &InspectOptions::gap_below},
    {"short_below", &InspectOptions::short_below}, {"needle_above", &InspectOptions::needle_above},
    {"tiny_below", &InspectOptions::tiny_below},   {"crack_below", &InspectOptions::crack_below}};
}  // namespace

InspectOptions inspect_options(const JobSettings& settings, const Mesh& mesh) {
    InspectOptions options = usual_options(mesh);
    for (const auto& [name, field] : thresholds)
        if (const auto at = settings.told_from.find(name); at != settings.told_from.end()) options.*field = at->second;
    return options;
}

bool is_threshold(std::string_view name) {
    return std::ranges::any_of(thresholds, [&](const auto& known) { return name == known.first; });
}

void set_threshold(JobSettings& settings, std::string_view name, double value) {
    settings.told_from[std::string(name)] = value;
}

SettleOptions settle_options(const JobSettings& settings, Precision precision) {
    return {precision, settings.contact, settings.merge_flush};
}

}  // namespace anvil
