#pragma once

#include <span>
#include <vector>

#include "core/mesh/edge_table.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// A mesh as a view draws it: single precision about its own centre, triangles in an order that suits vertex caches,
/// and the edges at which the surface turns sharply or ends.
struct DisplayMesh {
    Vec3 center;  ///< add it to every position
    Box bounds;
    std::vector<float> positions;  ///< x, y, z per point
    /// Red, green, blue and whether there is a colour (1) or not (0), per point; empty for a mesh without colours.
    /// Points between faces of different materials are there once for each.
    std::vector<std::uint8_t> tints;
    std::vector<std::uint32_t> triangles;
    std::vector<std::uint32_t> reduced;  ///< fewer, of a large body, for pictures while it moves; else empty
    std::vector<float> creases;          ///< per end: x, y, z and the distance along the edge; two ends an edge
};

/// Degrees: the surface turns sharply at edges whose faces' normals differ by more.
inline constexpr double usual_crease = 28;
/// Red, green, blue.
using Tint = std::array<std::uint8_t, 3>;

/// `crease_angle`: edges between faces whose normals differ by more than this, in degrees, are drawn; from 0 down all
/// edges are. `tints`: one for each point of a welded mesh, in place of its materials; or none.
DisplayMesh make_display(const Mesh& mesh, double crease_angle = usual_crease, std::span<const Tint> tints = {});

/// The same of a welded mesh whose edges are known.
DisplayMesh make_display(const Mesh& mesh, const EdgeTable& edges);

/// As a large body is shown for a moment, while something is dragged: triangles in the order that they come in, none
/// reduced, no creases.
DisplayMesh make_quick_display(const Mesh& mesh);

/// Polylines as a view draws them: creases only. Closed ones end where they began.
DisplayMesh make_display_lines(std::span<const std::vector<Vec3>> lines);

}  // namespace anvil
