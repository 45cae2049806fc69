#include "core/combine/round_edge.h"

#include <algorithm>

#include "core/exact/predicates.h"

namespace anvil {

bool sort_round_edge(std::span<const Vec3> points, VertexId v, VertexId w, std::span<FaceAtEdge> faces) {
    auto at = [&](VertexId p) -> const Vec3& { return points[p.value()]; };
    if (std::ranges::any_of(faces, [&](const FaceAtEdge& a) { return collinear(at(v), at(w), at(a.apex)); }))
        return false;
    auto ahead = [&](const FaceAtEdge& a, const FaceAtEdge& b) {  // +1: b within half a turn ahead of a
        if (a.apex == b.apex) return 0;
        return plane_side(at(v), at(w), at(a.apex), at(b.apex));
    };
    const FaceAtEdge first = faces.front();
    auto half = [&](const FaceAtEdge& a) {
        const int s = ahead(first, a);
        return s > 0 ? 0 : s == 0 ? 1 : 2;
    };
    std::sort(faces.begin() + 1, faces.end(), [&](const FaceAtEdge& a, const FaceAtEdge& b) {
        const int ha = half(a), hb = half(b);
        return ha != hb ? ha < hb : ahead(a, b) > 0;
    });
    for (std::size_t i = 0; i < faces.size(); ++i)
        if (faces.size() > 1 && faces[i].apex == faces[(i + 1) % faces.size()].apex) return false;
    return true;
}

}  // namespace anvil
