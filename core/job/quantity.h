#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace anvil {

enum class Unit { millimetre, degree };

/// Reads a typed number: decimal numbers with a unit each, + - * / and brackets, "12.5+1in", "3/4 in", "(2+1)*4mm".
/// A number without a unit is in mm (lengths) or degrees (angles). Lengths: um, mm, cm, m, in, ft; angles: deg, rad.
/// Returns mm or degrees. A unit binds to the number or bracket right before it.
/// Errors: a sentence that says where it went wrong; numbers go up to 1e12.
Result<double> parse_quantity(std::string_view text, Unit unit);

/// The same; what begins with "by" counts from the value that there is: "by 5", "by -1/4in".
Result<double> parse_quantity(std::string_view text, Unit unit, double now);

/// "12.5 mm", with at most six decimals and no trailing zeros.
std::string format_quantity(double value, Unit unit);

}  // namespace anvil
