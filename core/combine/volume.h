#pragma once

#include "core/combine/extract.h"

namespace anvil {

/// Volumes of whatever steps make of an arrangement, without putting any mesh together: each cell's is summed up once.
/// In doubles, from rounded points: for telling.
class VolumeTeller {
  public:
    explicit VolumeTeller(const Arrangement& arrangement);
    /// mm3, of all pieces together.
    double volume(const CellPieces& pieces) const;

  private:
    std::vector<double> of_cell_;  // mm3; of what has no end, the volume of what it goes round, below 0
};

}  // namespace anvil
