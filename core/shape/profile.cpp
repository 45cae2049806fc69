// An outline pushed to a height.
#include <map>

#include "core/shape/shapes.h"

namespace anvil {

Solid pushed(const FilledOutline& fill, double height) {
    Solid out;
    const auto n = static_cast<std::uint32_t>(fill.points.size());
    for (const double z : {0.0, height})
        for (const Point2& p : fill.points) out.mesh.points.push_back({p.u, p.v, z});
    auto add = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c, std::uint32_t side) {
        out.mesh.faces.push_back({VertexId(a), VertexId(b), VertexId(c)});
        out.side.push_back(side);
    };
    std::map<std::pair<std::uint32_t, std::uint32_t>, int> edges;  // of triangles, as they run
    for (const auto& [a, b, c] : fill.triangles) {
        add(a, c, b, 0);
        add(n + a, n + b, n + c, 1);
        for (const auto& edge : {std::pair{a, b}, {b, c}, {c, a}}) ++edges[edge];
    }
    for (const auto& [edge, count] : edges) {
        const auto& [a, b] = edge;
        if (edges.contains({b, a})) continue;
        add(a, b, n + b, 2);
        add(a, n + b, n + a, 2);
    }
    return out;
}

Result<Solid> profile_shape(const ProfileMeasures& m) {
    FilledOutline fill = filled(m.drawing);
    if (fill.triangles.empty()) return Error{ErrorCode::out_of_range, "the outline encloses nothing", ""};
    for (Point2& p : fill.points) p = {p.u * m.scale, p.v * m.scale};
    return pushed(fill, m.height);
}

}  // namespace anvil
