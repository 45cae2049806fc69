#include "core/mesh/display.h"

#include <meshoptimizer.h>

#include <algorithm>
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

void put(DisplayMesh& out, std::vector<float>& to, const Vec3& p) {
    for (int k = 0; k < 3; ++k) to.push_back(static_cast<float>(p[k] - out.center[k]));
}

/// Numbers what a point is to the faces of each material that it has, as they come.
class PointNumbers {
  public:
    explicit PointNumbers(std::size_t points) : first_(points, none) {}

    /// The number, and whether it is new.
    std::pair<std::uint32_t, bool> of(VertexId v, std::uint32_t material) {
        for (std::uint32_t at = first_[v.value()]; at != none; at = known_[at].next)
            if (known_[at].material == material) return {at, false};
        known_.push_back({material, first_[v.value()]});
        return {first_[v.value()] = static_cast<std::uint32_t>(known_.size() - 1), true};
    }

  private:
    static constexpr std::uint32_t none = 0xffffffffu;
    struct Known {
        std::uint32_t material, next;
    };
    std::vector<std::uint32_t> first_;
    std::vector<Known> known_;
};

/// Points with their colours, and triangles in the order of the faces.
DisplayMesh points_and_faces(const Mesh& mesh, std::span<const Tint> tints) {
    DisplayMesh out;
    out.bounds = bounds(mesh);
    out.center = out.bounds.center();
    out.positions.reserve(mesh.points.size() * 3);
    out.triangles.reserve(mesh.faces.size() * 3);
    if (!tints.empty() || mesh.material.empty()) {
        for (const Vec3& p : mesh.points) put(out, out.positions, p);
        for (const Tint& t : tints) out.tints.insert(out.tints.end(), {t[0], t[1], t[2], 255});
        for (const Triangle& t : mesh.faces)
            for (VertexId v : t) out.triangles.push_back(v.value());
        return out;
    }
    PointNumbers numbers(mesh.points.size());
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        const std::uint32_t m = mesh.material[f];
        for (VertexId v : mesh.faces[f]) {
            const auto [number, fresh] = numbers.of(v, m);
            out.triangles.push_back(number);
            if (!fresh) continue;
            put(out, out.positions, mesh.points[v]);
            const auto colour = m == no_material ? std::nullopt : mesh.materials[m].colour;
            const auto [r, g, b] = colour.value_or(std::array<std::uint8_t, 3>{});
            out.tints.insert(out.tints.end(), {r, g, b, static_cast<std::uint8_t>(colour ? 255 : 0)});
        }
    }
    return out;
}

DisplayMesh display_of_welded(const Mesh& mesh, const EdgeTable& edges, double crease_angle,
                              std::span<const Tint> tints) {
    DisplayMesh out = points_and_faces(mesh, tints);
    if (const std::vector<std::uint32_t> order = out.triangles; !order.empty())
        meshopt_optimizeVertexCache(out.triangles.data(), order.data(), order.size(), out.positions.size() / 3);
    out.reduced = reduced_triangles(out);
    IdVector<FaceId, Vec3> normal(mesh.faces.size());
    for (FaceId f : ids<FaceId>(mesh.faces.size())) normal[f] = face_normal(mesh, f);
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
        put(out, out.creases, a);
        out.creases.push_back(0);
        put(out, out.creases, b);
        out.creases.push_back(static_cast<float>(norm(b - a)));
    }
    return out;
}

}  // namespace

DisplayMesh make_display(const Mesh& source, double crease_angle, std::span<const Tint> tints) {
    const Mesh mesh = tints.empty() ? welded(source) : source;
    return display_of_welded(mesh, {mesh.faces.raw(), mesh.points.size()}, crease_angle, tints);
}

DisplayMesh make_display(const Mesh& mesh, const EdgeTable& edges) {
    return display_of_welded(mesh, edges, usual_crease, {});
}

DisplayMesh make_quick_display(const Mesh& mesh) { return points_and_faces(mesh, {}); }

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
