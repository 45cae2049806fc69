#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/mesh/polygon.h"

namespace anvil {

/// A point of an outline as it is drawn, and the way to the next one: straight, or an arc of a circle whose middle
/// stands so far out to the right of the straight way, mm (of a loop that runs counter-clockwise: outwards).
struct DrawnPoint {
    Point2 at{};
    double arc = 0;
};
using DrawnLines = std::vector<std::vector<DrawnPoint>>;

/// Reads lines from text: a point "x y" or "x y arc" a line, in mm, also with commas; an empty line ends a line; what
/// follows a # is left out. Fails: bad_number, bad_count, with the line of text.
Result<DrawnLines> drawn_from_text(std::string_view text);
/// The reverse: all digits.
std::string text_of(const DrawnLines& lines);

/// A line with its arcs cut into straight stretches that leave them by no more than `chord` mm. `closed`: the last
/// point goes on to the first.
std::vector<Point2> straightened(std::span<const DrawnPoint> line, bool closed, double chord);

}  // namespace anvil
