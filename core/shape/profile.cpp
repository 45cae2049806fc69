// An outline pushed to a height.
#include <map>
#include <set>

#include "core/shape/shapes.h"

namespace anvil {

std::vector<std::pair<std::uint32_t, std::uint32_t>> rim_edges(
    std::span<const std::array<std::uint32_t, 3>> triangles) {
    std::set<std::pair<std::uint32_t, std::uint32_t>> runs;
    for (const auto& [a, b, c] : triangles)
        for (const auto& edge : {std::pair{a, b}, {b, c}, {c, a}}) runs.insert(edge);
    std::vector<std::pair<std::uint32_t, std::uint32_t>> out;
    for (const auto& [a, b] : runs)
        if (!runs.contains({b, a})) out.push_back({a, b});
    return out;
}

std::vector<std::vector<std::uint32_t>> closed_loops(std::span<const std::pair<std::uint32_t, std::uint32_t>> edges) {
    std::map<std::uint32_t, std::vector<std::uint32_t>> next;
    for (const auto& [from, to] : edges) next[from].push_back(to);
    std::vector<std::vector<std::uint32_t>> out;
    for (auto& [start, ways] : next)
        while (!ways.empty()) {
            auto& loop = out.emplace_back();
            std::uint32_t v = start;
            do {
                loop.push_back(v);
                auto& on = next[v];
                if (on.empty()) return {};
                v = on.back();
                on.pop_back();
            } while (v != start);
        }
    return out;
}

Solid lofted(const FilledOutline& fill, std::span<const Point2> low, std::span<const Point2> high, double z_low,
             double z_high, Walls walls) {
    Solid out;
    const auto n = static_cast<std::uint32_t>(fill.points.size());
    for (const Point2& p : low) out.mesh.points.push_back({p.u, p.v, z_low});
    for (const Point2& p : high) out.mesh.points.push_back({p.u, p.v, z_high});
    auto add = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c, std::uint32_t side) {
        out.mesh.faces.push_back({VertexId(a), VertexId(b), VertexId(c)});
        out.side.push_back(side);
    };
    for (const auto& [a, b, c] : fill.triangles) {
        add(a, c, b, 0);
        add(n + a, n + b, n + c, 1);
    }
    std::uint32_t side = 2;
    for (const auto& [a, b] : rim_edges(fill.triangles)) {
        add(a, b, n + b, side);
        add(a, n + b, n + a, side);
        if (walls == Walls::each_a_side) ++side;
    }
    return out;
}

Solid pushed(const FilledOutline& fill, double height) {
    return lofted(fill, fill.points, fill.points, 0, height, Walls::one_side);
}

Result<Solid> profile_shape(const ProfileMeasures& m) {
    FilledOutline fill = filled(m.drawing);
    if (fill.triangles.empty()) return Error{ErrorCode::out_of_range, "the outline encloses nothing", ""};
    for (Point2& p : fill.points) p = {p.u * m.scale, p.v * m.scale};
    return pushed(fill, m.height);
}

}  // namespace anvil
