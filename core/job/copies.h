#pragma once

#include <span>

#include "core/base/result.h"
#include "core/mesh/transform.h"

namespace anvil {

/// A mesh many times, one behind the other. Fails: out_of_range, where that would be more than 20 million faces.
Result<Mesh> copied(const Mesh& one, std::span<const Transform> places);

}  // namespace anvil
