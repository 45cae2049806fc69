// Based on: D. Halperin, E. Packer, "Iterated Snap Rounding" (2002). We depart from it in finding the points that a
// segment passes near to in a constrained triangulation, across a face from it, and in leaving given points off the
// grid. What is covered how often is told by rims alone, so that other edges need no crossings: those that are crossed
// by rims or each other are left out.
#include "core/combine/snapped_overlay.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <unordered_map>

#include "core/arrange/covers.h"
#include "core/arrange/insertion_order.h"
#include "core/exact/predicates.h"
#include "core/mesh/edge_uses.h"

namespace anvil {
namespace {

constexpr int seen_axis = 2;
constexpr int most_roundings = 40;
constexpr int corners_around = 3;  // of the triangulation, no points of ours

using EdgeKey = std::pair<std::uint32_t, std::uint32_t>;

/// Points by the cell of a grid that they lie in.
class PointCells {
  public:
    explicit PointCells(double width) : width_(width) {}

    void add(const Vec3& p, std::uint32_t number) { at_[key(cell(p.x), cell(p.y))].push_back(number); }
    /// The first that is no farther than half a cell from p along each axis.
    std::optional<std::uint32_t> near(const Vec3& p, const std::vector<Vec3>& points) const {
        std::optional<std::uint32_t> found;
        for (std::int64_t dx = -1; dx <= 1; ++dx)
            for (std::int64_t dy = -1; dy <= 1; ++dy) {
                const auto here = at_.find(key(cell(p.x) + dx, cell(p.y) + dy));
                if (here == at_.end()) continue;
                for (const std::uint32_t i : here->second)
                    if (std::abs(points[i].x - p.x) <= width_ / 2 && std::abs(points[i].y - p.y) <= width_ / 2)
                        if (!found || i < *found) found = i;
            }
        return found;
    }

  private:
    std::int64_t cell(double x) const { return static_cast<std::int64_t>(std::floor(x / width_)); }
    static std::uint64_t key(std::int64_t x, std::int64_t y) {
        return static_cast<std::uint64_t>(x) * 0x9e3779b97f4a7c15ull + static_cast<std::uint64_t>(y);
    }

    double width_;
    std::unordered_map<std::uint64_t, std::vector<std::uint32_t>> at_;  // cells that share a key do no harm
};

class Overlay {
  public:
    Overlay(std::vector<Vec3> points, std::vector<FlatEdge> edges, double grid, std::size_t most_points)
        : edges_(std::move(edges)), grid_(grid), most_points_(most_points), cells_(grid) {
        for (const Vec3& p : points) {
            cells_.add(p, static_cast<std::uint32_t>(out_.points.size()));
            out_.points.push_back({p.x, p.y, 0});
            box_.add(out_.points.back());
        }
        for (const FlatEdge& e : edges_)
            if (e.is_rim()) out_.along.try_emplace({e.low, e.high}, std::vector{e.low, e.high});
    }

    Result<std::optional<SnappedOverlay>> run(Progress& progress) {
        for (; out_.rounds < most_roundings; ++out_.rounds) {
            if (progress.cancelled()) return cancelled_error();
            find_segments();
            crossings_.clear();
            PlanarTriangulation t =
                PlanarTriangulation::around(box_, seen_axis, false, [&](int a, int b) { return crossing_of(a, b); });
            t.stop_by(progress);
            std::vector<PointView> views;
            for (const Vec3& p : out_.points) views.push_back(PointView{p});
            number_ = t.insert_all(views);
            const std::size_t given = t.point_count();
            if (progress.cancelled()) return cancelled_error();
            const bool all = t.constrain_all(segments(), most_points_);
            t.improve();
            if (progress.cancelled()) return cancelled_error();
            if (!all) return std::optional<SnappedOverlay>();
            if (t.point_count() == given) return finished(t);
            snap(t, given);
        }
        return std::optional<SnappedOverlay>();
    }

