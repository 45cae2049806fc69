#pragma once

#include "core/arrange/covered_edges.h"
#include "core/arrange/covers.h"
#include "core/mesh/disjoint_sets.h"

namespace anvil {

/// Several faces in one plane, and the edges at which the plane is split: all, or all but those that are covered (see
/// covered_edges.h). Faces between which there is one of these count as one, whose number is that of the first.
class FlushFaces {
  public:
    /// `faces`: as find_covered_edges wants them.
    FlushFaces(const PointTable& points, std::vector<FlushFace> faces, int axis);
    void leave_out_covered(const Soup& soup, std::span<const std::uint32_t> folded);

    /// Of each face, as edge_uses has them.
    std::span<const EdgeUse> edges() const { return edges_; }
    std::uint32_t counts_as(std::uint32_t face) const { return counts_as_[face]; }
    /// Has the lists name the face itself that lies there, in place of the one as which it counts, where that is not
    /// covered. `covers`: of the faces as which they count, by the triangulation's faces.
    void tell_apart(const PlanarTriangulation& triangulation, Covers<std::vector<int>>& covers) const;

  private:
    bool is_covered(const FlushFace& face, std::span<const int> by) const;
    bool holds(const FlushFace& face, const PlanarTriangulation& triangulation, const int (&corners)[3]) const;
    int turn_of(const FlushFace& face) const { return face.against ? -turn_ : turn_; }

    const PointTable& points_;
    std::vector<FlushFace> faces_;
    int axis_, turn_;  // turn_: how the first face goes round as the axis sees it
    std::vector<EdgeUse> edges_;
    std::vector<std::uint32_t> counts_as_;
    std::vector<std::uint32_t> together_;  // per face as which others count: how many
};

}  // namespace anvil
