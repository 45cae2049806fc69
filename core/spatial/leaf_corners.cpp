#include "core/spatial/leaf_corners.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

namespace anvil {

LeafCorners::LeafCorners(const BoxTree& tree, std::span<const Triangle> faces, std::span<const char> counts)
    : leaves_(tree.leaf_count()) {
    tbb::parallel_for(tbb::blocked_range<std::uint32_t>(0, tree.leaf_count(), 1024), [&](const auto& range) {
        for (std::uint32_t l = range.begin(); l != range.end(); ++l)
            for (std::uint32_t i = 0; i < BoxTree::leaf_size; ++i)
                for (std::uint32_t k = 0; k < 3; ++k) {
                    const VertexId v = faces[tree.item(l, i)][k];
                    // Numbers that no other corner has, nor the same one in another place.
                    leaves_[l].corner[k][i] = counts[v.value()] ? v.value() : ~(12 * l + 3 * i + k);
                }
    });
}

}  // namespace anvil
