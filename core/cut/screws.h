#pragma once

#include <span>
#include <string_view>

namespace anvil {

/// A metric screw, and the holes for it; mm. 0: the standard has none.
struct Screw {
    std::string_view name;        ///< "M4"
    double diameter;              ///< of its thread
    double fine, medium, coarse;  ///< clearance holes, ISO 273:1979
    double head, head_height;     ///< of a hexagon socket head cap screw, dk and k, largest: ISO 4762:2004
    double counterbore;           ///< diameter of a counterbore for that, DIN 974-1, row 1
    double cone;                  ///< of a countersunk head of 90 degrees, dk in theory: ISO 10642:2004
    double insert, insert_depth;  ///< pilot hole for a threaded insert that is melted in: common practice
};
/// The numbers are told from memory of the standards and of makers' sheets.
std::span<const Screw> screws();
const Screw* find_screw(std::string_view name);

}  // namespace anvil