  private:
    /// The stretches of all rims, each once.
    void find_segments() {
        segments_.clear();
        for (const auto& [edge, along] : out_.along)
            for (std::size_t i = 0; i + 1 < along.size(); ++i) segments_.push_back(std::minmax(along[i], along[i + 1]));
        std::ranges::sort(segments_);
        segments_.erase(std::unique(segments_.begin(), segments_.end()), segments_.end());
    }
    int segment_of(std::uint32_t a, std::uint32_t b) const {
        return static_cast<int>(std::ranges::lower_bound(segments_, EdgeKey(std::minmax(a, b))) - segments_.begin());
    }
    std::vector<PlanarTriangulation::Segment> segments() const {
        std::vector<PlanarTriangulation::Segment> out;
        for (int s = 0; s < static_cast<int>(segments_.size()); ++s) {
            const auto& [a, b] = segments_[static_cast<std::size_t>(s)];
            out.push_back({number_[a], number_[b], s, {s}});
        }
        return out;
    }

    PointView crossing_of(int a, int b) {
        const auto& [p, q] = segments_[static_cast<std::size_t>(a)];
        const auto& [r, s] = segments_[static_cast<std::size_t>(b)];
        // Known at once, since the points move when there are more.
        const HomogeneousPoint exact =
            line_line_point(out_.points[p], out_.points[q], out_.points[r], out_.points[s], seen_axis);
        const Vec3 approx = rounded(exact);
        return PointView{approx, &crossings_.emplace_back(exact)};
    }

    /// Per segment, points of the triangulation within it, in no order.
    std::vector<std::vector<int>> points_on_segments(const PlanarTriangulation& t) const {
        std::vector<std::vector<int>> on(segments_.size());
        for_each_segment_edge(t, [&](int segment, const PlanarTriangulation::Face& f, int i) {
            const auto& [a, b] = segments_[static_cast<std::size_t>(segment)];
            for (const int v : {f.v[PlanarTriangulation::next(i)], f.v[PlanarTriangulation::previous(i)]})
                if (v != number_[a] && v != number_[b]) on[static_cast<std::size_t>(segment)].push_back(v);
        });
        return on;
    }
    template <class Visit>
    static void for_each_segment_edge(const PlanarTriangulation& t, const Visit& visit) {
        for (const auto& f : t.faces())
            for (int i = 0; i < 3; ++i)
                if (f.c[i] >= 0)
                    for (const int segment : t.constraint(f.c[i]).marks) visit(segment, f, i);
    }

    /// Adds the points that lie so near to a segment that rounding might take one across the other: those are across a
    /// face from it. Without them, crossings would double from round to round along segments that nearly coincide.
    void add_near(const PlanarTriangulation& t, std::vector<std::vector<int>>& on) const {
        for_each_segment_edge(t, [&](int segment, const PlanarTriangulation::Face& f, int i) {
            if (f.v[i] < corners_around) return;
            const Vec3 &from = t.point(f.v[PlanarTriangulation::next(i)]).approx,
                       way = t.point(f.v[PlanarTriangulation::previous(i)]).approx - from;
            const Vec3 to = t.point(f.v[i]).approx - from;
            const double length = norm(way), along = dot(to, way);
            // What is as near to an end is near to that, and given points may be so near to each other.
            if (!(along > grid_ * length && along < (length - grid_) * length)) return;
            if (std::abs(cross(way, to).z) > grid_ * length) return;
            on[static_cast<std::size_t>(segment)].push_back(f.v[i]);
        });
    }

    /// Our number of each point of the triangulation that is not new.
    std::vector<std::uint32_t> numbers_of(const PlanarTriangulation& t) const {
        std::vector<std::uint32_t> of(t.point_count(), 0);
        for (std::uint32_t i = 0; i < number_.size(); ++i) of[static_cast<std::size_t>(number_[i])] = i;
        return of;
    }

    /// Rounds what crossed, and has the edges run through what is on them.
    void snap(const PlanarTriangulation& t, std::size_t given) {
        std::vector<std::uint32_t> of = numbers_of(t);
        for (std::size_t v = given; v < of.size(); ++v) {
            const Vec3& p = t.point(static_cast<int>(v)).approx;
            if (const auto near = cells_.near(p, out_.points)) {
                of[v] = *near;
                continue;
            }
            of[v] = static_cast<std::uint32_t>(out_.points.size());
            out_.points.push_back({std::nearbyint(p.x / grid_) * grid_, std::nearbyint(p.y / grid_) * grid_, 0});
            cells_.add(out_.points.back(), of[v]);
        }
        std::vector<std::vector<int>> on = points_on_segments(t);
        add_near(t, on);
        route(t, of, std::move(on));
    }

