#pragma once

#include "core/job/kinds/kind.h"

namespace anvil {

/// ShapeValues of a shape: what is smaller is dust, what is larger is no part.
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
/// How finely what is round is cut into faces.
inline std::vector<Field> with_facets(std::vector<Field> fields) {
    fields.push_back(measure_field("chord", 0.02, "chord error", "how far flat faces may stand off the round surface"));
    fields.push_back(
        count_field("around", 0, "faces round it", "so many in a full turn; 0: as the chord error needs", 0, 100000));
    for (auto folded = fields.end() - 2; folded != fields.end(); ++folded) {
        folded->is_folded = true;
        folded->goes_with_size = false;
    }
    return fields;
}

/// Reads the values of one shape.
class ShapeValues {
  public:
    ShapeValues(std::string_view shape, const Values& values) : kind_(*find_shape(shape)), values_(values) {}
    double operator[](const char* field) const { return value_of<double>(kind_, values_, field); }
    int count(const char* field) const { return static_cast<int>(value_of<std::int64_t>(kind_, values_, field)); }
    bool is(const char* field) const { return value_of<bool>(kind_, values_, field); }
    const std::string& word(const char* field) const { return value_of<std::string>(kind_, values_, field); }
    Facets facets() const {
        // One or two faces go round nothing.
        const int around = count("around");
        return {(*this)["chord"], around == 0 ? 0 : std::max(3, around)};
    }

  private:
    const Kind& kind_;
    const Values& values_;
};

}  // namespace anvil
