#pragma once

#include <algorithm>

#include "core/combine/extract.h"

namespace anvil {

/// Which faces of operands the patches of an extraction have.
class KeptFaces {
  public:
    KeptFaces(const Arrangement& a, const Extraction& extraction)
        : a_(a), used_(a.patches.size(), 0), any_(a.soup.size(), 0) {
        for (const Extraction::Whole& w : extraction.patches) {
            used_[w.patch] = 1;
            any_[a.patches.list[w.patch].operand] = 1;
        }
    }
    bool any(std::uint32_t operand) const { return any_[operand]; }
    auto of(std::uint32_t operand) const {
        const std::uint32_t* active = &a_.active.index_of[a_.soup.global(operand, FaceId(0)).value()];
        return [this, operand, active](std::uint32_t f) {
            return active[f] == ActiveFaces::none && used_[a_.patches.of(a_.soup, operand, FaceId(f))];
        };
    }
    /// Where many of an operand's faces were split, marks of its tree, so that those are not gone down to.
    template <class IsKept>
    std::vector<char> marks(std::uint32_t operand, const IsKept& is_kept) const {
        const Operand& own = a_.soup.operand(operand);
        const std::size_t count = own.mesh.faces.size();
        const FaceId from = a_.soup.global(operand, FaceId(0));
        const auto first = std::ranges::lower_bound(a_.active.faces, from);
        const auto end = std::lower_bound(first, a_.active.faces.end(), FaceId(from.value() + count));
        return 32 * static_cast<std::size_t>(end - first) > count ? own.tree.holding(is_kept) : std::vector<char>();
    }

  private:
    const Arrangement& a_;
    std::vector<char> used_;  // per patch
    std::vector<char> any_;   // per operand
};

}  // namespace anvil