    /// Has the edges run through what is on their segments. `of`: our number of each point of the triangulation.
    void route(const PlanarTriangulation& t, std::span<const std::uint32_t> of, std::vector<std::vector<int>> on) {
        for (std::size_t s = 0; s < on.size(); ++s) {
            const Vec3 &from = out_.points[segments_[s].first], way = out_.points[segments_[s].second] - from;
            std::ranges::sort(on[s], {}, [&](int v) { return std::pair(dot(t.point(v).approx - from, way), v); });
            on[s].erase(std::unique(on[s].begin(), on[s].end()), on[s].end());
        }
        for (auto& [edge, along] : out_.along) {
            std::vector<std::uint32_t> now{along.front()};
            auto go_to = [&](int v) {
                const std::uint32_t point = of[static_cast<std::size_t>(v)];
                if (point != now.back()) now.push_back(point);
            };
            for (std::size_t i = 0; i + 1 < along.size(); ++i) {
                const auto& between = on[static_cast<std::size_t>(segment_of(along[i], along[i + 1]))];
                if (along[i] < along[i + 1])
                    std::ranges::for_each(between, go_to);
                else
                    std::ranges::for_each(between.rbegin(), between.rend(), go_to);
                go_to(number_[along[i + 1]]);
            }
            along = std::move(now);
        }
    }

    /// What runs along a constraint of the triangulation: a stretch of rims, or another edge.
    struct Line {
        EdgeKey ends;
        struct Run {
            std::size_t edge;
            bool forward;  ///< as the line goes
        };
        std::vector<Run> runs{};
        int times = 0;  ///< of all of them, as the line goes
    };
    std::vector<Line> rim_lines() const {
        std::vector<Line> lines;
        for (const EdgeKey& ends : segments_) lines.push_back({ends});
        for (std::size_t e = 0; e < edges_.size(); ++e) {
            if (!edges_[e].is_rim()) continue;
            const auto& along = out_.along.at({edges_[e].low, edges_[e].high});
            for (std::size_t i = 0; i + 1 < along.size(); ++i) {
                Line& line = lines[static_cast<std::size_t>(segment_of(along[i], along[i + 1]))];
                const bool forward = along[i] < along[i + 1];
                line.runs.push_back({e, forward});
                line.times += forward ? edges_[e].times : -edges_[e].times;
            }
        }
        return lines;
    }

    /// Puts in the edges that are no rims where nothing is in their way.
    void add_others(PlanarTriangulation& t, std::vector<Line>& lines) const {
        for (const std::uint32_t e : by_chance(edges_.size())) {
            if (edges_[e].is_rim()) continue;
            const int line = static_cast<int>(lines.size());
            if (t.constrain_if_free(number_[edges_[e].low], number_[edges_[e].high], line, {line}))
                lines.push_back({{edges_[e].low, edges_[e].high}, {{e, true}}});
        }
    }

    /// Whether a line goes along with edge i of a face of the triangulation, which is on the left of it.
    bool goes_along(const Line& line, const PlanarTriangulation& t, const PlanarTriangulation::Face& f, int i) const {
        return dot(out_.points[line.ends.second] - out_.points[line.ends.first],
                   t.point(f.v[PlanarTriangulation::previous(i)]).approx -
                       t.point(f.v[PlanarTriangulation::next(i)]).approx) > 0;
    }

    /// One of the faces that bound on a face of the triangulation and count the way that is covered there; -1 where
    /// there is none.
    int face_at(const PlanarTriangulation& t, const PlanarTriangulation::Face& f, int times,
                std::span<const Line> lines) const {
        int found = -1;
        for (int i = 0; i < 3; ++i) {
            if (f.c[i] < 0) continue;
            for (const int mark : t.constraint(f.c[i]).marks) {
                const Line& line = lines[static_cast<std::size_t>(mark)];
                const bool along = goes_along(line, t, f, i);
                for (const Line::Run& run : line.runs) {
                    const auto& side = along == run.forward ? edges_[run.edge].left : edges_[run.edge].right;
                    const int face = side[times > 0 ? 0 : 1];
                    if (face >= 0 && (found < 0 || face < found)) found = face;
                }
            }
        }
        return found;
    }

