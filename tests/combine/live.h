#pragma once

#include "core/combine/live_faces.h"

namespace anvil::test {

/// A mesh as it is, as a surface whose faces can be replaced.
inline LiveFaces live_of(const Mesh& mesh) {
    return LiveFaces(unmoved(mesh, std::vector<FaceSource>(mesh.faces.size())));
}

}  // namespace anvil::test
