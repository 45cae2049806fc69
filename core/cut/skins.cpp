#include "core/cut/skins.h"

#include <algorithm>
#include <map>

#include "core/mesh/disjoint_sets.h"
#include "core/mesh/measures.h"

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
    // Of a few faces of many: no table over all points.
    std::map<std::pair<VertexId, VertexId>, std::uint32_t> first;
    DisjointSets sets(out.faces.size());
    for (std::uint32_t k = 0; k < out.faces.size(); ++k) {
        const Triangle& t = mesh.faces[out.faces[k]];
        for (std::size_t i = 0; i < 3; ++i)
            if (const auto [at, is_new] = first.try_emplace(std::minmax(t[i], t[(i + 1) % 3]), k); !is_new)
                sets.join(at->second, k);
    }
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

std::vector<FaceId> wall_of(const Mesh& mesh, const ThinPlace& place, FaceId at) {
    const ThinWalls walls = walls_of(mesh, place);
    std::vector<FaceId> out;
    for (std::size_t k = 0; k < walls.faces.size(); ++k)
        if (walls.of[k] == walls.at(at)) out.push_back(walls.faces[k]);
    return out;
}

Broach push_through(const Mesh& mesh, std::span<const FaceId> wall, const ThinPlace& place, double over) {
    constexpr double one_way = 0.94;  // cosine: within 20 degrees of the mean
    Vec3 mean;
    std::vector<Vec3> normals;
    for (const FaceId f : wall) {
        normals.push_back(area_vector(mesh, f));
        mean = mean + normals.back();
    }
    const bool bent =
        std::ranges::any_of(normals, [&](const Vec3& n) { return dot(normalized(n), normalized(mean)) < one_way; });
    return {.own_normals = bent, .depth = place.most + over, .over = over};
}

}  // namespace anvil
