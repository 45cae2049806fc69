#include "core/arrange/surface_parts.h"

#include "core/arrange/close_holes.h"
#include "core/mesh/measures.h"
#include "core/mesh/regions.h"

namespace anvil {

SurfaceParts find_surface_parts(const Mesh& mesh, std::span<const UnbalancedEdge> unbalanced) {
    auto face_area = [&](const Triangle& t) {
        return triangle_area(mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]]);
    };
    std::vector<std::uint32_t> number;
    const std::uint32_t count = points_joined_by_faces(mesh).number(number);
    SurfaceParts parts;
    parts.area.resize(count, 0);
    parts.missing.resize(count, 0);
    parts.holes.resize(count);
    for (const Triangle& t : mesh.faces) {
        parts.of_face.push_back(number[t[0].value()]);
        parts.area[parts.of_face.back()] += face_area(t);
    }
    for (auto& loop : find_missing_loops(unbalanced)) {
        const std::uint32_t part = number[loop.front().value()];
        SurfaceParts::Hole hole{std::move(loop), {}};
        hole.fill = smallest_fill(mesh, hole.rim);
        for (const Triangle& t : hole.fill) parts.missing[part] += face_area(t);
        parts.holes[part].push_back(std::move(hole));
    }
    return parts;
}

}  // namespace anvil
