#pragma once

#include "core/combine/extract.h"

namespace anvil {

/// The edges at which surfaces of given operands cross others, or end on them.
class SurfaceLines {
  public:
    SurfaceLines(const Arrangement& arrangement, std::span<const std::uint32_t> operands);

    /// Whether one of the surfaces crosses a plane along an edge, or ends in it there. `plane`: as in
    /// `SubFaces::plane`.
    bool at(VertexId low, VertexId high, FaceId plane) const;

  private:
    struct Line {
        VertexId low, high;
        FaceId plane;  // of the surface
    };
    std::vector<Line> lines_;  // sorted by the edge
};

}  // namespace anvil
