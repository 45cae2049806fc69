#pragma once

#include "core/base/vec3.h"

namespace anvil::app {

/// A plane through the view: what lies in front of it is not shown.
struct SectionPlane {
    Vec3 origin, normal{0, 0, 1};
    bool operator==(const SectionPlane&) const = default;
    bool hides(const Vec3& p) const { return dot(p - origin, normal) > 0; }
};

}  // namespace anvil::app
