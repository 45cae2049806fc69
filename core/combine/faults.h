#pragma once

#include <optional>

#include "core/combine/proven_faces.h"
#include "core/combine/rounding.h"
#include "core/spatial/box_tree.h"

namespace anvil {

/// What is wrong about rounded faces.
struct Faults {
    std::vector<std::pair<std::uint32_t, std::uint32_t>>
        pairs;                        ///< faces that meet where they should not, the lower first
    std::vector<std::uint32_t> flat;  ///< faces without area

    bool empty() const { return pairs.empty() && flat.empty(); }
};
/// Only faces with a moved corner, and those that they meet, can be faulty. Sorted; nothing where it was stopped.
/// Precondition: the surface has its tree.
std::optional<Faults> find_faults(const RoundedSurface& surface, Progress& progress);

/// How rounded faces lie to the patches of an extraction, which stay as they are.
struct PatchFit {
    /// A rounded point that falls on a point of a patch.
    struct Landing {
        std::uint32_t point;
        VertexId input;
    };
    std::vector<Landing> landings;
    /// Rounded faces, and faces of patches by their numbers in the soup, that meet where they should not; sorted.
    std::vector<std::pair<std::uint32_t, FaceId>> misfits;
};
/// `tree`: over the rounded faces. Of no use where it was stopped.
PatchFit fit_to_patches(const Arrangement& arrangement, const Extraction& extraction, const RoundedFaces& rounded,
                        const BoxTree& tree, Progress& progress);

/// Both, where but for some all faces are proven among each other.
struct FreshFaults {
    Faults faults;
    PatchFit fit;
};
/// Nothing where it was stopped.
std::optional<FreshFaults> prove_fresh(const Arrangement& arrangement, const Extraction& extraction,
                                       const RoundedFaces& rounded, const FreshFaces& fresh, Progress& progress);

}  // namespace anvil
