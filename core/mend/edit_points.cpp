#include <algorithm>

#include "core/mend/edit_faces.h"
#include "core/mend/hand_edits.h"
#include "core/mesh/edge_table.h"
#include "core/mesh/measures.h"
#include "core/mesh/polygon.h"

namespace anvil::hand {

std::string merge_points(Mesh& mesh, std::span<const VertexId> points, double& largest_move) {
    std::vector<char> merged(mesh.points.size(), 0);
    Vec3 middle;
    for (const VertexId v : points) {
        merged[v.value()] = 1;
        middle = middle + mesh.points[v] * (1.0 / static_cast<double>(points.size()));
    }
    if (std::ranges::count(merged, 1) < 2) return "Merging takes two points or more.";
    for (const VertexId v : points) largest_move = std::max(largest_move, norm(mesh.points[v] - middle));
    const VertexId one = points.front();
    for (Triangle& t : mesh.faces)
        for (VertexId& v : t)
            if (merged[v.value()]) v = one;
    mesh.points[one] = middle;
    drop_repeating(mesh);
    return "";
}

namespace {

/// The faces that the straight way from a to b goes through, as seen along a normal, and the points on its two sides.
struct Strip {
    std::vector<FaceId> faces;
    std::vector<VertexId> left, right;  // without a and b
};

class Walker {
  public:
    Walker(const Mesh& mesh, VertexId a, VertexId b)
        : mesh_(mesh), edges_(mesh.faces.raw(), mesh.points.size()), a_(a), b_(b) {}

    std::optional<Strip> walk() const {
        for (const FaceId f : ids<FaceId>(mesh_.faces.size()))
            for (std::uint32_t k = 0; k < 3; ++k)
                if (mesh_.faces[f][k] == a_)
                    if (auto strip = walk_from(f, k)) return strip;
        return std::nullopt;
    }

  private:
    /// Which side of the plane through a and b that stands on the faces; of b and a themselves 0.
    double side(VertexId v, const Vec3& normal) const {
        return v == b_ ? 0
                       : dot(cross(mesh_.points[b_] - mesh_.points[a_], mesh_.points[v] - mesh_.points[a_]), normal);
    }
    bool ahead(VertexId v) const {
        return dot(mesh_.points[v] - mesh_.points[a_], mesh_.points[b_] - mesh_.points[a_]) > 0;
    }

    std::optional<Strip> walk_from(FaceId f, std::uint32_t corner) const {
        const Triangle& t = mesh_.faces[f];
        const Vec3 normal = area_vector(mesh_, t);
        VertexId right = t[(corner + 1) % 3], left = t[(corner + 2) % 3];
        // Out of the far side, between its two ends.
        if (!(side(right, normal) < 0) || !(side(left, normal) > 0) || !(ahead(right) || ahead(left)))
            return std::nullopt;
        Strip strip{{f}, {left}, {right}};
        std::uint32_t half = 3 * f.value() + (corner + 1) % 3;
        while (strip.faces.size() < mesh_.faces.size()) {
            const auto uses = edges_.uses(edges_.edge_of(half));
            if (uses.size() != 2) return std::nullopt;
            const std::uint32_t across = uses[0] == half ? uses[1] : uses[0];
            const FaceId next(across / 3);
            const std::uint32_t k = across % 3;
            const VertexId apex = mesh_.faces[next][(k + 2) % 3];
            if (mesh_.faces[next][k] != left || apex == a_) return std::nullopt;  // wound against the last one
            strip.faces.push_back(next);
            if (apex == b_) return strip;
            const double s = side(apex, normal);
            if (s == 0) return std::nullopt;  // through a point: two edges would do
            if (s > 0) {
                strip.left.push_back(left = apex);
                half = 3 * next.value() + (k + 1) % 3;
            } else {
                strip.right.push_back(right = apex);
                half = 3 * next.value() + (k + 2) % 3;
            }
        }
        return std::nullopt;
    }

    const Mesh& mesh_;
    EdgeTable edges_;
    VertexId a_, b_;
};

}  // namespace

std::string join_points(Mesh& mesh, VertexId a, VertexId b) {
    if (a == b) return "Joining takes two points.";
    const EdgeTable edges(mesh.faces.raw(), mesh.points.size());
    for (const EdgeId e : ids<EdgeId>(edges.size()))
        if (edges.edge(e).low == std::min(a, b) && edges.edge(e).high == std::max(a, b))
            return "The two points are joined by an edge already.";
    const auto strip = Walker(mesh, a, b).walk();
    if (!strip) return "No row of faces leads straight from one point to the other.";
    // The strip's two halves, each cut into faces anew.
    std::vector<Triangle> made;
    for (const bool on_left : {true, false}) {
        std::vector<VertexId> loop{a};
        if (on_left) {
            loop.push_back(b);
            loop.insert(loop.end(), strip->left.rbegin(), strip->left.rend());
        } else {
            loop.insert(loop.end(), strip->right.begin(), strip->right.end());
            loop.push_back(b);
        }
        std::vector<Vec3> polygon;
        for (const VertexId v : loop) polygon.push_back(mesh.points[v]);
        for (const auto& t : triangulate_polygon(polygon)) made.push_back({loop[t[0]], loop[t[1]], loop[t[2]]});
    }
    if (made.size() != strip->faces.size())
        return "The faces between the two points cannot be cut along a straight line.";
    for (std::size_t i = 0; i < made.size(); ++i) mesh.faces[strip->faces[i]] = made[i];
    return "";
}

}  // namespace anvil::hand
