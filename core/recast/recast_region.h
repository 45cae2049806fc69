#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/combine/pinches.h"
#include "core/mesh/mesh.h"

namespace anvil {

struct RecastOptions {
    Box region;  ///< what is to be rebuilt
    /// mm; 0: half of the middle length of the edges there, between a 48th and a 12th of the region's longest side.
    double cell = 0;
    Precision precision = Precision::double_precision;  ///< what new points are rounded to
    ContactRule contact = ContactRule::separate;        ///< not kept where the mesh has holes: separate then
};

/// A mesh with a region of it rebuilt.
struct RecastRegion {
    Mesh mesh;                ///< welded
    Box region;               ///< what was rebuilt, with the cells round it; what lies outside stays, bit for bit
    double cell = 0;          ///< mm
    std::size_t rebuilt = 0;  ///< faces in the region
    double deviation = 0;     ///< mm, of them from the old surface, at their corners and middles
};

/// Rebuilds what a mesh encloses within a box from scratch, whatever its faces do there: its surface is put anew
/// (dual_contour.h) where the mesh is wound around the inside of it, and set in by the exact arrangement in place of
/// what was there. Outside of the box the faces stay, crossings among them are resolved, and holes that the mesh had
/// stay open. Parts within the region that are smaller than a cell go.
/// Preconditions: coordinates are finite; the region is not empty.
/// Fails: as `make_operand` does; open_operand where the mesh is a sheet, which encloses nothing; out_of_range for more
/// than 256 cells along a side; cancelled.
Result<RecastRegion> recast_region(const Mesh& mesh, const RecastOptions& options, Progress& progress);

}  // namespace anvil
