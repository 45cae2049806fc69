#pragma once

#include "core/combine/pinches.h"
#include "core/combine/rounding.h"
#include "core/combine/settle.h"

namespace anvil {

/// A result that is rounded and proven, or as nearly so as could be reached.
struct Proven {
    Settled settled;
    Pinches pinches;  ///< where it touches itself; none are looked for where it crosses itself, or on surfaces
};
Result<Proven> round_and_prove(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                               const Attempt& attempt, Progress& progress);

}  // namespace anvil
