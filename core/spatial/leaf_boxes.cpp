#include "core/spatial/leaf_boxes.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>

namespace anvil {

LeafBoxes::LeafBoxes(const BoxTree& tree, std::span<const Vec3> points, std::span<const Triangle> faces)
    : leaves_(tree.leaf_count()) {
    tbb::parallel_for(tbb::blocked_range<std::uint32_t>(0, tree.leaf_count(), 1024), [&](const auto& range) {
        for (std::uint32_t l = range.begin(); l != range.end(); ++l)
            for (std::uint32_t i = 0; i < BoxTree::leaf_size; ++i) {
                const Triangle& t = faces[tree.item(l, i)];
                const Vec3 &p = points[t[0].value()], &q = points[t[1].value()], &r = points[t[2].value()];
                for (int k = 0; k < 3; ++k) {
                    leaves_[l].low[k][i / 2][i % 2] = std::min({p[k], q[k], r[k]});
                    leaves_[l].high[k][i / 2][i % 2] = std::max({p[k], q[k], r[k]});
                }
            }
    });
}

}  // namespace anvil
