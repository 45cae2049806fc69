#pragma once

#include "core/job/edits.h"

namespace anvil {

/// Moves what a row is about by a transform without scale, told in the coordinates of the job. Angles that come within
/// a millionth of a whole degree are that.
void move_row(Job& job, const Row& row, const Transform& by);

/// Of a body that stands there: the move that puts its lowest point on a height, in mm.
Transform onto_height(const Mesh& body, const Transform& stands, double height);
/// The move that puts the middle of its box over a point.
Transform over_middle(const Mesh& body, const Transform& stands, const Vec3& middle);
/// The move after which what looks along `normal` looks straight down, and the body lies on a height. It is turned by
/// the shortest way.
Transform laid_down(const Mesh& body, const Transform& stands, const Vec3& normal, double height);
/// The move after which a flat face looks straight at another, so far away from it, in mm: turned by the shortest way
/// about its own point, then moved along the other's normal only. Normals have length 1.
Transform put_flush(const Vec3& place, const Vec3& normal, const Vec3& onto, const Vec3& onto_normal, double offset);
/// Moves what a row is about by that. `place`: a point of the face in the part's own coordinates. Where the other face
/// is square to an axis of the job its plane is met as nearly as its number can be.
void lay_flush(Job& job, const Row& row, const Vec3& place, const Vec3& normal, const Vec3& onto,
               const Vec3& onto_normal, double offset);
/// With other angles, in degrees, so that a point of its list stays where it is.
Placement with_angles(const Placement& before, const Vec3& angles, const Vec3& about);
/// The factors along the axes of its list by which a part is scaled when a side of its box, or a corner, has been
/// dragged away from a point, so that its size is a whole number of steps. `axis`: 0 to 2, or 3 for all, in proportion;
/// `lever`: how far the side lay from the point, `travel`: how far it was dragged, in mm.
Vec3 dragged_scale(const Box& box, int axis, double lever, double travel, double step);
/// The same for a size in mm along that axis, of all that of the longest; none where there is no such size.
std::optional<Vec3> scale_to_size(const Box& box, int axis, double size);
/// A turn about an axis of the job through a point, in degrees; quarter turns are exact.
Transform turned_about(const Vec3& centre, int axis, double degrees);

/// A direction turned about an axis, in degrees; what comes to lie square to an axis of the coordinates is exactly so.
Vec3 turned_direction(const Vec3& direction, const Vec3& axis, double degrees);

/// Where boxes are aligned along an axis: by their low sides, middles or high sides.
enum class AlignSide { low, middle, high };
/// How far each box goes along the axis (0 to 2) to be aligned with the first one.
std::vector<double> aligned(std::span<const Box> boxes, int axis, AlignSide side);
/// How far each box goes along the axis so that the gaps between neighbours are alike; the outermost two stay. In their
/// order along the axis, by their middles.
std::vector<double> distributed(std::span<const Box> boxes, int axis);

/// Makes a part's body so many times as large along each axis of its own list, about a point there. A last step of its
/// list that does nothing but that is set anew; else one is added, of the kind "place".
void scale_part(Job& job, const std::string& part, const Vec3& factors, const Vec3& about);

/// Repeats what a row is about, with all that belongs to it: a part with its steps, and the step that uses it behind
/// that one; of a treatment, that. What is repeated stands so far away, in the coordinates of the job. Returns the new
/// row's id, empty where there is nothing to repeat.
RowId duplicate(Job& job, const RowId& row, const Vec3& by);

}  // namespace anvil
