#pragma once

#include <span>
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

/// Loops that are filled together. Of several such, all that any of them fills.
struct FilledLoops {
    Outline loops;
    FillRule rule = FillRule::even_odd;
};
using Drawing = std::vector<FilledLoops>;

/// Reads loops from text, as `drawn_from_text` (drawn.h) does, and cuts their arcs into straight stretches that leave
/// them by no more than `chord` mm. Fails: bad_number, bad_count, with the line or loop.
Result<Outline> outline_from_text(std::string_view text, double chord);

/// Reads what an SVG file fills: its paths, rectangles, circles, ellipses and polygons, by their own rules and
/// transformations, in mm (a pixel is 1/96 inch, CSS), y upwards from the lower edge of the page. Curves are cut into
/// straight stretches that leave them by no more than `chord` mm. Fails: bad_syntax, bad_number, bad_count, with the
/// element. Method: SVG 1.1 (second edition), chapters 7 (units, transform), 8 (paths, appendix F.6 for arcs), 9, 11.3.
Result<Drawing> drawing_from_svg(std::string_view text, double chord);

/// A drawing of an SVG file, or of points where the text is no such file.
Result<Drawing> drawing_from(std::string_view text, FillRule rule_of_points, double chord);

/// What a drawing fills, cut into triangles, counter-clockwise, that meet at whole edges. Loops may cross themselves
/// and each other, run along each other, and touch. Empty where they enclose nothing.
struct FilledOutline {
    std::vector<Point2> points;
    std::vector<std::array<std::uint32_t, 3>> triangles;
};
/// By a constrained triangulation of the loops (CGAL's), whose triangles are told inside or outside by how often the
/// loops go round them. `cuts`: no triangle goes across a line u = that.
FilledOutline filled(const Drawing& drawing, std::span<const double> cuts = {});

/// Edges that only one of some triangles has, as that runs along them; sorted.
std::vector<std::pair<std::uint32_t, std::uint32_t>> rim_edges(std::span<const std::array<std::uint32_t, 3>> triangles);

/// Closed loops along edges that run from the first of each pair to the second, each edge in one of them; nothing where
/// they do not close.
std::vector<std::vector<std::uint32_t>> closed_loops(std::span<const std::pair<std::uint32_t, std::uint32_t>> edges);

/// The walls of a prism, or a frustum: which sides they are.
enum class Walls { one_side, each_a_side };
/// A filled outline between two levels, with its points moved to other places on each. Sides: 0 below, 1 on top, 2 and
/// on round it, in the order of the rim's edges.
Solid lofted(const FilledOutline& fill, std::span<const Point2> low, std::span<const Point2> high, double z_low,
             double z_high, Walls walls);

/// A filled outline pushed from z = 0 to a height. Sides: 0 below, 1 on top, 2 round it.
Solid pushed(const FilledOutline& fill, double height);

}  // namespace anvil
