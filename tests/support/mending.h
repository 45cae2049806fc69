#pragma once

#include <span>

#include "core/mend/mend.h"

namespace anvil::test {

/// Mends, and checks that it went well, no more.
Mended mended(const Mesh& mesh, const MendOptions& options = {}, std::span<const Repair> plan = whole_plan());

void drop_face(Mesh& mesh, std::size_t f);
/// The mesh less the faces that lie in the plane at this height.
Mesh without_top(const Mesh& mesh, double z);

}  // namespace anvil::test
