#pragma once

#include <span>

#include "core/arrange/active_faces.h"

namespace anvil {

/// Touched faces that lie in one plane and overlap or touch there; mostly a single one.
struct Cluster {
    std::span<const FaceId> faces;             ///< sorted
    std::span<const std::uint32_t> crossings;  ///< numbers in Crossings::segments
    std::vector<std::uint32_t> folded;         ///< operands that lie on themselves here
    bool is_large() const { return faces.size() + crossings.size() > 500; }
};

struct Clusters {
    Clusters() = default;
    Clusters(Clusters&&) = default;
    Clusters& operator=(Clusters&&) = default;
    static constexpr std::uint32_t none = 0xffffffffu;
    std::vector<Cluster> list;             ///< in the order of their first faces
    std::vector<std::uint32_t> of_active;  ///< per active face; none where nothing touches it
    std::uint32_t of(const ActiveFaces& active, FaceId f) const { return of_active[active.index_of[f.value()]]; }

    std::vector<FaceId> faces;             ///< of all clusters, one behind the other
    std::vector<std::uint32_t> crossings;  ///< the same
};

/// Precondition: all faces of the crossings are active.
Clusters find_clusters(const Soup& soup, const Crossings& crossings, const ActiveFaces& active);

}  // namespace anvil
