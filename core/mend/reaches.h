#pragma once

#include <span>

#include "core/mend/repairs.h"

namespace anvil {

/// How far a repair goes: a number of its options, in mm, of shells in mm3.
struct Reach {
    Repair repair;
    const char* name;  ///< in job files; on the command line with dashes
    double MendOptions::*value;
    const char *label, *says;            ///< "weld within", and what it means, in half a sentence
    bool may_be_less_than_none = false;  ///< below 0 it is taken from the size of the body
};
/// In the order of the plan.
std::span<const Reach> reaches();

}  // namespace anvil
