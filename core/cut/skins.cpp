#include "core/cut/skins.h"

#include <algorithm>
#include <set>

#include "core/mesh/disjoint_sets.h"
#include "core/mesh/edge_table.h"

namespace anvil {

namespace {

/// The faces of a thin place, in walls: those hang together across edges, the two sides of a skin do not.
struct ThinWalls {
    std::vector<FaceId> faces;
    std::vector<std::uint32_t> of;  // per face, the wall
    std::vector<double> area;       // per wall

    std::uint32_t at(FaceId f) const {
        return of[static_cast<std::size_t>(std::ranges::lower_bound(faces, f) - faces.begin())];
    }
};

ThinWalls walls_of(const Mesh& mesh, const ThinPlace& place) {
    ThinWalls out;
    for (const auto& [a, b] : place.pairs) {
        out.faces.push_back(a);
        out.faces.push_back(b);
    }
    std::ranges::sort(out.faces);
    out.faces.erase(std::ranges::unique(out.faces).begin(), out.faces.end());
    std::vector<Triangle> triangles;
    for (const FaceId f : out.faces) triangles.push_back(mesh.faces[f]);
    const EdgeTable edges(triangles, mesh.points.size());
    DisjointSets sets(out.faces.size());
    for (const EdgeId e : ids<EdgeId>(edges.size()))
        if (edges.is_regular(e)) sets.join(edges.uses(e)[0] / 3, edges.uses(e)[1] / 3);
    out.area.assign(sets.number(out.of), 0);
    for (std::size_t k = 0; k < out.faces.size(); ++k) {
        const FaceId f = out.faces[k];
        out.area[out.of[k]] += triangle_area(mesh.corner(f, 0), mesh.corner(f, 1), mesh.corner(f, 2));
    }
    return out;
}

}  // namespace

FaceId smaller_wall(const Mesh& mesh, const ThinPlace& place) {
    const ThinWalls walls = walls_of(mesh, place);
    const auto& [a, b] = place.thinnest;
    return walls.area[walls.at(b)] < walls.area[walls.at(a)] ? b : a;
}

Selection wall_of(const Mesh& mesh, const ThinPlace& place, FaceId at) {
    const ThinWalls walls = walls_of(mesh, place);
    Selection out;
    for (std::size_t k = 0; k < walls.faces.size(); ++k)
        if (walls.of[k] == walls.at(at)) out.elements.push_back(face_element(mesh.faces[walls.faces[k]]));
    std::ranges::sort(out.elements);
    return out;
}

Broach push_through(const Mesh& mesh, const Selection& wall, const ThinPlace& place, double over) {
    constexpr double one_way = 0.94;  // cosine: within 20 degrees of the mean
    Vec3 mean;
    std::vector<Vec3> normals;
    for (const Triangle& t : mesh.faces)
        if (wall.contains(face_element(t))) {
            normals.push_back(cross(mesh.points[t[1]] - mesh.points[t[0]], mesh.points[t[2]] - mesh.points[t[0]]));
            mean = mean + normals.back();
        }
    const bool bent =
        std::ranges::any_of(normals, [&](const Vec3& n) { return dot(normalized(n), normalized(mean)) < one_way; });
    return {.own_normals = bent, .depth = place.most + over, .over = over};
}

}  // namespace anvil
