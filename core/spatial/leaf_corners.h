#pragma once

#include <array>
#include <span>
#include <vector>

#include "core/spatial/box_tree.h"

namespace anvil {

/// The corners of the faces in each leaf of a box tree, side by side, so that all pairs of faces of two leaves are
/// asked at once whether they share a corner.
class LeafCorners {
  public:
    /// Only the points marked in `counts` count as shared. `tree`: over these faces.
    LeafCorners(const BoxTree& tree, std::span<const Triangle> faces, std::span<const char> counts);

    /// A bit for each pair of a face of leaf a and a face of leaf b that share a corner; see BoxTree::self_pairs.
    unsigned sharing(std::uint32_t a, std::uint32_t b) const {
        const Leaf &la = leaves_[a], &lb = leaves_[b];
        unsigned bits = 0;
        for (std::uint32_t i = 0; i < BoxTree::leaf_size; ++i) {
            Truths same{};
            for (int k = 0; k < 3; ++k) {
                const std::uint32_t v = la.corner[k][i];
                same |= (lb.corner[0] == v) | (lb.corner[1] == v) | (lb.corner[2] == v);
            }
            bits |= BoxTree::bits_of(same) << (BoxTree::leaf_size * i);
        }
        return bits;
    }

  private:
    using Numbers = std::uint32_t __attribute__((vector_size(16)));
    using Truths = BoxTree::FourTruths;
    struct Leaf {
        Numbers corner[3];
    };
    std::vector<Leaf> leaves_;
};

}  // namespace anvil
