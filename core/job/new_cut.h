#pragma once

#include <span>

#include "core/job/model.h"

namespace anvil {

/// Values of a new plane cut, in the coordinates of its list: places in hundredths of a millimetre along the axes that
/// it is square to. `face`: what it holds on to, none for a plane by its numbers.
Values values_of_plane(const Vec3& origin, const Vec3& normal, std::vector<Anchor> face);

/// Of level layers, a tenth or so of the body's height each.
Values values_of_layers(const Box& box);

/// Of a body, or a feature of it, that is mirrored across the middle of its box, square to x, or across a plane
/// through `pivot`.
Values values_of_mirror(const Box& box, const std::optional<Vec3>& pivot);

/// Values of a new hole, as large as goes with the body that the box is round.
Values values_of_hole(const Vec3& place, const Vec3& normal, std::vector<Anchor> face, const Box& box);
/// Whether a hole there can be one of those of a step: on the same face, or square to the same plane.
bool goes_with_holes(const Values& holes, const std::vector<Anchor>& face, const Vec3& place, const Vec3& normal);
Values with_hole(Values holes, const Vec3& place);

/// A place added to those that a field of points has.
Values with_place(Values values, const Field& field, const Vec3& place);

/// Values of a new outline cut that was dragged from a to b: a rectangle from corner to corner, a circle or a polygon
/// from its middle. `typed`: its sizes in mm instead, width and length, diameter, or across flats. None where it is
/// smaller than a thousandth of a millimetre.
std::optional<Values> values_of_outline(const std::string& shape, const Vec3& a, const Vec3& b, const Vec3& normal,
                                        std::span<const double> typed = {});
/// Of one that was drawn, "drawing" or "line": points in its plane. What was drawn freehand is made simpler, by no more
/// than a 500th of its size. `typed`: lengths were typed, so places are kept to a millionth of a millimetre.
Values values_of_drawn(const std::string& shape, const std::vector<Vec3>& points, const Vec3& normal,
                       bool typed = false);
/// The outline of a rectangle, circle or polygon that such values are of; empty where they are of none.
std::vector<Vec3> outline_of(const Values& values);

/// Of a straight stretch in a plane: its length in mm, and its angle in degrees from the plane's first axis.
struct Stretch {
    double length = 0, angle = 0;
};
Stretch stretch_between(const Vec3& from, const Vec3& to, const Vec3& normal);
/// Where one of a typed length ends, and, where there is a second number, of that angle; else it runs towards `to`.
Vec3 stretch_end(const Vec3& from, const Vec3& to, const Vec3& normal, std::span<const double> typed);

/// A direction of length 1 along a line: that of its two which is nearer to what was before, or where it was along the
/// line already the other one. Along an axis but for rounding it is that.
Vec3 next_direction(const Vec3& before, const Vec3& line);

/// Turns the two sides of a notch round. False where both are as wide.
bool swap_sides_of_notch(Job& job, const std::string& step);

/// Sets which side of a cut stays to the next one: both, front, back. Returns that; empty where there is no such
/// choice.
std::string next_kept_side(Job& job, const std::string& step);

}  // namespace anvil
