#include "core/combine/clean.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>
#include <optional>
#include <tuple>
#include <unordered_map>

#include "core/arrange/planar_triangulation.h"
#include "core/base/sort.h"
#include "core/combine/surface_edges.h"
#include "core/combine/surface_lines.h"
#include "core/exact/predicates.h"
#include "core/mesh/disjoint_sets.h"

namespace anvil {
namespace {

constexpr std::uint32_t none = 0xffffffffu;

/// An edge between different groups, or where more than two faces meet, as seen from one of its ends.
struct RealEdge {
    VertexId at, other;
    std::uint32_t group, other_group;  // lower first; none for a patch
};

class Cleaner {
  public:
    Cleaner(const Arrangement& a, Extraction& extraction, bool merge_flush, std::span<const std::uint32_t> drawn)
        : a_(a), x_(extraction), merge_flush_(merge_flush), lines_(a, drawn) {
        // Input points that another one stands for: those of the lower number are known by it.
        a.points.for_each_same_input(
            [&](VertexId v, VertexId same) { also_of_[same.value()].push_back(a.soup.operand_of(v)); });
    }

    void run(const Progress& progress) {
        if (!any_may_go(progress) || progress.cancelled()) return;
        edges_.emplace(a_, x_, progress);
        if (progress.cancelled()) return;
        find_groups();
        if (progress.cancelled()) return;
        find_removable(progress);
        // Where the border of a group would cross itself without them, its points stay, and all is tried once more.
        while (!progress.cancelled() && !removable_.empty() && !rebuild(progress)) {
        }
    }

  private:
    PointView view(VertexId v) const { return a_.points.view(v); }

    template <class Visit>
    void for_each_edge(const Visit& visit) const {
        edges_->for_each(visit);
    }

    const Material* material(std::uint32_t f) const {
        return a_.soup.operand(x_.source[f].operand).material_of(x_.source[f].face);
    }
    bool same_material(std::uint32_t f, std::uint32_t g) const {
        const Material *p = material(f), *q = material(g);
        return p && q ? *p == *q : p == q;
    }
    /// Whether two faces lie in one plane and look the same way.
    bool flush(std::uint32_t f, std::uint32_t g) const {
        const CornerPoints p = a_.soup.corners(x_.plane[f]), q = a_.soup.corners(x_.plane[g]);
        for (const Vec3* corner : q)
            if (plane_side(*p[0], *p[1], *p[2], *corner) != 0) return false;
        const int axis = projection_axis(*p[0], *p[1], *p[2]);
        const bool alike = orient2d(*p[0], *p[1], *p[2], axis) == orient2d(*q[0], *q[1], *q[2], axis);
        return alike == (turned(f) == turned(g));
    }
    /// Whether a face runs against its plane.
    bool turned(std::uint32_t f) const { return x_.against_plane[f]; }

    bool same_face(std::uint32_t f, std::uint32_t g) const {
        return x_.source[f] == x_.source[g] && x_.plane[f] == x_.plane[g];
    }

    /// Whether there is a point with at most two edges between parts of different faces. Where everything crosses
    /// everything there is none, and no groups are needed to know it. Of no use where it was stopped.
    bool any_may_go(const Progress& progress) const {
        if (merge_flush_ || !has_edge_numbers(a_, x_) || a_.points.size() > 16 * x_.corners.size()) return true;
        constexpr std::uint8_t unused = 0, many = 4;  // else one more than the number of such edges
        std::vector<std::uint8_t> at(a_.points.size(), unused);
        for (const Triangle& t : x_.corners)
            for (const VertexId v : t) at[v.value()] = 1;
        auto count = [&](std::uint32_t f, std::uint32_t k) {
            for (const VertexId v : {x_.corners[f][k], x_.corners[f][(k + 1) % 3]})
                if (at[v.value()] < many) ++at[v.value()];
        };
        constexpr std::uint32_t within = none - 1, counted = none - 2;
        std::vector<std::uint32_t> met(a_.edges.count, none);  // where once: 4 * face + corner
        for (std::uint32_t f = 0; f < x_.corners.size(); ++f) {
            if (f % 65536 == 0 && progress.cancelled()) return false;
            for (std::uint32_t k = 0; k < 3; ++k) {
                std::uint32_t& here = met[edge_number(a_, x_, f, k)];
                if (here == none) {
                    here = 4 * f + k;
                } else if (here < counted && same_face(f, here >> 2)) {
                    here = within;
                } else if (here != counted) {  // two faces, or three
                    count(f, k);
                    here = counted;
                }
            }
        }
        for (const std::uint32_t here : met)
            if (here < counted) count(here >> 2, here & 3);
        return std::ranges::any_of(at, [](std::uint8_t number) { return number != unused && number != many; });
    }

