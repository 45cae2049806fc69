#include "core/cut/edge_lines.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/place_text.h"
#include "core/mesh/edge_table.h"

namespace anvil {
namespace {

using Ends = std::pair<VertexId, VertexId>;

/// Which faces lie along an edge, as a line runs over it from a to b.
class Sides {
  public:
    explicit Sides(const Mesh& mesh) : mesh_(mesh), table_(mesh.faces.raw(), mesh.points.size()) {
        for (std::size_t e = 0; e < table_.size(); ++e) {
            const EdgeId id(static_cast<std::uint32_t>(e));
            number_[{table_.edge(id).low, table_.edge(id).high}] = id;
        }
    }
    Result<LineEdge> edge(VertexId a, VertexId b) const {
        const auto at = number_.find(std::minmax(a, b));
        const Vec3 middle = (mesh_.points[a] + mesh_.points[b]) * 0.5;
        const std::size_t faces = at == number_.end() ? 0 : table_.uses(at->second).size();
        if (faces == 0) return Error{ErrorCode::lost, "an edge is not there any more", ""};
        if (!table_.is_regular(at->second))
            return Error{ErrorCode::out_of_range,
                         "an edge has " + std::to_string(faces) + (faces == 1 ? " face" : " faces") +
                             " and not two: mend the body first",
                         place_text(middle)};
        LineEdge out;
        const Vec3 way = mesh_.points[b] - mesh_.points[a];
        out.length = norm(way);
        out.along = normalized(way);
        for (const std::uint32_t half : table_.uses(at->second)) {
            const Triangle& t = mesh_.faces[FaceId(half / 3)];
            const Vec3& p = mesh_.points[t[0]];
            const Vec3 normal = normalized(cross(mesh_.points[t[1]] - p, mesh_.points[t[2]] - p));
            // A face that runs along with the line lies on its left.
            const bool is_left = t[half % 3] == a;
            (is_left ? out.left_normal : out.right_normal) = normal;
            (is_left ? out.left : out.right) =
                normalized(is_left ? cross(normal, out.along) : cross(out.along, normal));
        }
        out.outward = normalized(out.left_normal + out.right_normal);
        if (out.outward == Vec3{})  // folded flat: out of its crease
            out.outward = normalized(-(out.left + out.right));
        return out;
    }

  private:
    const Mesh& mesh_;
    EdgeTable table_;
    std::map<Ends, EdgeId> number_;
};

}  // namespace

Result<std::vector<EdgeLine>> edge_lines(const Mesh& mesh, const Selection& chosen) {
    std::map<VertexId, std::set<VertexId>> next;
    for (const Element& e : chosen.elements) {
        next[e[0]].insert(e[1]);
        next[e[1]].insert(e[0]);
    }
    if (next.empty()) return Error{ErrorCode::lost, "no edge is chosen", ""};
    const Sides sides(mesh);
    std::set<Ends> used;
    std::vector<EdgeLine> out;
    auto walk = [&](VertexId a, VertexId b) -> Result<void> {
        EdgeLine line;
        const VertexId first = a;
        line.points.push_back(mesh.points[a]);
        for (;;) {
            used.insert(std::minmax(a, b));
            auto edge = sides.edge(a, b);
            if (!edge) return edge.error();
            line.edges.push_back(*edge);
            if (b == first) {
                line.closed = true;
                break;
            }
            line.points.push_back(mesh.points[b]);
            const auto& on = next[b];
            if (on.size() != 2) break;
            const VertexId c = *on.begin() == a ? *on.rbegin() : *on.begin();
            if (used.contains(std::minmax(b, c))) break;
            a = b;
            b = c;
        }
        out.push_back(std::move(line));
        return {};
    };
    // From where lines end or branch; then what is left, which is closed.
    for (const auto& [v, others] : next)
        if (others.size() != 2)
            for (const VertexId w : others)
                if (!used.contains(std::minmax(v, w)))
                    if (auto done = walk(v, w); !done) return done.error();
    for (const auto& [v, others] : next)
        for (const VertexId w : others)
            if (!used.contains(std::minmax(v, w)))
                if (auto done = walk(v, w); !done) return done.error();
    return out;
}

}  // namespace anvil
