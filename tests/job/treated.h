#pragma once

#include "core/job/kinds/kind.h"
#include "tests/support/support.h"

namespace anvil::test {

/// What a kind makes of a mesh.
inline Treated treated(const char* word, const Mesh& mesh, const Values& values = {}) {
    const Kind* kind = find_kind(word);
    REQUIRE(kind);
    const auto checked = check_values(*kind, values);
    INFO((checked ? "" : checked.error().text));
    REQUIRE(checked);
    Progress progress;
    auto done = kind->treat(std::make_shared<const Mesh>(mesh), values, {}, progress);
    REQUIRE(done);
    return std::move(*done);
}

}  // namespace anvil::test
