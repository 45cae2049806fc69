#pragma once

#include "core/job/kinds/kind_values.h"

namespace anvil {

/// Measures of a shape: what is smaller is dust, what is larger is no part.
inline constexpr double least_measure = 0.001, most_measure = 1e6;  // mm

inline Field measure_field(const char* name, double usual, const char* label, const char* says,
                           double least = least_measure) {
    return {.name = name,
            .type = Field::Type::length,
            .usual = usual,
            .label = label,
            .says = says,
            .least = least,
            .most = most_measure,
            .goes_with_size = true};
}
inline Field count_field(const char* name, int usual, const char* label, const char* says, int least, int most) {
    return {.name = name,
            .type = Field::Type::count,
            .usual = std::int64_t{usual},
            .label = label,
            .says = says,
            .least = static_cast<double>(least),
            .most = static_cast<double>(most)};
}
inline Field folded(Field field) {
    field.is_folded = true;
    field.goes_with_size = false;
    return field;
}
/// Of curves that are drawn, not turned.
inline Field chord_field() {
    Field out = measure_field("chord", 0.02, "chord error", "how far flat faces may stand off the round surface");
    out.is_folded = true;
    out.goes_with_size = false;
    return out;
}
/// How finely what is round is cut into faces.
inline std::vector<Field> with_facets(std::vector<Field> fields) {
    fields.push_back(chord_field());
    fields.push_back(
        count_field("around", 0, "faces round it", "so many in a full turn; 0: as the chord error needs", 0, 100000));
    fields.back().is_folded = true;
    return fields;
}

inline Facets facets_of(const KindValues& values) {
    // One or two faces go round nothing.
    const int around = values.count("around");
    return {values["chord"], around == 0 ? 0 : std::max(3, around)};
}

}  // namespace anvil
