#pragma once

#include "core/arrange/crossings.h"
#include "core/arrange/point_table.h"

namespace anvil {

/// A part of the line where another cluster's plane meets that of a cluster (see subdivide.cpp).
struct Stretch {
    std::uint32_t cluster;  ///< the other one
    FaceId other;           ///< a face of it
    VertexId p, q;
};

/// What `crossings` (numbers in `all.segments`) leave on the plane of `faces`, by the other cluster. Faces that lie on
/// each other have a segment each of the same line: those that overlap or touch come as one.
/// `faces`: sorted. `cluster_of`: per face of the soup.
std::vector<Stretch> stretches_on(std::span<const FaceId> faces, std::span<const std::uint32_t> crossings,
                                  const Crossings& all, std::span<const std::uint32_t> cluster_of,
                                  const PointTable& points);

}  // namespace anvil
