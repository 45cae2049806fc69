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
/// A turn about an axis of the job through a point, in degrees; quarter turns are exact.
Transform turned_about(const Vec3& centre, int axis, double degrees);

/// Repeats what a row is about, with all that belongs to it: a part with its steps, and the step that uses it behind
/// that one; of a treatment, that. What is repeated stands so far away, in the coordinates of the job. Returns the new
/// row's id, empty where there is nothing to repeat.
RowId duplicate(Job& job, const RowId& row, const Vec3& by);

}  // namespace anvil
