#pragma once

#include <utility>
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// A connected place where two walls of a body face each other with little between them.
struct ThinPlace {
    std::vector<std::pair<FaceId, FaceId>> pairs{};  ///< of faces across from each other; sorted
    double least = 0, most = 0;                      ///< mm between them; `most` of what is under the limit
    double area = 0;                                 ///< mm2 that it reaches over
    Vec3 place{};                                    ///< in its middle where it is thinnest
    std::pair<FaceId, FaceId> thinnest{};
};

/// Where material is thinner than that, mm. Mesh: welded, sound. Fails only where it was stopped.
Result<std::vector<ThinPlace>> thin_skins(const Mesh& mesh, double below, Progress& progress);

}  // namespace anvil