    void find_groups() {
        DisjointSets sets(x_.corners.size());
        for_each_edge([&](std::span<const EdgeUse> here) {
            if (here.size() != 2 || here[0].forward == here[1].forward) return;
            const std::uint32_t f = here[0].face, g = here[1].face;
            if (lines_.at(here[0].low, here[0].high, x_.plane[f])) return;
            if (same_face(f, g) || (merge_flush_ && same_material(f, g) && flush(f, g))) sets.join(f, g);
        });
        const std::uint32_t count = sets.number(group_);
        operand_of_group_.resize(count);
        for (std::uint32_t f = 0; f < x_.corners.size(); ++f) operand_of_group_[group_[f]] = x_.source[f].operand;
    }

    /// Of no use where it was stopped.
    void find_removable(const Progress& progress) {
        // Only a point with two real edges, or none, can go.
        std::vector<std::uint8_t> real_at(a_.points.size(), 0);
        auto is_inner = [&](std::span<const EdgeUse> here) {
            return here.size() == 2 && group_[here[0].face] == group_[here[1].face];
        };
        for_each_edge([&](std::span<const EdgeUse> here) {
            if (is_inner(here)) return;
            for (const VertexId v : {here[0].low, here[0].high})
                if (real_at[v.value()] < 3) ++real_at[v.value()];
        });
        if (progress.cancelled()) return;
        std::vector<RealEdge> real;
        std::vector<std::pair<VertexId, std::uint32_t>> inner;  // points of edges within groups
        for_each_edge([&](std::span<const EdgeUse> here) {
            const VertexId p = here[0].low, q = here[0].high;
            std::uint32_t first = group_[here[0].face], second = here.size() == 1 ? none : group_[here[1].face];
            if (is_inner(here)) {
                for (const VertexId v : {p, q})
                    if (real_at[v.value()] == 0) inner.emplace_back(v, first);
                return;
            }
            if (here.size() > 2) first = second = none;  // never the same as another edge's pair
            if (second < first) std::swap(first, second);
            if (real_at[p.value()] == 2) real.push_back({p, q, first, second});
            if (real_at[q.value()] == 2) real.push_back({q, p, first, second});
        });
        if (progress.cancelled()) return;
        sort_by_number(
            real, [](const RealEdge& e) { return e.at.value(); },
            [](const RealEdge& a, const RealEdge& b) { return a.other < b.other; });
        auto same_end = [](const RealEdge& a, const RealEdge& b) { return a.at == b.at; };
        for_each_run(std::span<const RealEdge>(real), same_end, [&](std::span<const RealEdge> here) {
            if (progress.cancelled()) return;
            const RealEdge &p = here.front(), &q = here.back();
            const bool in_pair = p.group != none && p.group == q.group && p.other_group == q.other_group;
            // A patch across the edge keeps its points.
            if (in_pair && p.other_group != none && may_go(p.at, p.group) && may_go(p.at, p.other_group) &&
                between(p.other, p.at, q.other))
                removable_.push_back(p.at);
        });
        std::sort(inner.begin(), inner.end());
        inner.erase(std::unique(inner.begin(), inner.end()), inner.end());
        for (const auto& [v, group] : inner)
            if (may_go(v, group)) removable_.push_back(v);
        std::sort(removable_.begin(), removable_.end());
        removable_.erase(std::unique(removable_.begin(), removable_.end()), removable_.end());
    }
    /// A point that is none of the group's own operand's.
    bool may_go(VertexId v, std::uint32_t group) const {
        if (merge_flush_ || !a_.points.is_input(v)) return true;
        const std::uint32_t o = operand_of_group_[group];
        if (a_.soup.operand_of(v) == o) return false;
        const auto others = also_of_.find(v.value());
        return others == also_of_.end() || std::ranges::find(others->second, o) == others->second.end();
    }
    bool removable(VertexId v) const { return std::binary_search(removable_.begin(), removable_.end(), v); }

