#pragma once

#include "core/arrange/elements.h"
#include "core/base/progress.h"
#include "core/base/runs.h"

namespace anvil {

/// A face at an edge, as met when turning counter-clockwise about the edge's direction (low to high vertex).
struct Wing {
    VertexId low, high;
    std::uint32_t element;
    bool forward;         ///< the face runs along the edge from low to high
    std::uint8_t corner;  ///< of the face, that the edge is behind
    VertexId apex;
    FaceId plane;

    std::uint32_t side_ahead() const { return 2 * element + (forward ? 0 : 1); }  ///< met next when turning on
    std::uint32_t side_behind() const { return 2 * element + (forward ? 1 : 0); }
};

/// The wings of all edges at which sub-faces end, edge by edge, round each edge in order. Where an active face borders
/// on a patch, the patch's face there is a wing too. Of no use where it was stopped.
std::vector<Wing> find_wings(const Soup& soup, const PointTable& points, const ActiveFaces& active,
                             const SubFaces& faces, const Patches& patches, const Progress& progress);

}  // namespace anvil
