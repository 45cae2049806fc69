#include "core/mesh/display.h"

#include <meshoptimizer.h>

#include <numbers>

#include "core/mesh/edge_table.h"
#include "core/mesh/measures.h"

namespace anvil {

DisplayMesh make_display(const Mesh& source, double crease_angle) {
    const Mesh mesh = welded(source);
    DisplayMesh out;
    out.bounds = bounds(mesh);
    out.center = out.bounds.center();
    auto put = [&](std::vector<float>& to, const Vec3& p) {
        for (int k = 0; k < 3; ++k) to.push_back(static_cast<float>(p[k] - out.center[k]));
    };
    out.positions.reserve(mesh.points.size() * 3);
    for (const Vec3& p : mesh.points) put(out.positions, p);
    std::vector<std::uint32_t> order;
    order.reserve(mesh.faces.size() * 3);
    for (const Triangle& t : mesh.faces)
        for (VertexId v : t) order.push_back(v.value());
    out.triangles.resize(order.size());
    if (!order.empty())
        meshopt_optimizeVertexCache(out.triangles.data(), order.data(), order.size(), mesh.points.size());

    IdVector<FaceId, Vec3> normal(mesh.faces.size());
    for (FaceId f : ids<FaceId>(mesh.faces.size()))
        normal[f] = normalized(cross(mesh.corner(f, 1) - mesh.corner(f, 0), mesh.corner(f, 2) - mesh.corner(f, 0)));
    const double sharp = std::cos(crease_angle * std::numbers::pi / 180);
    const EdgeTable edges(mesh.faces.raw(), mesh.points.size());
    for (EdgeId e : ids<EdgeId>(edges.size())) {
        const auto uses = edges.uses(e);
        const bool smooth = uses.size() == 2 && edges.forward(uses[0]) != edges.forward(uses[1]) &&
                            dot(normal[FaceId(uses[0] / 3)], normal[FaceId(uses[1] / 3)]) > sharp;
        if (smooth) continue;
        const Vec3 &a = mesh.points[edges.edge(e).low], &b = mesh.points[edges.edge(e).high];
        put(out.creases, a);
        out.creases.push_back(0);
        put(out.creases, b);
        out.creases.push_back(static_cast<float>(norm(b - a)));
    }
    return out;
}

}  // namespace anvil