    /// Whether v lies on the line through p and q, between them.
    bool between(VertexId p, VertexId v, VertexId q) const {
        for (int axis = 0; axis < 3; ++axis)
            if (orient2d(view(p), view(v), view(q), axis) != 0) return false;
        for (int axis = 0; axis < 3; ++axis)
            if (const int s = compare(view(p), view(q), axis); s != 0)
                return compare(view(p), view(v), axis) == s && compare(view(v), view(q), axis) == s;
        return false;
    }

    /// Triangulates every group with a removable point anew. Where that cannot be done, takes the group's points out of
    /// the removable ones, and returns false; so where it was stopped.
    bool rebuild(const Progress& progress) {
        std::vector<char> affected;
        std::vector<std::vector<std::uint32_t>> faces_of;
        for (std::uint32_t f = 0; f < x_.corners.size(); ++f) {
            if (group_[f] >= affected.size()) {
                affected.resize(group_[f] + 1, 0);
                faces_of.resize(group_[f] + 1);
            }
            faces_of[group_[f]].push_back(f);
            if (std::ranges::any_of(x_.corners[f], [&](VertexId v) { return removable(v); })) affected[group_[f]] = 1;
        }
        if (progress.cancelled()) return false;
        boundary_.assign(affected.size(), {});
        for_each_edge([&](std::span<const EdgeUse> here) {
            if (here.size() == 2 && group_[here[0].face] == group_[here[1].face]) return;
            for (const EdgeUse& u : here)
                if (affected[group_[u.face]])
                    boundary_[group_[u.face]].emplace_back(u.forward ? u.low : u.high, u.forward ? u.high : u.low);
        });
        std::vector<std::optional<std::vector<Triangle>>> made(affected.size());
        tbb::parallel_for(std::size_t{0}, affected.size(), [&](std::size_t g) {
            if (affected[g]) made[g] = triangulate(boundary_[g], faces_of[g], progress);
        });
        if (progress.cancelled()) return false;
        std::vector<VertexId> stay;
        for (std::uint32_t g = 0; g < affected.size(); ++g)
            if (affected[g] && !made[g])
                for (const std::uint32_t f : faces_of[g])
                    stay.insert(stay.end(), x_.corners[f].begin(), x_.corners[f].end());
        if (!stay.empty()) {
            std::sort(stay.begin(), stay.end());
            std::erase_if(removable_, [&](VertexId v) { return std::binary_search(stay.begin(), stay.end(), v); });
            return false;
        }
        Extraction out;
        out.surface = x_.surface;
        out.patches = std::move(x_.patches);
        for (std::uint32_t g = 0; g < affected.size(); ++g) {
            auto add = [&](const Triangle& t, std::uint32_t like) {
                out.corners.push_back(t);
                out.source.push_back(x_.source[like]);
                out.plane.push_back(x_.plane[like]);
                out.against_plane.push_back(x_.against_plane[like]);
                out.cells.push_back(x_.cells[like]);
            };
            if (affected[g])
                for (const Triangle& t : *made[g]) add(t, faces_of[g].front());
            else
                for (std::uint32_t f : faces_of[g]) add(x_.corners[f], f);
        }
        x_ = std::move(out);
        return true;
    }

    /// The directed edges of a region's boundary with removable points left out: a chain of edges through such points
    /// becomes one.
    std::vector<std::pair<VertexId, VertexId>> without_removable(
        const std::vector<std::pair<VertexId, VertexId>>& boundary) const {
        std::map<VertexId, VertexId> onward;  // from removable points only: those have one way in and one out
        for (const auto& [from, to] : boundary)
            if (removable(from)) onward[from] = to;
        std::vector<std::pair<VertexId, VertexId>> out;
        for (auto [from, to] : boundary) {
            if (removable(from)) continue;
            while (removable(to)) to = onward.at(to);
            out.emplace_back(from, to);
        }
        return out;
    }

