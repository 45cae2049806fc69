#pragma once

#include <algorithm>
#include <span>

#include "core/mend/repairs.h"

namespace anvil {

/// The places that a repair is limited to (`MendOptions::places`); without any, all of the mesh is chosen.
class Chosen {
  public:
    explicit Chosen(const MendOptions& options) : places_(options.places) {
        std::ranges::sort(places_, ByCoordinates());
    }

    bool everything() const { return places_.empty(); }
    bool has(const Vec3& p) const {
        return everything() || std::binary_search(places_.begin(), places_.end(), p, ByCoordinates());
    }
    bool has(const Mesh& mesh, std::initializer_list<VertexId> points) const {
        return std::ranges::all_of(points, [&](VertexId v) { return has(mesh.points[v]); });
    }
    bool has(const Mesh& mesh, const Triangle& face) const { return has(mesh, {face[0], face[1], face[2]}); }

    /// Whether an edge of a rim is chosen.
    bool has_edge_of(const Mesh& mesh, std::span<const VertexId> rim) const {
        for (std::size_t i = 0; i < rim.size(); ++i)
            if (has(mesh, {rim[i], rim[(i + 1) % rim.size()]})) return true;
        return false;
    }

    /// Per part, whether it holds a chosen face; `part_of`: of each face. All of them where everything is chosen.
    template <class Parts>
    std::vector<char> parts(const Mesh& mesh, const Parts& part_of, std::size_t count) const {
        std::vector<char> chosen(count, everything());
        for (const FaceId f : ids<FaceId>(mesh.faces.size()))
            if (!chosen[part_of(f)] && has(mesh, mesh.faces[f])) chosen[part_of(f)] = 1;
        return chosen;
    }

  private:
    std::vector<Vec3> places_;
};

}  // namespace anvil
