// Whether an edge is halved depends on its length only, so that neighbours agree; a face is cut by the halves of its
// sides into two, three or four.
#include "core/mesh/refine.h"

#include "core/mesh/edge_table.h"

namespace anvil {
namespace {

bool halve_some(Mesh& mesh, double longest, std::size_t most_faces) {
    const EdgeTable edges(mesh.faces.raw(), mesh.points.size());
    std::vector<VertexId> middle(edges.size());
    std::size_t more = 0;
    for (const EdgeId e : ids<EdgeId>(edges.size())) {
        const Vec3 &a = mesh.points[edges.edge(e).low], &b = mesh.points[edges.edge(e).high];
        if (norm(b - a) > longest) more += edges.edge(e).count;
    }
    if (more == 0 || mesh.faces.size() + more > most_faces) return false;
    for (const EdgeId e : ids<EdgeId>(edges.size())) {
        const Vec3 a = mesh.points[edges.edge(e).low], b = mesh.points[edges.edge(e).high];
        if (norm(b - a) > longest) middle[e.value()] = mesh.points.push_back((a + b) * 0.5);
    }
    Mesh out;
    out.points = std::move(mesh.points);
    out.materials = mesh.materials;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Triangle t = mesh.faces[f];
        auto add = [&](VertexId a, VertexId b, VertexId c) {
            out.faces.push_back({a, b, c});
            if (!mesh.material.empty()) out.material.push_back(mesh.material[f]);
        };
        VertexId m[3];
        int halved = 0;
        for (std::uint32_t k = 0; k < 3; ++k) {
            const EdgeId e = edges.edge_of(3 * f.value() + k);
            if (e.valid()) m[k] = middle[e.value()];
            halved += m[k].valid();
        }
        if (halved == 0) {
            add(t[0], t[1], t[2]);
        } else if (halved == 3) {
            add(t[0], m[0], m[2]);
            add(t[1], m[1], m[0]);
            add(t[2], m[2], m[1]);
            add(m[0], m[1], m[2]);
        } else {
            // Turned so that side 0 is halved, and with two of them side 2 is not.
            int k = 0;
            while (!m[k].valid() || (halved == 2 && m[(k + 2) % 3].valid())) ++k;
            const VertexId a = t[k], b = t[(k + 1) % 3], c = t[(k + 2) % 3], ab = m[k], bc = m[(k + 1) % 3];
            add(a, ab, c);
            if (halved == 1) {
                add(ab, b, c);
            } else {
                add(ab, b, bc);
                add(ab, bc, c);
            }
        }
    }
    mesh = std::move(out);
    return true;
}

}  // namespace

Mesh refined(const Mesh& mesh, double longest, std::size_t most_faces) {
    Mesh out = mesh;
    while (halve_some(out, longest, most_faces)) {
    }
    return out;
}

}  // namespace anvil
