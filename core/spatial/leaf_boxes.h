#pragma once

#include <bit>
#include <cstdint>
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
        for (std::uint32_t i = 0; i < BoxTree::leaf_size; ++i) {
            if ((pairs >> (BoxTree::leaf_size * i) & 0b1111) == 0) continue;
            for (std::uint32_t half = 0; half < 2; ++half) {
                TwoTruths apart{};
                for (int k = 0; k < 3; ++k) {
                    const double low = la.low[k][i / 2][i % 2], high = la.high[k][i / 2][i % 2];
                    apart |= (high < lb.low[k][half]) | (lb.high[k][half] < low);
                }
                out |= bits_of(apart) << (BoxTree::leaf_size * i + 2 * half);
            }
        }
        return out & pairs;
    }

  private:
    using Two = double __attribute__((vector_size(16)));
    using TwoTruths = std::int64_t __attribute__((vector_size(16)));
    /// A bit for each place that is all ones.
    static unsigned bits_of(const TwoTruths& t) {
#ifdef __SSE2__
        return static_cast<unsigned>(__builtin_ia32_movmskpd(std::bit_cast<Two>(t)));
#else
        return static_cast<unsigned>((t[0] & 1) | (t[1] & 2));
#endif
    }
    struct Leaf {
        Two low[3][2], high[3][2];
    };
    std::vector<Leaf> leaves_;
};

}  // namespace anvil
