#pragma once

#include <optional>

#include "core/base/result.h"
#include "core/cut/cutter.h"
#include "core/mesh/selection.h"

namespace anvil {

/// The outline of faces pushed through the body they belong to.
struct Broach {
    std::optional<Vec3> along{};  ///< the way into the body; none: against the mean of the faces' normals
    bool own_normals = false;     ///< each corner against the mean normal of the faces there, instead
    double depth = 0;             ///< mm; 0: through all
    bool boss = false;            ///< turned round: it stands out by the depth instead
    double over = 0.01;           ///< mm that it begins outside of the faces, and ends beyond what it goes through
};

/// Sides: 0 the faces, 1 its far end, 2 its walls.
/// Mesh: welded. Fails: out_of_range, where the faces look along the way, so that it would meet its own beginning.
Result<Cut> broached(const Mesh& body, const Selection& faces, const Broach& broach, const Box& box);

}  // namespace anvil
