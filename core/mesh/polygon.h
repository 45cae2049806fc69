#pragma once

#include <array>
#include <cstddef>
#include <span>
#include <vector>

#include "core/base/vec3.h"

namespace anvil {

/// A point of an outline in its plane.
struct Point2 {
    double u, v;
};

/// Whether an outline of any shape goes round a point an odd number of times. In doubles.
bool is_inside(std::span<const Point2> outline, const Point2& p);

/// Cuts a simple counter-clockwise polygon into triangles by clipping the largest free ear first. Returns corner
/// numbers, n - 2 triangles. A polygon that is not simple is cut all the same, into overlapping triangles.
std::vector<std::array<std::size_t, 3>> triangulate_outline(std::span<const Point2> outline);

/// The same for a polygon in space, seen along its mean normal.
std::vector<std::array<std::size_t, 3>> triangulate_polygon(std::span<const Vec3> polygon);

}  // namespace anvil
