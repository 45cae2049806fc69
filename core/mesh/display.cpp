#include "core/mesh/display.h"

#include <meshoptimizer.h>

#include <algorithm>
#include <map>
#include <numbers>

#include "core/mesh/measures.h"

namespace anvil {
namespace {

/// Clustered (meshoptimizer): it keeps the look, no topology.
std::vector<std::uint32_t> reduced_triangles(const DisplayMesh& mesh) {
    constexpr std::size_t large = 120'000, wanted = 40'000;  // faces
    if (mesh.triangles.size() <= 3 * large) return {};
    std::vector<std::uint32_t> out(mesh.triangles.size());
    out.resize(meshopt_simplifySloppy(out.data(), mesh.triangles.data(), mesh.triangles.size(), mesh.positions.data(),
                                      mesh.positions.size() / 3, 3 * sizeof(float), 3 * wanted, 1.0f, nullptr));
    std::vector<std::uint32_t> ordered(out.size());
    if (!out.empty()) meshopt_optimizeVertexCache(ordered.data(), out.data(), out.size(), mesh.positions.size() / 3);
    return ordered;
}

}  // namespace

namespace {

DisplayMesh display_of_welded(const Mesh& mesh, const EdgeTable& edges, double crease_angle,
                              std::span<const Tint> tints, bool quick) {
    DisplayMesh out;
    out.bounds = bounds(mesh);
    out.center = out.bounds.center();
    auto put = [&](std::vector<float>& to, const Vec3& p) {
        for (int k = 0; k < 3; ++k) to.push_back(static_cast<float>(p[k] - out.center[k]));
    };
    out.positions.reserve(mesh.points.size() * 3);
    std::vector<std::uint32_t> order;
    order.reserve(mesh.faces.size() * 3);
    if (!tints.empty()) {
        for (const Vec3& p : mesh.points) put(out.positions, p);
        for (const Tint& t : tints) out.tints.insert(out.tints.end(), {t[0], t[1], t[2], 255});
        for (const Triangle& t : mesh.faces)
            for (VertexId v : t) order.push_back(v.value());
    } else if (mesh.material.empty()) {
        for (const Vec3& p : mesh.points) put(out.positions, p);
        for (const Triangle& t : mesh.faces)
            for (VertexId v : t) order.push_back(v.value());
    } else {
        std::map<std::pair<std::uint32_t, VertexId>, std::uint32_t> number;
        for (FaceId f : ids<FaceId>(mesh.faces.size())) {
            const std::uint32_t m = mesh.material[f];
            for (VertexId v : mesh.faces[f]) {
                const auto [at, fresh] = number.try_emplace({m, v}, static_cast<std::uint32_t>(number.size()));
                order.push_back(at->second);
                if (!fresh) continue;
                put(out.positions, mesh.points[v]);
                const auto colour = m == no_material ? std::nullopt : mesh.materials[m].colour;
                const auto [r, g, b] = colour.value_or(std::array<std::uint8_t, 3>{});
                out.tints.insert(out.tints.end(), {r, g, b, static_cast<std::uint8_t>(colour ? 255 : 0)});
            }
        }
    }
    if (quick) {
        out.triangles = std::move(order);
    } else {
        out.triangles.resize(order.size());
        if (!order.empty())
            meshopt_optimizeVertexCache(out.triangles.data(), order.data(), order.size(), out.positions.size() / 3);
        out.reduced = reduced_triangles(out);
    }
    IdVector<FaceId, Vec3> normal(mesh.faces.size());
    for (FaceId f : ids<FaceId>(mesh.faces.size()))
        normal[f] = normalized(cross(mesh.corner(f, 1) - mesh.corner(f, 0), mesh.corner(f, 2) - mesh.corner(f, 0)));
    const double sharp = std::cos(crease_angle * std::numbers::pi / 180);
    for (EdgeId e : ids<EdgeId>(edges.size())) {
        // Smooth where every face along it goes on smoothly in a face that runs the other way: with more than two, as
        // where pieces lie wall on wall.
        const auto uses = edges.uses(e);
        if (crease_angle > 0 && edges.is_regular(e) &&
            dot(normal[FaceId(uses[0] / 3)], normal[FaceId(uses[1] / 3)]) > sharp)
            continue;  // nearly all of them
        long balance = 0;
        for (std::uint32_t h : uses) balance += edges.forward(h) ? 1 : -1;
        auto goes_on = [&](std::uint32_t h) {
            return std::any_of(uses.begin(), uses.end(), [&](std::uint32_t other) {
                return edges.forward(h) != edges.forward(other) &&
                       dot(normal[FaceId(h / 3)], normal[FaceId(other / 3)]) > sharp;
            });
        };
        if (crease_angle > 0 && balance == 0 && std::all_of(uses.begin(), uses.end(), goes_on)) continue;
        const Vec3 &a = mesh.points[edges.edge(e).low], &b = mesh.points[edges.edge(e).high];
        put(out.creases, a);
        out.creases.push_back(0);
        put(out.creases, b);
        out.creases.push_back(static_cast<float>(norm(b - a)));
    }
    return out;
}

}  // namespace

DisplayMesh make_display(const Mesh& source, double crease_angle, std::span<const Tint> tints) {
    const Mesh mesh = tints.empty() ? welded(source) : source;
    return display_of_welded(mesh, {mesh.faces.raw(), mesh.points.size()}, crease_angle, tints, false);
}

DisplayMesh make_display(const Mesh& mesh, const EdgeTable& edges, bool quick) {
    return display_of_welded(mesh, edges, usual_crease, {}, quick);
}

DisplayMesh make_display_lines(std::span<const std::vector<Vec3>> lines) {
    DisplayMesh out;
    for (const auto& line : lines)
        for (const Vec3& p : line) out.bounds.add(p);
    if (out.bounds.empty()) return out;
    out.center = out.bounds.center();
    auto put = [&](const Vec3& p, double along) {
        for (int k = 0; k < 3; ++k) out.creases.push_back(static_cast<float>(p[k] - out.center[k]));
        out.creases.push_back(static_cast<float>(along));
    };
    for (const auto& line : lines) {
        double along = 0;
        for (std::size_t i = 0; i + 1 < line.size(); ++i) {
            put(line[i], along);
            along += norm(line[i + 1] - line[i]);
            put(line[i + 1], along);
        }
    }
    return out;
}

}  // namespace anvil
