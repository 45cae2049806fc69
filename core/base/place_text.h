#pragma once

#include <cstdio>
#include <string>

#include "core/base/vec3.h"

namespace anvil {

/// "(1, 2.5, -3)", with four digits.
inline std::string place_text(const Vec3& p) {
    char text[96];
    std::snprintf(text, sizeof text, "(%.4g, %.4g, %.4g)", p.x, p.y, p.z);
    return text;
}

}  // namespace anvil
