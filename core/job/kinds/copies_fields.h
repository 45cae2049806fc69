#pragma once

#include "core/job/kinds/kind_values.h"

namespace anvil {

/// One operand is taken no more often than this.
inline constexpr double most_copies = 100'000;

inline Result<void> check_copies(double count) {
    if (count <= most_copies) return {};
    return Error{ErrorCode::out_of_range, "that would be more than 100000 copies: make fewer", ""};
}

inline Field number_of_copies(const std::string& name, int usual, const std::string& label) {
    return {.name = name,
            .type = Field::Type::count,
            .usual = std::int64_t{usual},
            .label = label,
            .says = "how many, with the first one",
            .least = 1,
            .most = most_copies};
}

}  // namespace anvil
