#pragma once

#include "core/inspect/checks.h"

namespace anvil::inspect_detail {

/// Faces with the same three corners, the first of them standing for all: their pairs grow with the square of their
/// number, and say nothing more.
struct SameFaces {
    std::vector<std::uint32_t> first;    ///< per face: the one that stands for it
    std::vector<std::uint32_t> times;    ///< per face: for how many it stands
    std::vector<std::uint32_t> another;  ///< per face: the second one that it stands for, or itself
    std::vector<Triangle> faces;         ///< those that stand for others or themselves
    std::vector<std::uint32_t> number;   ///< per such: its number in the mesh
};
SameFaces find_same(std::span<const Triangle> faces);

/// Whether there are any; after the faces were checked.
bool has_copies(const CheckContext& context);

}  // namespace anvil::inspect_detail