    /// Nothing where the border crosses itself; of no use where it was stopped.
    std::optional<std::vector<Triangle>> triangulate(const std::vector<std::pair<VertexId, VertexId>>& boundary,
                                                     std::span<const std::uint32_t> group,
                                                     const Progress& progress) const {
        const std::uint32_t like = group.front();
        const auto edges = without_removable(boundary);
        const CornerPoints plane = a_.soup.corners(x_.plane[like]);
        if (progress.cancelled()) return std::vector<Triangle>();
        const int axis = projection_axis(*plane[0], *plane[1], *plane[2]);
        const bool mirrored = (orient2d(*plane[0], *plane[1], *plane[2], axis) < 0) != turned(like);
        std::vector<VertexId> corner;
        for (const auto& [from, to] : edges) corner.push_back(from);
        // Points within the region that stay: something else touches it there.
        for (const std::uint32_t f : group)
            for (const VertexId v : x_.corners[f])
                if (!removable(v)) corner.push_back(v);
        std::sort(corner.begin(), corner.end());
        corner.erase(std::unique(corner.begin(), corner.end()), corner.end());
        Box box;
        std::vector<PointView> views;
        for (const VertexId v : corner) {
            box.add(a_.points.approx(v));
            views.push_back(view(v));
        }
        // Boundaries meet in common points only; a group that lies in two planes may cross itself as seen in one.
        struct Crossed {};
        auto refuse = [](int, int) -> PointView { throw Crossed{}; };
        PlanarTriangulation t = PlanarTriangulation::around(box, axis, mirrored, refuse);
        t.stop_by(progress);
        const auto number = t.insert_all(views);
        if (progress.cancelled()) return std::vector<Triangle>();
        constexpr std::size_t around = 3;                                    // corners of the triangulation
        if (t.point_count() != corner.size() + around) return std::nullopt;  // two are one point as seen in the plane
        std::vector<VertexId> corner_at(t.point_count());
        for (std::size_t i = 0; i < corner.size(); ++i) corner_at[static_cast<std::size_t>(number[i])] = corner[i];
        auto number_of = [&](VertexId v) {
            return number[static_cast<std::size_t>(std::ranges::lower_bound(corner, v) - corner.begin())];
        };
        std::vector<PlanarTriangulation::Segment> segments;
        for (const auto& [from, to] : edges) segments.push_back({number_of(from), number_of(to), 0, {0}});
        try {
            t.constrain_all(std::move(segments));
        } catch (const Crossed&) {
            return std::nullopt;
        }
        t.improve();
        if (progress.cancelled()) return std::vector<Triangle>();
        std::vector<Triangle> out;
        const std::vector<char> inside = t.inside();
        for (std::size_t f = 0; f < inside.size(); ++f)
            if (inside[f]) {
                const auto& v = t.faces()[f].v;
                auto at = [&](int i) { return corner_at[static_cast<std::size_t>(v[i])]; };
                out.push_back({at(0), at(1), at(2)});
            }
        return out;
    }

    const Arrangement& a_;
    Extraction& x_;
    bool merge_flush_;
    SurfaceLines lines_;
    std::unordered_map<std::uint32_t, std::vector<std::uint32_t>> also_of_;  // further operands with this point
    std::optional<SurfaceEdges> edges_;
    std::vector<std::uint32_t> group_, operand_of_group_;
    std::vector<VertexId> removable_;
    std::vector<std::vector<std::pair<VertexId, VertexId>>> boundary_;  // per group, directed
};

}  // namespace

Extraction cleaned(const Arrangement& arrangement, Extraction extraction, bool merge_flush,
                   std::span<const std::uint32_t> drawn, const Progress& progress) {
    if (merge_flush) extraction = taken_apart(arrangement, extraction, progress);
    if (progress.cancelled()) return extraction;
    Cleaner(arrangement, extraction, merge_flush, drawn).run(progress);
    return extraction;
}

}  // namespace anvil