    /// Per face of the triangulation that is covered, a face that covers it or one of those round it.
    std::vector<int> covering(const PlanarTriangulation& t, const Covers<int>& covers,
                              std::span<const Line> lines) const {
        const auto& faces = t.faces();
        auto times = [&](std::size_t f) { return covers.lists[covers.of_face[f]]; };
        std::vector<int> out(faces.size(), -1);
        std::vector<std::size_t> found;
        for (std::size_t f = 0; f < faces.size(); ++f)
            if (times(f) != 0 && (out[f] = face_at(t, faces[f], times(f), lines)) >= 0) found.push_back(f);
        for (std::size_t k = 0; k < found.size(); ++k)
            for (const int n : faces[found[k]].n) {
                if (n < 0) continue;
                const auto next = static_cast<std::size_t>(n);
                if (out[next] >= 0 || (times(next) > 0) != (times(found[k]) > 0) || times(next) == 0) continue;
                out[next] = out[found[k]];
                found.push_back(next);
            }
        return out;
    }

    std::optional<SnappedOverlay> finished(PlanarTriangulation& t) {
        const std::vector<std::uint32_t> of = numbers_of(t);
        std::vector<Line> lines = rim_lines();
        route(t, of, points_on_segments(t));  // some lie on a segment without a crossing
        add_others(t, lines);
        auto pass = [&](int& times, const PlanarTriangulation::Face& from, int i) {
            for (const int mark : t.constraint(from.c[i]).marks) {
                const Line& line = lines[static_cast<std::size_t>(mark)];
                times -= goes_along(line, t, from, i) ? line.times : -line.times;
            }
        };
        const Covers<int> covers = covers_of<int>(t, pass);
        const std::vector<int> face = covering(t, covers, lines);
        for (std::size_t f = 0; f < t.faces().size(); ++f) {
            const int times = covers.lists[covers.of_face[f]];
            if (times == 0) continue;
            auto number = [&](int k) { return of[static_cast<std::size_t>(t.faces()[f].v[k])]; };
            out_.parts.push_back({{number(0), number(1), number(2)}, times, face[f]});
        }
        return std::move(out_);
    }

    std::vector<FlatEdge> edges_;
    double grid_;
    std::size_t most_points_;
    PointCells cells_;
    Box box_;
    SnappedOverlay out_;
    std::vector<EdgeKey> segments_;     // sorted
    Few<int> number_;                   // per point, in the triangulation
    std::deque<ExactPoint> crossings_;  // stay in place
};

}  // namespace

std::vector<FlatEdge> flat_edges(std::span<const Vec3> points, std::span<const FlatFace> faces,
                                 std::span<const int> times) {
    std::vector<Triangle> triangles;
    std::vector<char> turns_left;
    for (const FlatFace& t : faces) {
        triangles.push_back({VertexId(t[0]), VertexId(t[1]), VertexId(t[2])});
        turns_left.push_back(orient2d(points[t[0]], points[t[1]], points[t[2]], seen_axis) > 0);
    }
    const std::vector<EdgeUse> uses = edge_uses(triangles);
    std::vector<FlatEdge> out;
    for_each_run(std::span(uses), same_edge, [&](std::span<const EdgeUse> here) {
        FlatEdge edge{here.front().low.value(), here.front().high.value()};
        for (const EdgeUse& use : here) {
            const bool on_left = use.forward == (turns_left[use.face] != 0);
            edge.times += on_left ? times[use.face] : -times[use.face];
            int& first = (on_left ? edge.left : edge.right)[times[use.face] > 0 ? 0 : 1];
            if (first < 0) first = static_cast<int>(use.face);
        }
        out.push_back(edge);
    });
    return out;
}

Result<std::optional<SnappedOverlay>> snapped_overlay(std::vector<Vec3> points, std::vector<FlatEdge> edges,
                                                      double grid, std::size_t most_points, Progress& progress) {
    return Overlay(std::move(points), std::move(edges), grid, most_points).run(progress);
}

}  // namespace anvil
