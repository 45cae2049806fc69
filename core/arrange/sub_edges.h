#pragma once

#include "core/arrange/wings.h"

namespace anvil {

/// The edges of sub-faces, numbered in the order of their points, the lower first.
struct SubEdges {
    std::uint32_t count = 0;
    std::vector<std::array<std::uint32_t, 3>> of_face;  ///< per sub-face: the edges behind its corners
};

/// `wings`: as find_wings has them. `faces`: how many sub-faces there are.
SubEdges number_edges(std::span<const Wing> wings, std::size_t faces);

}  // namespace anvil
