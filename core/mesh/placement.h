#pragma once

#include "core/mesh/transform.h"

namespace anvil {

/// Where a part stands: turned about the x, then the y, then the z axis of the world, then moved.
struct Placement {
    Vec3 position;  ///< mm
    Vec3 angles;    ///< degrees
    bool operator==(const Placement&) const = default;
    bool is_identity() const { return *this == Placement{}; }
    /// Quarter turns come out exact.
    Transform transform() const;
};

/// Where something stands that was put there by a transform without scale.
Placement placement_from(const Transform& t);

}  // namespace anvil
