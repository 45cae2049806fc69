#pragma once

#include "core/combine/extract.h"

namespace anvil {

/// Volumes of whatever steps make of an arrangement, without putting any mesh together: patches are summed up once. In
/// doubles, from rounded points: for telling. Refers to the arrangement, which must outlive it.
class VolumeTeller {
  public:
    explicit VolumeTeller(const Arrangement& arrangement);
    /// mm3, of all pieces. `base`: the operand that the steps start from.
    double volume(std::span<const CombineStep> steps, std::uint32_t base = 0) const;

  private:
    const Arrangement& arrangement_;
    Vec3 origin_;
    std::vector<Moments> of_face_, of_patch_;
};

}  // namespace anvil
