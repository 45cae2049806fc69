#include <algorithm>

#include "core/mend/edit_faces.h"
#include "core/mend/hand_edits.h"

namespace anvil::hand {
namespace {

constexpr const char* not_there = "There is no such edge any more.";

/// The faces along an edge, and the corner of each at which the edge starts in it.
struct Use {
    FaceId face;
    std::size_t corner;
};
std::vector<Use> uses_of(const Mesh& mesh, const Edge& edge) {
    std::vector<Use> uses;
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        for (std::size_t k = 0; k < 3; ++k) {
            const VertexId from = mesh.faces[f][k], to = mesh.faces[f][(k + 1) % 3];
            if ((from == edge[0] && to == edge[1]) || (from == edge[1] && to == edge[0])) uses.push_back({f, k});
        }
    return uses;
}

std::vector<VertexId> neighbours(const Mesh& mesh, VertexId v) {
    std::vector<VertexId> out;
    for (const Triangle& t : mesh.faces)
        if (t[0] == v || t[1] == v || t[2] == v)
            for (const VertexId w : t)
                if (w != v) out.push_back(w);
    std::ranges::sort(out);
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

Vec3 normal_of(const Mesh& mesh, const Triangle& t) {
    return cross(mesh.points[t[1]] - mesh.points[t[0]], mesh.points[t[2]] - mesh.points[t[0]]);
}

}  // namespace

std::string split_edge(Mesh& mesh, const Edge& edge) {
    const std::vector<Use> uses = uses_of(mesh, edge);
    if (uses.empty()) return not_there;
    const Vec3 a = mesh.points[edge[0]], b = mesh.points[edge[1]];
    const VertexId middle = mesh.points.push_back((a + b) * 0.5);
    for (const Use& use : uses) {
        Triangle other = mesh.faces[use.face];
        mesh.faces[use.face][(use.corner + 1) % 3] = middle;
        other[use.corner] = middle;
        add_face(mesh, other, use.face);
    }
    return "";
}

std::string collapse_edge(Mesh& mesh, const Edge& edge, double& largest_move) {
    const std::vector<Use> uses = uses_of(mesh, edge);
    if (uses.empty()) return not_there;
    // What both ends have as a neighbour must be a corner of a face that goes: else faces would fold onto each other.
    std::vector<VertexId> common;
    std::ranges::set_intersection(neighbours(mesh, edge[0]), neighbours(mesh, edge[1]), std::back_inserter(common));
    if (common.size() != uses.size())
        return "The edge cannot be collapsed: faces beside it would fold onto each other.";
    const Vec3 middle = (mesh.points[edge[0]] + mesh.points[edge[1]]) * 0.5;
    largest_move = std::max(largest_move, norm(middle - mesh.points[edge[0]]));
    for (Triangle& t : mesh.faces)
        for (VertexId& v : t)
            if (v == edge[1]) v = edge[0];
    mesh.points[edge[0]] = middle;
    drop_repeating(mesh);
    return "";
}

std::string rotate_edge(Mesh& mesh, const Edge& edge) {
    const std::vector<Use> uses = uses_of(mesh, edge);
    if (uses.empty()) return not_there;
    if (uses.size() != 2) return "Only an edge with two faces can be rotated.";
    const Triangle s = mesh.faces[uses[0].face], t = mesh.faces[uses[1].face];
    const VertexId a = s[uses[0].corner], b = s[(uses[0].corner + 1) % 3], c = s[(uses[0].corner + 2) % 3],
                   d = t[(uses[1].corner + 2) % 3];
    if (t[uses[1].corner] != b) return "The two faces look to different sides: turn one of them first.";
    if (c == d || !uses_of(mesh, {c, d}).empty()) return "The two other corners are joined by an edge already.";
    const Triangle first{c, a, d}, second{d, b, c};
    const Vec3 before = normal_of(mesh, s) + normal_of(mesh, t);
    if (!(dot(normal_of(mesh, first), before) > 0) || !(dot(normal_of(mesh, second), before) > 0))
        return "The edge cannot be rotated: the two faces would fold over.";
    mesh.faces[uses[0].face] = first;
    mesh.faces[uses[1].face] = second;
    return "";
}

}  // namespace anvil::hand
