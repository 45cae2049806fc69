#pragma once

#include <array>

#include "core/arrange/clusters.h"

namespace anvil {

/// A part of an active face (or of several coplanar ones) that nothing crosses any more.
struct SubFaces {
    std::vector<Triangle> corners;      ///< in the point table's numbers
    std::vector<FaceId> plane;          ///< per sub-face: an active face that lies in its plane and is wound alike
    std::vector<std::uint32_t> source;  ///< per sub-face: number of its list in `sources`
    SourceLists sources;
    /// Per active face: from where to where the sub-faces of its plane lie, its own among them.
    std::vector<std::array<std::uint32_t, 2>> of_active;
    /// What became of each cluster: so many sub-faces, and lists of sources, from the first on.
    struct OfCluster {
        std::uint32_t first = 0, count = 0, first_list = 0, lists = 0;
        bool has_own_points = false;  ///< where crossings cross
    };
    std::vector<OfCluster> of_cluster;

    std::size_t size() const { return corners.size(); }
};

/// Step 4: splits every active face along its crossings, coplanar faces together, so that any two sub-faces meet in
/// common corners and edges only. Adds the points in which crossings cross to the table. `earlier`: has some clusters
/// split already; may be null. Fails only where it was stopped.
Result<SubFaces> subdivide(const Soup& soup, const Crossings& crossings, const ActiveFaces& active,
                           const Clusters& clusters, PointTable& points, const EarlierArrangement* earlier,
                           Progress& progress);

}  // namespace anvil
