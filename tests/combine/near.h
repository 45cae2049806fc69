#pragma once

#include "tests/support/support.h"

namespace anvil::test {

inline Combined combined_pair(Operation operation, const Mesh& a, const Mesh& b, Precision precision) {
    const Mesh* operands[] = {&a, &b};
    Progress progress;
    auto done = combine(operation, operands, progress, {.precision = precision});
    REQUIRE(done);
    return std::move(*done);
}

}  // namespace anvil::test
