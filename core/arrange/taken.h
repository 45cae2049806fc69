#pragma once

namespace anvil {

/// How a mesh is to be taken.
enum class Taken {
    repaired,    ///< as a solid, closed and turned where needed (see repair_operand.h); where it encloses nothing, as a
                 ///< sheet
    closed,      ///< the same, but every border of a sheet is filled, unless it is flat altogether
    as_wound,    ///< as a solid, as it is: winding numbers may be negative, and an open mesh is an error
    as_proven,   ///< as_wound, and known to be free of crossings, which are not looked for again
    as_surface,  ///< as a sheet, whether it closes or not
};

/// Twice as far, and sums of coordinates are no numbers any more.
inline constexpr double largest_coordinate = 1e300;

}  // namespace anvil
