#pragma once

#include "core/base/number_text.h"
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
/// Drops faces that have a corner twice; returns how many.
inline std::size_t drop_repeating(Mesh& mesh) {
    return keep_faces_of(mesh, [&](FaceId f) { return !repeats_corner(mesh.faces[f]); });
}
/// Adds a face of the same material as another; one of no material for none.
inline void add_face(Mesh& mesh, const Triangle& corners, FaceId like = FaceId()) {
    const std::uint32_t material = like.valid() ? mesh.material_of(like) : no_material;
    mesh.faces.push_back(corners);
    if (!mesh.material.empty()) mesh.material.push_back(material);
}

}  // namespace anvil
