#pragma once

#include <bit>
#include <span>
#include <vector>

#include "core/spatial/box_tree.h"

namespace anvil {

/// The boxes of the faces in each leaf of a box tree, side by side, in doubles: those of the tree itself are in single
/// precision, where nearly coincident faces beside each other all meet.
class LeafBoxes {
  public:
    /// `tree`: over these faces.
    LeafBoxes(const BoxTree& tree, std::span<const Vec3> points, std::span<const Triangle> faces);

    /// Of the pairs with a bit in `pairs`, of a face of leaf a and a face of leaf b, those whose boxes do not meet; see
    /// BoxTree::self_pairs.
    unsigned apart(std::uint32_t a, std::uint32_t b, unsigned pairs) const {
        const Leaf &la = leaves_[a], &lb = leaves_[b];
        unsigned out = 0;
        for (; pairs != 0; pairs &= pairs - 1) {
            const int bit = std::countr_zero(pairs), i = bit / 4, j = bit % 4;
            for (int k = 0; k < 3; ++k)
                if (la.high[k][i] < lb.low[k][j] || lb.high[k][j] < la.low[k][i]) {
                    out |= 1u << bit;
                    break;
                }
        }
        return out;
    }

  private:
    struct Leaf {
        double low[3][BoxTree::leaf_size], high[3][BoxTree::leaf_size];
    };
    std::vector<Leaf> leaves_;
};

}  // namespace anvil
