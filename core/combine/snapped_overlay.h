#pragma once

#include <array>
#include <map>
#include <optional>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/base/vec3.h"

namespace anvil {

/// An edge of faces that lie in the plane z = 0, of points by their numbers.
struct FlatEdge {
    std::uint32_t low, high;
    int times = 0;  ///< how much more often is covered what is left of it, looking from the lower point, than right
    bool stays = false;  ///< though it parts nothing
    /// The first face there that counts up, and the first that counts down: -1 where there is none.
    std::array<int, 2> left{-1, -1}, right{-1, -1};

    bool is_rim() const { return times != 0 || stays; }
};

using FlatFace = std::array<std::uint32_t, 3>;

/// The edges of faces, sorted. `times`: how often each face lies there; less than 0 where it counts down, turned as if
/// it were counter-clockwise. Precondition: no face is in line.
std::vector<FlatEdge> flat_edges(std::span<const Vec3> points, std::span<const FlatFace> faces,
                                 std::span<const int> times);

/// Faces of the plane z = 0 laid over each other: what is covered how often, with the crossings of rims rounded so that
/// still nothing crosses. Rims bend by less than the grid's width there. Of the other edges there are those that are in
/// nobody's way.
struct SnappedOverlay {
    struct Part {
        FlatFace corners;  ///< counter-clockwise
        int times;         ///< how often it is covered, not 0
        int face;          ///< one that counts alike and covers it, or nearly does; -1 where none is known
    };
    std::vector<Vec3> points;  ///< those given, then the new ones
    std::vector<Part> parts;   ///< meet in common corners and edges only
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<std::uint32_t>> along;  ///< per rim: points on it
    int rounds = 0;  ///< how often crossings were rounded
};

/// `points`: no two in one place, z is not looked at; `edges`: as flat_edges has them. New points lie on the
/// grid, a power of two in mm, or where an older point is within half of its width. Nothing where there are more than
/// `most_points`, or rounding does not come to an end. Fails only where it was stopped.
Result<std::optional<SnappedOverlay>> snapped_overlay(std::vector<Vec3> points, std::vector<FlatEdge> edges,
                                                      double grid, std::size_t most_points, Progress& progress);

}  // namespace anvil
