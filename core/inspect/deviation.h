#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// A surface in faces small enough to show how far it is from another, place by place.
struct DeviationMap {
    Mesh mesh;                            ///< welded
    IdVector<VertexId, double> distance;  ///< mm, per point; infinite where the other has no faces
    double largest = 0;                   ///< of them
};

/// The distances of `mesh` to the nearest faces of `other`, at points no farther apart than a 150th of the diagonal
/// where 300,000 faces suffice for that.
/// Precondition: coordinates are finite. Fails only where it was stopped.
Result<DeviationMap> map_deviation(const Mesh& mesh, const Mesh& other, Progress& progress);

}  // namespace anvil
