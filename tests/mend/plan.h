#pragma once

#include "core/mend/mend.h"
#include "tests/support/support.h"

namespace anvil::test {

/// What the whole plan makes of a mesh.
inline Mended mended_by_plan(const Mesh& mesh, const MendOptions& options) {
    Progress progress;
    auto out = mend(mesh, whole_plan(), options, progress);
    REQUIRE(out);
    return std::move(*out);
}

}  // namespace anvil::test
