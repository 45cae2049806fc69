#pragma once

#include "core/mesh/mesh.h"

namespace anvil {

/// Keeps the faces for which keep(f) says so, with their materials; returns how many went.
template <class Keep>
std::size_t keep_faces_of(Mesh& mesh, const Keep& keep) {
    auto& faces = mesh.faces.raw();
    auto& material = mesh.material.raw();
    std::size_t kept = 0;
    for (std::size_t f = 0; f < faces.size(); ++f) {
        if (!keep(FaceId(f))) continue;
        faces[kept] = faces[f];
        if (!material.empty()) material[kept] = material[f];
        ++kept;
    }
    const std::size_t gone = faces.size() - kept;
    faces.resize(kept);
    if (!material.empty()) material.resize(kept);
    return gone;
}

}  // namespace anvil
