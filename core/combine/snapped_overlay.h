#pragma once

#include <array>
#include <map>
#include <optional>
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// Triangles of the plane z = 0 laid over each other: what lies where, with the crossings of their edges rounded so
/// that still nothing crosses. Edges bend by less than the grid's width there.
struct SnappedOverlay {
    std::vector<Vec3> points;                         ///< those of the triangles, then the new ones
    std::vector<std::array<std::uint32_t, 3>> parts;  ///< counter-clockwise, meeting in common corners and edges only
    std::vector<std::uint32_t> cover;                 ///< per part: number in `covers`
    /// Triangles that lie there, by number, each with how often: -1 where it is clockwise, or rounding turned it over.
    std::vector<std::map<int, int>> covers;
    /// Per edge of a triangle, lower corner first: the points along it, its corners among them.
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<std::uint32_t>> along;
    int rounds = 0;  ///< how often crossings were rounded
};

/// `triangles`: no two points in one place, no triangle in line; z is not looked at. New points lie on the grid, a
/// power of two in mm, or where an older point is within half of its width. Nothing where there are more than
/// `most_points`, or rounding does not come to an end. Fails only where it was stopped.
Result<std::optional<SnappedOverlay>> snapped_overlay(const Mesh& triangles, double grid, std::size_t most_points,
                                                      Progress& progress);

}  // namespace anvil
