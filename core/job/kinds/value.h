#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <variant>
#include <vector>

#include "core/base/vec3.h"

namespace anvil {

/// What a field of a step holds.
using Value = std::variant<bool, std::int64_t, double, std::string, std::vector<std::string>, std::vector<Vec3>>;
/// By the names of the fields: what differs from the usual.
using Values = std::map<std::string, Value, std::less<>>;

}  // namespace anvil
