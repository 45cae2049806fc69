#pragma once

#include "core/base/number_text.h"
#include "core/mesh/keep_faces.h"

namespace anvil {

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
