#include "core/arrange/covered_edges.h"

#include <algorithm>
#include <tuple>
#include <unordered_map>

#include "core/base/runs.h"
#include "core/exact/predicates.h"
#include "core/mesh/disjoint_sets.h"
#include "core/spatial/box_tree.h"

namespace anvil {
namespace {

/// A face at an edge.
struct Side {
    VertexId low, high;
    std::uint32_t face;  // place in the list
    bool on_left;  // of the way from the lower point to the higher one, seen with the first face counter-clockwise
    std::uint32_t half_edge;
};

/// An edge of what an operand covers, with that on its left.
struct Rim {
    VertexId from, to;
    std::uint32_t operand;
    bool against;
};

class CoveredEdges {
  public:
    CoveredEdges(const Soup& soup, std::span<const FlushFace> faces, std::span<const std::uint32_t> folded, int axis)
        : soup_(soup), faces_(faces), folded_(folded), along_(axis) {}

    std::vector<std::pair<VertexId, VertexId>> find() {
        sort_edges();
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
        std::erase_if(inner_, [&](const Side& s) { return meets_rim(s); });
        return covered();
    }

  private:
    /// Finds what may be covered and the rims that cover, edge by edge.
    void sort_edges() {
        const std::uint32_t lowest = faces_.front().operand;
        std::vector<Side> sides;
        for (std::uint32_t i = 0; i < faces_.size(); ++i) {
            const FlushFace& f = faces_[i];
            const std::uint32_t first = 3 * soup_.own(f.operand, f.id).value();
            for (std::uint32_t k = 0; k < 3; ++k) {
                const VertexId a = f.corners[k], b = f.corners[(k + 1) % 3];
                sides.push_back({std::min(a, b), std::max(a, b), i, (a < b) != f.against, first + k});
            }
        }
        std::ranges::sort(sides, {}, [](const Side& s) { return std::tuple(s.low, s.high, s.face); });
        for_each_run(std::span<const Side>(sides), same_edge, [&](std::span<const Side> here) {
            for_each_run(
                here, [&](const Side& x, const Side& y) { return operand(x) == operand(y); },
                [&](std::span<const Side> own) {
                    if (!is_inner(own)) {
                        for (const Side& s : own) add_rim(s);
                    } else if (own.size() == here.size() && operand(own[0]) > lowest &&
                               std::ranges::find(folded_, operand(own[0])) == folded_.end()) {
                        inner_.push_back(own[0]);
                    }
                });
        });
    }
    std::uint32_t operand(const Side& s) const { return faces_[s.face].operand; }
    bool against(const Side& s) const { return faces_[s.face].against; }
    /// Whether these are the two faces that an operand has at an edge, side by side.
    bool is_inner(std::span<const Side> own) const {
        return own.size() == 2 && against(own[0]) == against(own[1]) && own[0].on_left != own[1].on_left &&
               soup_.operand(operand(own[0])).twin[own[0].half_edge] == own[1].half_edge;
    }
    void add_rim(const Side& s) {
        rims_.push_back({s.on_left ? s.low : s.high, s.on_left ? s.high : s.low, operand(s), against(s)});
    }

    bool covers(const Rim& r, const Side& s) const { return r.operand < operand(s) && r.against == against(s); }
    bool meets_rim(const Side& s) const {
        Box box;
        for (const VertexId v : {s.low, s.high}) box.add(soup_.point(v));
        bool found = false;
        tree_.overlapping(box, [&](std::uint32_t i) { found = found || covers(rims_[i], s); });
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
    bool lies_within(const Side& s) const {
        const Vec3& p = soup_.point(s.low);
        Box ray = bounds_;
        ray.add(p);
        ray.low[along_.u] = p[along_.u];
        ray.low[along_.v] = ray.high[along_.v] = p[along_.v];
        std::unordered_map<std::uint32_t, int> turns;  // per operand
        tree_.overlapping(ray, [&](std::uint32_t i) {
            const Rim& r = rims_[i];
            if (!covers(r, s)) return;
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
    std::span<const std::uint32_t> folded_;
    Projection along_;
    std::vector<Side> inner_;  // sorted by the edge, one face of the two
    std::vector<Rim> rims_;
    BoxTree tree_;  // over the rims
    Box bounds_;
};

}  // namespace

std::vector<std::pair<VertexId, VertexId>> find_covered_edges(const Soup& soup, std::span<const FlushFace> faces,
                                                              std::span<const std::uint32_t> folded, int axis) {
    const bool several = faces.front().operand != faces.back().operand;
    return several ? CoveredEdges(soup, faces, folded, axis).find() : std::vector<std::pair<VertexId, VertexId>>();
}

}  // namespace anvil
