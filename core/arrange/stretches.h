#pragma once

#include "core/arrange/clusters.h"
#include "core/arrange/few.h"

namespace anvil {

/// A part of the line where another cluster's plane meets that of a cluster.
struct Stretch {
    std::uint32_t cluster;  ///< the other one
    FaceId other;           ///< a face of it
    VertexId p, q;
};

/// What the crossings of a cluster leave on its plane, by the other cluster. Faces that lie on each other have a
/// segment each of the same line: those that overlap or touch come as one.
Few<Stretch> stretches_on(const Cluster& cluster, const Crossings& all, const Clusters& clusters,
                          const ActiveFaces& active, const PointTable& points);

}  // namespace anvil
