#pragma once

#include "core/shape/solid.h"
#include "tests/support/support.h"

namespace anvil::test {

/// Sound by every kind of fault, with a side for each face. `what`: said where it is not.
inline const Solid& sound(const Result<Solid>& made, const std::string& what = {}) {
    INFO(what);
    INFO((made ? "" : made.error().text));
    REQUIRE(made);
    CHECK(made->side.size() == made->mesh.faces.size());
    const Inspection in = inspected(made->mesh);
    INFO(findings_text(in));
    CHECK(in.print_ready);
    CHECK(signed_volume(made->mesh) > 0);
    CHECK(bounds(made->mesh).low.z == 0);
    return *made;
}

}  // namespace anvil::test
