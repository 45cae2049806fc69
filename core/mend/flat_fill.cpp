#include "core/mend/flat_fill.h"

#include <algorithm>

#include "core/arrange/planar_triangulation.h"
#include "core/exact/predicates.h"
#include "core/mesh/measures.h"
#include "core/mesh/polygon.h"

namespace anvil {
namespace {

int widest_axis(const Vec3& normal) {
    int axis = 0;
    for (int k = 1; k < 3; ++k)
        if (std::fabs(normal[k]) > std::fabs(normal[axis])) axis = k;
    return axis;
}

/// Whether two edges have a point in common but for a common end.
bool edges_meet(const Mesh& mesh, const std::array<VertexId, 2>& a, const std::array<VertexId, 2>& b, int axis) {
    const bool common = a[0] == b[0] || a[0] == b[1] || a[1] == b[0] || a[1] == b[1];
    auto turn = [&](VertexId p, VertexId q, VertexId r) {
        return orient2d(mesh.points[p], mesh.points[q], mesh.points[r], axis);
    };
    const int c = turn(a[0], a[1], b[0]), d = turn(a[0], a[1], b[1]), e = turn(b[0], b[1], a[0]),
              f = turn(b[0], b[1], a[1]);
    if (common) {  // in line they lie on each other where they leave the common end the same way
        if (c != 0 || d != 0) return false;
        const bool a0 = a[0] == b[0] || a[0] == b[1], b0 = b[0] == a[0] || b[0] == a[1];
        const Vec3& at = mesh.points[a0 ? a[0] : a[1]];
        return dot(mesh.points[a0 ? a[1] : a[0]] - at, mesh.points[b0 ? b[1] : b[0]] - at) > 0;
    }
    if (c * d > 0 || e * f > 0) return false;
    if (c != 0 || d != 0 || e != 0 || f != 0) return c * d <= 0 && e * f <= 0;
    // All in one line: by their extent.
    Box box_a, box_b;
    for (const VertexId v : a) box_a.add(mesh.points[v]);
    for (const VertexId v : b) box_b.add(mesh.points[v]);
    return box_a.meets(box_b);
}

}  // namespace

std::optional<std::vector<Triangle>> flat_fill(const Mesh& mesh, std::span<const std::vector<VertexId>> rims) {
    const Vec3 normal = area_vector(mesh, rims.front());
    if (!(norm2(normal) > 0)) return std::nullopt;
    const int axis = widest_axis(normal);
    std::vector<std::array<VertexId, 2>> edges;
    for (const auto& rim : rims)
        for (std::size_t i = 0; i < rim.size(); ++i) edges.push_back({rim[i], rim[(i + 1) % rim.size()]});
    constexpr std::size_t most_edges = 4000;  // all pairs are looked at
    if (edges.size() > most_edges) return std::nullopt;
    for (std::size_t i = 0; i < edges.size(); ++i)
        for (std::size_t j = i + 1; j < edges.size(); ++j)
            if (edges_meet(mesh, edges[i], edges[j], axis)) return std::nullopt;

    Box box;
    for (const auto& [from, to] : edges) box.add(mesh.points[from]);
    auto never = [](int, int) { return PointView{}; };  // no two of them cross
    PlanarTriangulation t = PlanarTriangulation::around(box, axis, normal[axis] < 0, never);
    std::vector<VertexId> corner(3);  // of the triangulation's points; three outer ones first
    for (const auto& rim : rims) {
        const std::size_t first = corner.size();
        for (const VertexId v : rim) {
            if (t.insert(PointView{mesh.points[v]}) != static_cast<int>(corner.size())) return std::nullopt;
            corner.push_back(v);
        }
        for (std::size_t i = 0; i < rim.size(); ++i)
            t.constrain(static_cast<int>(first + i), static_cast<int>(first + (i + 1) % rim.size()), 0, {0});
    }
    t.improve();
    const std::vector<char> inside = t.inside();
    std::vector<Triangle> out;
    for (std::size_t f = 0; f < inside.size(); ++f) {
        if (!inside[f]) continue;
        const auto& v = t.faces()[f].v;
        auto at = [&](int i) { return corner[static_cast<std::size_t>(v[i])]; };
        out.push_back({at(0), at(1), at(2)});
    }
    return out;
}

std::vector<std::size_t> find_islands(const Mesh& mesh, std::span<const VertexId> hole,
                                      std::span<const std::vector<VertexId>> others) {
    const Vec3 area = area_vector(mesh, hole);
    const Vec3 normal = normalized(area);
    const Vec3& origin = mesh.points[hole.front()];
    auto height = [&](VertexId v) { return dot(mesh.points[v] - origin, normal); };
    double low = 0, high = 0;
    for (const VertexId v : hole) low = std::min(low, height(v)), high = std::max(high, height(v));
    const double margin = std::sqrt(norm(area)) / 50;
    const int axis = widest_axis(normal);
    auto seen = [&](VertexId v) { return Point2{mesh.points[v][(axis + 1) % 3], mesh.points[v][(axis + 2) % 3]}; };
    std::vector<Point2> outline;
    for (const VertexId v : hole) outline.push_back(seen(v));
    auto within = [&](VertexId v) { return is_inside(outline, seen(v)); };
    std::vector<std::size_t> islands;
    for (std::size_t i = 0; i < others.size(); ++i) {
        if (others[i].empty() || !(dot(area_vector(mesh, others[i]), normal) < 0)) continue;
        if (std::ranges::all_of(others[i], [&](VertexId v) {
                return height(v) > low - margin && height(v) < high + margin && within(v);
            }))
            islands.push_back(i);
    }
    return islands;
}

}  // namespace anvil
