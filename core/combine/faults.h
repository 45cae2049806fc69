#pragma once

#include <optional>

#include "core/combine/rounding.h"

namespace anvil {

/// What is wrong about rounded faces.
struct Faults {
    std::vector<std::pair<std::uint32_t, std::uint32_t>>
        pairs;                        ///< faces that meet where they should not, the lower first
    std::vector<std::uint32_t> flat;  ///< faces without area

    bool empty() const { return pairs.empty() && flat.empty(); }
};
/// Only faces with a moved corner, and those that they meet, can be faulty. Sorted; nothing where it was stopped.
std::optional<Faults> find_faults(const RoundedFaces& rounded, Progress& progress);

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
