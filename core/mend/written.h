#pragma once

#include "core/mend/repairs.h"

namespace anvil {

/// The mesh as the next program will read it, its points rounded to the precision of the file.
inline Mesh as_written(const Mesh& mesh, Precision precision) {
    if (precision == Precision::double_precision) return mesh;
    Mesh out = mesh;
    for (Vec3& p : out.points) p = in_single_precision(p);
    return out;
}

}  // namespace anvil
