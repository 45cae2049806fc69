#pragma once

#include "core/mend/repairs.h"
#include "core/mesh/measures.h"

namespace anvil {

/// mm: borders no farther apart are taken for one.
inline double border_reach(const Mesh& mesh, const MendOptions& options) {
    return options.border_reach >= 0 ? options.border_reach : 1e-5 * bounds(mesh).diagonal();
}

}  // namespace anvil
