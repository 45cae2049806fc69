#include "core/mesh/regions.h"

#include <numbers>

#include "core/mesh/edge_table.h"
#include "core/mesh/measures.h"

namespace anvil {

DisjointSets regions_between_creases(const Mesh& mesh, double crease_angle) {
    const EdgeTable edges(mesh.faces.raw(), mesh.points.size());
    const double sharp = std::cos(crease_angle * std::numbers::pi / 180);
    auto normal = [&](std::uint32_t f) { return face_normal(mesh, FaceId(f)); };
    DisjointSets regions(mesh.faces.size());
    for (const EdgeId e : ids<EdgeId>(edges.size())) {
        if (!edges.is_regular(e)) continue;
        const std::uint32_t f = edges.uses(e)[0] / 3, g = edges.uses(e)[1] / 3;
        if (dot(normal(f), normal(g)) > sharp) regions.join(f, g);
    }
    return regions;
}

DisjointSets points_joined_by_faces(const Mesh& mesh) {
    DisjointSets parts(mesh.points.size());
    for (const Triangle& t : mesh.faces) {
        parts.join(t[0].value(), t[1].value());
        parts.join(t[1].value(), t[2].value());
    }
    return parts;
}

}  // namespace anvil
