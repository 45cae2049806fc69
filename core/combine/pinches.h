#pragma once

#include <span>
#include <vector>

#include "core/arrange/face_source.h"
#include "core/base/progress.h"
#include "core/combine/settle_options.h"

namespace anvil {

/// Where a closed surface touches itself. At such a point its faces form several fans, each the skin of one body.
struct Pinches {
    struct Corner {
        VertexId point;
        FaceId face;
        std::uint32_t fan;  ///< within the point's, from 0
    };
    std::vector<Corner> corners;  ///< of all faces at pinched points, by point, then by fan
    std::size_t points = 0;
    std::vector<std::pair<VertexId, VertexId>> edges;  ///< edges with more than two faces
    /// Those of the edges whose ends do not tell the bodies apart, since the surface hangs together round both.
    std::vector<std::pair<VertexId, VertexId>> closed_edges;

    bool empty() const { return points == 0 && edges.empty(); }
};

/// Where a surface may touch itself.
struct PinchCandidates {
    std::vector<char> points;   ///< per point, whether it may be pinched
    std::vector<FaceId> faces;  ///< all that have such a point; others may be among them

    static PinchCandidates all(const Mesh& mesh);
};
/// Preconditions: closed, free of crossings, degenerate and doubled faces; points with equal coordinates are one. Of a
/// mesh that is not, or where it was stopped, what comes out means nothing.
Pinches find_pinches(const Mesh& mesh, const PinchCandidates& candidates, const Progress& progress);
/// The same, anywhere on the mesh.
Pinches find_pinches(const Mesh& mesh, const Progress& progress);

/// Splits the given edges in the middle; there each body has a fan of its own. `source` is kept side by side with the
/// faces.
void split_edges(Mesh& mesh, std::span<const std::pair<VertexId, VertexId>> edges, Precision precision,
                 std::vector<FaceSource>& source);

/// Per corner of `pinches.corners`: the way outward from the body of its fan, of length 1.
std::vector<Vec3> fan_normals(const Mesh& mesh, const Pinches& pinches);

/// Small bodies, about `step` mm thick, round each pinched edge and point. United with the mesh they join what touches.
Mesh bridges(const Mesh& mesh, const Pinches& pinches, double step);

}  // namespace anvil
