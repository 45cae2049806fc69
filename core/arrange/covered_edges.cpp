#include "core/arrange/covered_edges.h"

#include <algorithm>
#include <unordered_map>

#include "core/exact/predicates.h"
#include "core/mesh/disjoint_sets.h"
#include "core/spatial/box_tree.h"

namespace anvil {
namespace {

/// An edge of what an operand covers, with that on its left.
struct Rim {
    VertexId from, to;
    std::uint32_t operand;
    bool against;
};

class CoveredEdges {
  public:
    CoveredEdges(const Soup& soup, std::span<const FlushFace> faces, std::span<const EdgeUse> edges,
                 std::span<const std::uint32_t> folded, int axis)
        : soup_(soup), faces_(faces), edges_(edges), folded_(folded), along_(axis) {}

    std::vector<std::pair<VertexId, VertexId>> find() {
        tell_rims_apart();
        if (inner_.empty()) return {};
        std::vector<Vec3> points;
        std::vector<Triangle> edges;
        for (const Rim& r : rims_) {
            const auto first = static_cast<std::uint32_t>(points.size());
            points.insert(points.end(), {soup_.point(r.from), soup_.point(r.to)});
            edges.push_back({VertexId(first), VertexId(first + 1), VertexId(first + 1)});
            for (const Vec3* p : {&soup_.point(r.from), &soup_.point(r.to)}) bounds_.add(*p);
        }
        tree_ = BoxTree(points, edges);
        std::erase_if(inner_, [&](const EdgeUse& e) { return meets_rim(e); });
        return covered();
    }

  private:
    /// Finds what may be covered and the rims that cover, edge by edge.
    void tell_rims_apart() {
        const std::uint32_t lowest = faces_.front().operand;
        for_each_run(edges_, same_edge, [&](std::span<const EdgeUse> here) {
            for_each_run(
                here, [&](const EdgeUse& x, const EdgeUse& y) { return operand(x) == operand(y); },
                [&](std::span<const EdgeUse> own) {
                    if (!is_inner(own)) {
                        for (const EdgeUse& e : own) add_rim(e);
                    } else if (own.size() == here.size() && operand(own[0]) > lowest &&
                               std::ranges::find(folded_, operand(own[0])) == folded_.end()) {
                        inner_.push_back(own[0]);
                    }
                });
        });
    }
    std::uint32_t operand(const EdgeUse& e) const { return faces_[e.face].operand; }
    bool against(const EdgeUse& e) const { return faces_[e.face].against; }
    /// Whether the face is on the left of the way from the lower point to the higher one, seen with the first face
    /// counter-clockwise.
    bool on_left(const EdgeUse& e) const { return e.forward != against(e); }
    std::uint32_t half_edge(const EdgeUse& e) const {
        const FlushFace& f = faces_[e.face];
        const auto k = std::ranges::find(f.corners, e.forward ? e.low : e.high) - f.corners.begin();
        return 3 * soup_.own(f.operand, f.id).value() + static_cast<std::uint32_t>(k);
    }
    /// Whether these are the two faces that an operand has at an edge, side by side.
    bool is_inner(std::span<const EdgeUse> own) const {
        return own.size() == 2 && against(own[0]) == against(own[1]) && on_left(own[0]) != on_left(own[1]) &&
               soup_.operand(operand(own[0])).twin[half_edge(own[0])] == half_edge(own[1]);
    }
    void add_rim(const EdgeUse& e) {
        rims_.push_back({on_left(e) ? e.low : e.high, on_left(e) ? e.high : e.low, operand(e), against(e)});
    }

    bool covers(const Rim& r, const EdgeUse& e) const { return r.operand < operand(e) && r.against == against(e); }
    bool meets_rim(const EdgeUse& e) const {
        Box box;
        for (const VertexId v : {e.low, e.high}) box.add(soup_.point(v));
        bool found = false;
        tree_.overlapping(box, [&](std::uint32_t i) { found = found || covers(rims_[i], e); });
        return found;
    }

    /// Of the inner edges that hang together, which no rim comes near to, all are covered or none.
    std::vector<std::pair<VertexId, VertexId>> covered() const {
        DisjointSets sets(inner_.size());
        std::unordered_map<std::uint32_t, std::uint32_t> first_at;
        for (std::uint32_t i = 0; i < inner_.size(); ++i)
            for (const VertexId v : {inner_[i].low, inner_[i].high})
                sets.join(i, first_at.try_emplace(v.value(), i).first->second);
        std::vector<char> is_covered(inner_.size(), 0);
        std::vector<std::pair<VertexId, VertexId>> out;
        for (std::uint32_t i = 0; i < inner_.size(); ++i) {
            const std::uint32_t root = sets.find(i);  // the lowest, so met first
            if (root == i) is_covered[i] = lies_within(inner_[i]);
            if (is_covered[root]) out.emplace_back(inner_[i].low, inner_[i].high);
        }
        return out;
    }
    /// Whether lower operands are wound around the edge's lower point, on which no rim lies: by the rims that a ray
    /// along the first axis crosses.
    bool lies_within(const EdgeUse& e) const {
        const Vec3& p = soup_.point(e.low);
        Box ray = bounds_;
        ray.add(p);
        ray.low[along_.u] = p[along_.u];
        ray.low[along_.v] = ray.high[along_.v] = p[along_.v];
        std::unordered_map<std::uint32_t, int> turns;  // per operand
        tree_.overlapping(ray, [&](std::uint32_t i) {
            const Rim& r = rims_[i];
            if (!covers(r, e)) return;
            const Vec3 &a = soup_.point(r.from), &b = soup_.point(r.to);
            const bool up = b[along_.v] > p[along_.v], from_above = a[along_.v] > p[along_.v];
            if (up == from_above) return;
            if (orient2d(a, b, p, axis()) == (up ? 1 : -1)) turns[r.operand] += up ? 1 : -1;
        });
        return std::ranges::any_of(turns, [](const auto& t) { return t.second != 0; });
    }
    int axis() const { return 3 - along_.u - along_.v; }

    const Soup& soup_;
    std::span<const FlushFace> faces_;
    std::span<const EdgeUse> edges_;
    std::span<const std::uint32_t> folded_;
    Projection along_;
    std::vector<EdgeUse> inner_;  // sorted by the edge, one face of the two
    std::vector<Rim> rims_;
    BoxTree tree_;  // over the rims
    Box bounds_;
};

}  // namespace

std::vector<std::pair<VertexId, VertexId>> find_covered_edges(const Soup& soup, std::span<const FlushFace> faces,
                                                              std::span<const EdgeUse> edges,
                                                              std::span<const std::uint32_t> folded, int axis) {
    const bool several = faces.front().operand != faces.back().operand;
    return several ? CoveredEdges(soup, faces, edges, folded, axis).find()
                   : std::vector<std::pair<VertexId, VertexId>>();
}

}  // namespace anvil
