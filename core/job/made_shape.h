#pragma once

#include "core/job/kept_results.h"
#include "core/job/model.h"

namespace anvil {

/// The body of a shape, made once for its numbers. Fails: newer_version where its kind is not known here, out_of_range
/// where the numbers do not go together, out_of_memory.
Result<std::shared_ptr<const Solid>> made_shape(const Shape& shape, KeptResults& kept);

}  // namespace anvil
