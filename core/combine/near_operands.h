#pragma once

#include <memory>
#include <vector>

#include "core/arrange/operand.h"

namespace anvil {

/// Operands that lie on each other but for their last digits, so that nearly every face of one crosses its neighbours
/// of the other, in points that rounding moves as far as the surfaces are apart. A result of their exact arrangement
/// has faults all over and is given up (see settle_pieces.h), so their points are made one before they are arranged, by
/// the rule of NearPoints: surfaces coincide then, which is as exact as numbers can keep.
///
/// An operand whose points move is another one, with `moved`; its faces' origins are those of the one it stands for.
/// All others stay as they are: bodies that are farther apart, that nearly coincide in places only, or whose crossings
/// doubles hold.
std::vector<std::shared_ptr<const Operand>> with_near_points_one(std::vector<std::shared_ptr<const Operand>> operands,
                                                                 Progress& progress);

}  // namespace anvil
