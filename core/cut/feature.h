#pragma once

#include "core/base/result.h"
#include "core/cut/cutter.h"
#include "core/cut/mirror_plane.h"
#include "core/mesh/selection.h"

namespace anvil {

/// A feature of a body, such as a hole or a peg, mirrored: its faces, closed where they end, across the plane. What
/// looks into itself is a hole and is cut out there, what stands out is added; `over`: mm that its ends go beyond where
/// the faces end, out of the body or into it. Sides: 0 its faces, 1 its ends, 2 what goes beyond. `said` tells which it
/// was. Mesh: welded. Fails: lost, where no face is chosen; out_of_range, where a rim crosses itself as seen along its
/// own normal, or nothing is enclosed.
Result<Cut> mirrored_feature(const Mesh& body, const Selection& faces, const MirrorPlane& plane, double over);

}  // namespace anvil
