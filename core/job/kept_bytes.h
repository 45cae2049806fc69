#pragma once

#include "core/mend/mend.h"

namespace anvil {

// About, of what is kept.

inline std::size_t bytes_of(const Mesh& mesh) {
    return mesh.points.size() * sizeof(Vec3) + mesh.faces.size() * sizeof(Triangle) +
           mesh.material.size() * sizeof(std::uint32_t);
}
inline std::size_t bytes_of(const Inspection& inspection) {
    std::size_t bytes = bytes_of(inspection.mesh) + inspection.findings.size() * sizeof(Finding);
    for (const Finding& f : inspection.findings)
        bytes += f.vertices.size() * sizeof(VertexId) + f.faces.size() * sizeof(FaceId);
    return bytes;
}
inline std::size_t bytes_of(const Mended& m) { return bytes_of(m.mesh) + bytes_of(m.before) + bytes_of(m.after); }

}  // namespace anvil
