#pragma once

#include <optional>

#include "core/combine/rounding.h"

namespace anvil {

/// Per rounded face: whether it degenerates or meets another face where it should not. Only faces with a moved corner,
/// and those that they meet, can. Empty where all is well.
std::vector<char> find_faults(const RoundedFaces& rounded);

/// A rounded point that falls on an input point.
struct Landing {
    std::uint32_t point;
    VertexId input;
};
/// The rounded points that fall on a point of the extraction's patches; nothing where a rounded face meets a face of
/// the patches where it should not.
std::optional<std::vector<Landing>> fit_to_patches(const Arrangement& arrangement, const Extraction& extraction,
                                                   const RoundedFaces& rounded);

}  // namespace anvil
