#pragma once

#include "core/job/kinds/kind.h"

namespace anvil {

/// Where a plane is that mirrors: square to an axis.
inline std::vector<Field> mirror_fields() {
    return {{.name = "across",
             .type = Field::Type::choice,
             .usual = std::string("x"),
             .label = "across",
             .says = "the axis that the plane stands square to",
             .choices = {"x", "y", "z"}},
            {.name = "at",
             .type = Field::Type::length,
             .usual = 0.0,
             .label = "at",
             .says = "where the plane is along that axis"}};
}

}  // namespace anvil
