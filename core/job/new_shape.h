#pragma once

#include "core/job/model.h"

namespace anvil {

/// Measures of a new shape for a body that is so large, in mm: the usual ones, all larger or smaller by 1, 2 or 5 times
/// a power of ten, so that it is about a third of that.
Values values_for_size(const Kind& shape, double size);

/// Where a shape stands that has its foot on a point and rises along a direction, which is not 0. Along an axis it is
/// turned by quarters just so, and its place is rounded to hundredths of a mm within the plane.
Placement standing_on(const Vec3& point, const Vec3& up);

/// "box", or "box 2" where there is one already.
std::string unused_name(const Job& job, const std::string& name);

}  // namespace anvil
