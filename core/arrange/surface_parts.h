#pragma once

#include "core/arrange/half_edges.h"

namespace anvil {

/// A surface whose smallest fill has more than this share of its own area is a sheet: a half sphere (1/2) is one, a
/// tube with open ends twice as long as wide (1/4) is a solid with two holes.
inline bool is_mostly_missing(double fill, double own) { return fill > 0.45 * own; }

/// The parts of a surface that hang together in points, and what is missing of each.
struct SurfaceParts {
    struct Hole {
        std::vector<VertexId> rim;
        std::vector<Triangle> fill;  ///< the smallest
    };
    std::vector<std::uint32_t> of_face;
    std::vector<double> area, missing;     ///< mm2, per part: what is there, and what the fills have
    std::vector<std::vector<Hole>> holes;  ///< per part

    std::size_t count() const { return area.size(); }
    bool is_sheet(std::size_t part) const { return is_mostly_missing(missing[part], area[part]); }
};
/// `unbalanced`: of the mesh's faces.
SurfaceParts find_surface_parts(const Mesh& mesh, std::span<const UnbalancedEdge> unbalanced);

}  // namespace anvil
