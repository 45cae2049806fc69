#pragma once

#include <string_view>
#include <vector>

#include "core/mesh/polygon.h"
#include "core/shape/solid.h"

namespace anvil {

/// Closed loops in a plane, mm: the last point of each is joined to its first.
using Outline = std::vector<std::vector<Point2>>;

/// What loops enclose: what is gone round an odd number of times, or any number of times but none (SVG 1.1,
/// "fill-rule").
enum class FillRule { even_odd, non_zero };

/// Reads loops from text: a point "x y" a line, in mm, also with a comma; an empty line ends a loop; what follows a #
/// is left out. Fails: bad_number, bad_count, with the line.
Result<Outline> outline_from_text(std::string_view text);

/// What an outline encloses, cut into triangles, counter-clockwise, that meet at whole edges. Loops may cross
/// themselves and each other, run along each other, and touch. Empty where they enclose nothing.
struct FilledOutline {
    std::vector<Point2> points;
    std::vector<std::array<std::uint32_t, 3>> triangles;
};
/// By a constrained triangulation of the loops (CGAL's), whose triangles are told inside or outside by how often the
/// loops go round them.
FilledOutline filled(const Outline& outline, FillRule rule);

}  // namespace anvil
