#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/combine/settle.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// What counts as left over by cuts. A limit of 0 leaves that sort alone.
struct ResidueLimits {
    double island = 1;    ///< mm: separate bodies, and hollows, whose box is shorter than that along every axis
    double sliver = 0.1;  ///< mm: separate bodies that are thinner in the mean: twice their volume by their area
    double skin = 0.05;   ///< mm: walls that the body still hangs on to, at least ten times as wide as thick;
                          ///< of a small body no more than a 50th of its size is a skin
    bool loose = true;    ///< faces that end freely on a solid or beside it
};

/// A body without its residue.
struct Cleared {
    Mesh mesh;
    std::size_t loose = 0, islands = 0, slivers = 0, skins = 0;  ///< faces, bodies, bodies, places that went
    std::size_t skins_left = 0;                                  ///< places that could not be pushed through
    double volume = 0;                                           ///< mm3 that went with them, hollows filled taken off
    std::vector<Vec3> places{};                                  ///< some point of each
    std::size_t count() const { return loose + islands + slivers + skins; }
};

/// Takes away what cuts have left over. The largest shell always stays. A thin skin is cut out by its smaller wall,
/// pushed through it. Mesh: welded. Fails: as `combine` does; cancelled.
Result<Cleared> cleared_of_residue(const Mesh& body, const ResidueLimits& limits, const SettleOptions& settle,
                                   Progress& progress);

}  // namespace anvil
