#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// The generalized winding number of any triangles, at any number of points: the sum of the parts of all directions
/// that they cover (see solid_angle.h). Of a closed surface it is whole but for what groups of far faces, each taken as
/// one, leave out: less than `most_wrong`.
///
/// Based on: G. Barill et al., "Fast Winding Numbers for Soups and Clouds" (2018). We depart from it in using a binary
/// tree split at the middle, and the first order of the expansion only, seen from farther away.
class FastWinding {
  public:
    /// `mesh` must outlive it. Of no use where it was stopped.
    explicit FastWinding(const Mesh& mesh, const Progress* progress = nullptr);
    double at(const Vec3& p) const;
    static constexpr double most_wrong = 0.05;

  private:
    struct Node {
        Vec3 center;                         ///< of the faces' areas
        Vec3 area;                           ///< sum of the area vectors, mm2
        double radius = 0;                   ///< round the center, of a ball that holds all faces, mm
        std::uint32_t first = 0, count = 0;  ///< faces in order; none where it has children
        std::uint32_t left = 0, right = 0;
    };
    std::uint32_t build(std::uint32_t first, std::uint32_t count, const std::vector<Vec3>& middles,
                        const Progress* progress);

    const Mesh& mesh_;
    std::vector<FaceId> order_;
    std::vector<Node> nodes_;
};

}  // namespace anvil
