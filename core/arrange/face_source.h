#pragma once

#include <cstdint>

#include "core/mesh/mesh.h"

namespace anvil {

/// Where a face comes from: which operand, which of its faces, and whether it is used turned over.
struct FaceSource {
    std::uint32_t operand = 0;
    FaceId face;
    bool reversed = false;
    bool operator==(const FaceSource&) const = default;
};

}  // namespace anvil
