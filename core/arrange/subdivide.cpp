#include "core/arrange/subdivide.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_for_each.h>
#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <atomic>
#include <numeric>
#include <optional>

#include "core/arrange/earlier.h"
#include "core/arrange/flush_faces.h"
#include "core/arrange/stretches.h"
#include "core/base/runs.h"
#include "core/exact/predicates.h"

namespace anvil {
namespace {

/// A line of the plane at hand: along an input edge, or where another face's plane meets it.
struct Line {
    VertexId a, b;  // the edge
    FaceId face;    // or the face
    bool is_edge() const { return !face.valid(); }
};

/// Clusters that one thread splits one after the other, and what becomes of them: lists of their own would ask for
/// memory so often that threads wait for each other. Corners below the table's size are its numbers, those from there
/// on are new points.
struct Batch {
    std::size_t first_cluster, end_cluster;
    struct NewPoint {
        ExactPoint exact;
        Vec3 approx;
    };
    StableVector<NewPoint> new_points{};  // mostly none
    std::vector<std::array<std::uint32_t, 3>> corners{};
    std::vector<std::uint32_t> cover{};             // per part: number in `sources`
    SourceLists sources{};                          // of the faces that lie there, as seen from the first face's side
    std::vector<SubFaces::OfCluster> of_cluster{};  // in the batch's own numbers
};

/// Large ones each by itself, so that no thread ends with several of them while others wait.
std::vector<Batch> in_batches(std::span<const Cluster> clusters) {
    constexpr std::size_t most = 32;
    std::vector<Batch> out;
    for (std::size_t i = 0; i < clusters.size(); ++i) {
        const bool joins = !out.empty() && !clusters[i].is_large() && !clusters[i - 1].is_large() &&
                           i - out.back().first_cluster < most;
        if (!joins) out.push_back({i, i});
        out.back().end_cluster = i + 1;
    }
    return out;
}

/// Adds a cluster's parts as they were in an earlier arrangement, in the numbers of this one.
void add_as_before(const EarlierArrangement& earlier, const SubFaces::OfCluster& made, Batch& out) {
    const SubFaces& old = earlier.faces();
    const auto first_list = static_cast<std::uint32_t>(out.sources.size());
    for (std::uint32_t t = made.first; t < made.first + made.count; ++t) {
        auto number = [&](std::size_t k) { return earlier.now(old.corners[t][k]).value(); };
        out.corners.push_back({number(0), number(1), number(2)});
        out.cover.push_back(first_list + old.source[t] - made.first_list);
    }
    for (std::uint32_t list = 0; list < made.lists; ++list) out.sources.add(old.sources[made.first_list + list]);
}

class ClusterSubdivider {
  public:
    ClusterSubdivider(const Soup& soup, const Crossings& crossings, const PointTable& points, const ActiveFaces& active,
                      const Clusters& clusters, std::size_t number, Batch& parts, const Progress& progress)
        : progress_(progress),
          soup_(soup),
          crossings_(crossings),
          points_(points),
          active_(active),
          clusters_(clusters),
          cluster_(clusters.list[number]),
          first_(cluster_.faces.front()),
          axis_(projection_axis(soup.corner(first_, 0), soup.corner(first_, 1), soup.corner(first_, 2))),
          sign_(orient2d(soup.corner(first_, 0), soup.corner(first_, 1), soup.corner(first_, 2), axis_)),
          parts_(parts),
          first_list_(static_cast<std::uint32_t>(parts.sources.size())) {
        for (const FaceId f : cluster_.faces)
            against_.push_back(f != first_ &&
                               orient2d(soup.corner(f, 0), soup.corner(f, 1), soup.corner(f, 2), axis_) != sign_);
    }

    /// Adds the cluster's parts; of no use where it was stopped.
    void run() {
        if (is_one_part()) {
            const Triangle t = face(first_);
            std::vector<int> all(cluster_.faces.size());
            std::iota(all.begin(), all.end(), 0);
            add_sources({all});
            parts_.corners.push_back({t[0].value(), t[1].value(), t[2].value()});
            parts_.cover.push_back(first_list_);
            return;
        }
        const bool single = cluster_.faces.size() == 1;
        PlanarTriangulation triangulation = single ? start_from_face() : start_around();
        triangulation.stop_by(progress_);
        if (!single) find_edges();
        if (progress_.cancelled()) return;
        add_points(triangulation);
        if (progress_.cancelled()) return;
        if (!single) add_boundaries(triangulation);
        if (progress_.cancelled()) return;
        add_crossings(triangulation);
        triangulation.improve();
        if (progress_.cancelled()) return;
        if (single) {
            parts_.sources.add(span_of(soup_.sources(first_)));
            for (const auto& f : triangulation.faces()) add_part(f, 0);
        } else {
            add_covered_parts(triangulation);
        }
    }

  private:
    PlanarTriangulation::Cross crosser() {
        return [this](int a, int b) {
            const HomogeneousPoint exact =
                cross(lines_[static_cast<std::size_t>(a)], lines_[static_cast<std::size_t>(b)]);
            const std::size_t number = parts_.new_points.size();
            parts_.new_points.grow(1);
            Batch::NewPoint& p = parts_.new_points[number];
            p = {ExactPoint(exact), rounded(exact)};
            numbers_.push_back(static_cast<std::uint32_t>(points_.size() + number));
            return PointView{p.approx, &p.exact};
        };
    }

    /// Whether the faces have the same corners, and nothing meets them but there: bodies that coincide have thousands.
    bool is_one_part() const {
        const Triangle corners = face(first_);
        auto is_corner = [&](VertexId v) { return std::ranges::find(corners, v) != corners.end(); };
        return std::ranges::all_of(cluster_.faces, [&](FaceId f) { return std::ranges::all_of(face(f), is_corner); }) &&
               std::ranges::all_of(cluster_.crossings, [&](std::uint32_t i) {
                   const Crossing& c = crossings_.segments[i];
                   return is_corner(c.p) && (!c.q.valid() || is_corner(c.q));
               });
    }

    void find_edges() {
        std::vector<FlushFace> faces;
        for (std::size_t i = 0; i < cluster_.faces.size(); ++i) {
            const FaceId f = cluster_.faces[i];
            faces.push_back({f, face(f), soup_.operand_of(f), against_[i] != 0});
        }
        flush_.emplace(points_, std::move(faces), axis_);
        // A few crossings cost less than looking for what needs none.
        if (cluster_.is_large()) flush_->leave_out_covered(soup_, cluster_.folded);
    }

    PlanarTriangulation start_from_face() {
        const Triangle t = face(first_);
        for (VertexId v : t) remember(v);
        return {axis_, sign_ < 0, points_.view(t[0]), points_.view(t[1]), points_.view(t[2]), crosser()};
    }

    /// A triangle well around all faces; its corners are no points of the arrangement.
    PlanarTriangulation start_around() {
        Box box;
        for (FaceId f : cluster_.faces)
            for (const Vec3* p : soup_.corners(f)) box.add(*p);
        numbers_.assign(3, outside);
        return PlanarTriangulation::around(box, axis_, sign_ < 0, crosser());
    }

    /// A face's corners, each by the number that stands for its place.
    Triangle face(FaceId f) const {
        Triangle t = soup_.face(f);
        for (VertexId& v : t) v = points_.same_as(v);
        return t;
    }

    void remember(VertexId v) {
        local_.emplace_back(v, static_cast<int>(numbers_.size()));
        numbers_.push_back(v.value());
    }

    void add_points(PlanarTriangulation& triangulation) {
        Few<VertexId, 32> wanted;
        if (flush_)
            for (const EdgeUse& e : flush_->edges()) wanted.insert(wanted.end(), {e.low, e.high});
        for (std::uint32_t i : cluster_.crossings) {
            const Crossing& c = crossings_.segments[i];
            wanted.push_back(c.p);
            if (c.q.valid()) wanted.push_back(c.q);
        }
        std::sort(wanted.begin(), wanted.end());
        wanted.erase(std::unique(wanted.begin(), wanted.end()), wanted.end());
        if (cluster_.faces.size() == 1) add_rim_points(triangulation, span_of(wanted));
        std::sort(local_.begin(), local_.end());
        const auto known = std::ranges::remove_if(wanted, [&](VertexId v) {
            const auto at = std::lower_bound(local_.begin(), local_.end(), std::pair(v, -1));
            return at != local_.end() && at->first == v;
        });
        wanted.erase(known.begin(), known.end());
        Few<PointView, 32> views;
        for (const VertexId v : wanted) views.push_back(points_.view(v));
        const auto added = triangulation.insert_all(span_of(views));
        numbers_.resize(triangulation.point_count(), outside);
        for (std::size_t i = 0; i < wanted.size(); ++i) {
            local_.emplace_back(wanted[i], added[i]);
            std::uint32_t& number = numbers_[static_cast<std::size_t>(added[i])];
            if (number == outside) number = wanted[i].value();
        }
        std::sort(local_.begin(), local_.end());
    }

    /// Points that were made on an edge of the only face go there in their order, without a search.
    void add_rim_points(PlanarTriangulation& triangulation, std::span<const VertexId> wanted) {
        const Triangle corners = soup_.face(first_);
        for (std::size_t k = 0; k < 3; ++k) {
            const VertexId a = corners[k], b = corners[(k + 1) % 3];
            Few<VertexId> here;
            for (const VertexId v : wanted)
                if (!points_.is_input(v) && crossings_.definitions[v.value() - points_.input_count()].on_edge(a, b))
                    here.push_back(v);
            if (here.empty()) continue;
            const Vec3 along = soup_.point(b) - soup_.point(a);
            const int axis = longest_axis(along);
            std::sort(here.begin(), here.end(), [&](VertexId x, VertexId y) {
                const int order = compare(points_.view(x), points_.view(y), axis);
                return along[axis] > 0 ? order < 0 : order > 0;
            });
            int from = static_cast<int>(k);
            for (const VertexId v : here) {
                from = triangulation.insert_on_edge(points_.view(v), from, static_cast<int>(k + 1) % 3);
                remember(v);
            }
        }
    }

    int local(VertexId v) const { return std::lower_bound(local_.begin(), local_.end(), std::pair(v, -1))->second; }

    /// A segment between two points on a line of its own.
    PlanarTriangulation::Segment segment(VertexId a, VertexId b, const Line& line) {
        lines_.push_back(line);
        return {local(a), local(b), static_cast<int>(lines_.size()) - 1};
    }

    void add_boundaries(PlanarTriangulation& triangulation) {
        std::vector<PlanarTriangulation::Segment> segments;
        for_each_run(flush_->edges(), same_edge, [&](std::span<const EdgeUse> one) {
            const VertexId low = one.front().low, high = one.front().high;
            segments.push_back(segment(low, high, {low, high, FaceId()}));
            segments.back().marks = {static_cast<int>(bounded_.size())};
            bounded_.emplace_back();
            for (const auto& e : one) bounded_.back().push_back(static_cast<int>(flush_->counts_as(e.face)));
        });
        triangulation.constrain_all(std::move(segments));
    }

    void add_crossings(PlanarTriangulation& triangulation) {
        std::vector<PlanarTriangulation::Segment> segments;
        segments.reserve(cluster_.crossings.size());
        for (const Stretch& s : stretches_on(cluster_, crossings_, clusters_, active_, points_))
            segments.push_back(segment(s.p, s.q, {VertexId(), VertexId(), s.other}));
        triangulation.constrain_all(std::move(segments));
    }

    HomogeneousPoint cross(const Line& x, const Line& y) const {
        if (x.is_edge() && y.is_edge())
            return line_line_point(soup_.point(x.a), soup_.point(x.b), soup_.point(y.a), soup_.point(y.b), axis_);
        if (!x.is_edge() && !y.is_edge()) {
            auto plane = [&](FaceId f, Vec3(&out)[3]) {
                for (int k = 0; k < 3; ++k) out[k] = soup_.corner(f, k);
            };
            Vec3 t[3], u[3], v[3];
            plane(first_, t);
            plane(x.face, u);
            plane(y.face, v);
            return three_planes_point(t, u, v);
        }
        const Line &edge = x.is_edge() ? x : y, &plane = x.is_edge() ? y : x;
        return line_plane_point(soup_.point(edge.a), soup_.point(edge.b), soup_.corner(plane.face, 0),
                                soup_.corner(plane.face, 1), soup_.corner(plane.face, 2));
    }

    void add_part(const PlanarTriangulation::Face& f, std::uint32_t cover) {
        auto number = [&](int k) { return numbers_[static_cast<std::size_t>(f.v[k])]; };
        parts_.corners.push_back({number(0), number(1), number(2)});
        parts_.cover.push_back(first_list_ + cover);
    }

    void add_covered_parts(const PlanarTriangulation& triangulation) {
        // Passing an edge enters or leaves the faces that it bounds.
        auto pass = [&](std::vector<int>& cover, const PlanarTriangulation::Face& from, int i) {
            for (const int mark : triangulation.constraint(from.c[i]).marks)
                for (const int face : bounded_[static_cast<std::size_t>(mark)]) {
                    const auto at = std::lower_bound(cover.begin(), cover.end(), face);
                    if (at != cover.end() && *at == face)
                        cover.erase(at);
                    else
                        cover.insert(at, face);
                }
        };
        auto covers = covers_of<std::vector<int>>(triangulation, pass);
        const auto& faces = triangulation.faces();
        flush_->tell_apart(triangulation, covers);
        for (std::size_t t = 0; t < faces.size(); ++t)
            if (!covers.lists[covers.of_face[t]].empty()) add_part(faces[t], covers.of_face[t]);
        add_sources(covers.lists);
    }

    /// `covers`: the faces that lie over parts, by their places in the cluster.
    void add_sources(const std::vector<std::vector<int>>& covers) {
        std::vector<std::vector<FaceSource>> of_face;
        for (std::size_t i = 0; i < cluster_.faces.size(); ++i) {
            const auto own = soup_.sources(cluster_.faces[i]);
            of_face.emplace_back(own.begin(), own.end());
            for (FaceSource& s : of_face.back()) s.reversed = s.reversed != (against_[i] != 0);
        }
        if (parts_.sources.size() == 0) {  // a large cluster's may be hundreds of megabytes: not to be moved
            std::size_t sources = 0;
            for (const std::vector<int>& cover : covers)
                for (const int i : cover) sources += of_face[static_cast<std::size_t>(i)].size();
            parts_.sources.reserve(covers.size(), sources);
        }
        std::vector<FaceSource> list;
        for (const std::vector<int>& cover : covers) {
            if (progress_.cancelled()) return;
            list.clear();
            for (const int i : cover) {
                const auto& own = of_face[static_cast<std::size_t>(i)];
                list.insert(list.end(), own.begin(), own.end());
            }
            parts_.sources.add(list);
        }
    }

    static constexpr std::uint32_t outside = 0xffffffffu;
    const Progress& progress_;
    const Soup& soup_;
    const Crossings& crossings_;
    const PointTable& points_;
    const ActiveFaces& active_;
    const Clusters& clusters_;
    const Cluster& cluster_;
    FaceId first_;
    int axis_, sign_;
    Few<char> against_;                        // per face: it is wound the other way than the first
    Few<std::pair<VertexId, int>, 32> local_;  // sorted: where each point of the table is in the triangulation
    Few<std::uint32_t, 32> numbers_;           // the other way round; new points count on from the table
    Few<Line> lines_;
    std::optional<FlushFaces> flush_;        // the faces, where there are several
    std::vector<std::vector<int>> bounded_;  // per edge of the faces: those that it bounds
    Batch& parts_;
    std::uint32_t first_list_;  // of the cluster's own
};

}  // namespace

Result<SubFaces> subdivide(const Soup& soup, const Crossings& crossings, const ActiveFaces& active,
                           const Clusters& clustered, PointTable& points, const EarlierArrangement* earlier,
                           Progress& progress) {
    const std::vector<Cluster>& clusters = clustered.list;
    std::vector<Batch> batches = in_batches(clusters);
    std::atomic<std::size_t> done{0};
    auto split_all = [&](Batch& batch) {
        for (std::size_t i = batch.first_cluster; i < batch.end_cluster && !progress.cancelled(); ++i) {
            SubFaces::OfCluster own{.first = static_cast<std::uint32_t>(batch.corners.size()),
                                    .first_list = static_cast<std::uint32_t>(batch.sources.size())};
            const std::size_t new_points = batch.new_points.size();
            if (const SubFaces::OfCluster* made =
                    earlier ? earlier->find(clusters[i], clustered, active, crossings, points) : nullptr)
                add_as_before(*earlier, *made, batch);
            else
                ClusterSubdivider(soup, crossings, points, active, clustered, i, batch, progress).run();
            own.count = static_cast<std::uint32_t>(batch.corners.size()) - own.first;
            own.lists = static_cast<std::uint32_t>(batch.sources.size()) - own.first_list;
            own.has_own_points = batch.new_points.size() > new_points;
            batch.of_cluster.push_back(own);
        }
        progress.part(static_cast<double>(++done) / static_cast<double>(batches.size()));
    };
    // Large ones from the start.
    std::vector<Batch*> large, others;
    for (Batch& batch : batches) (clusters[batch.first_cluster].is_large() ? large : others).push_back(&batch);
    tbb::parallel_invoke(
        [&] { tbb::parallel_for_each(large, [&](Batch* batch) { split_all(*batch); }); },
        [&] { tbb::parallel_for(std::size_t{0}, others.size(), [&](std::size_t i) { split_all(*others[i]); }); });
    if (progress.cancelled()) return cancelled_error();

    SubFaces out;
    std::vector<char> split(active.size(), 0);
    for (const Cluster& c : clusters)
        for (FaceId f : c.faces) split[active.index_of[f.value()]] = 1;
    out.of_active.resize(active.size());
    auto here = [&] { return static_cast<std::uint32_t>(out.corners.size()); };
    for (std::size_t i = 0; i < active.size(); ++i) {
        if (split[i]) continue;
        const FaceId f = active.faces[i];
        out.of_active[i] = {here(), here() + 1};
        out.corners.push_back(soup.face(f));
        out.plane.push_back(f);
        out.source.push_back(out.sources.add(span_of(soup.sources(f))));
    }
    const std::uint32_t base = static_cast<std::uint32_t>(points.size());
    std::uint32_t next = here();
    std::size_t lists = out.sources.size(), sources = out.sources.sources();
    for (const Batch& batch : batches) {
        lists += batch.sources.size();
        sources += batch.sources.sources();
    }
    out.sources.reserve(lists, sources);
    std::vector<std::uint32_t> offset;  // per batch: to the numbers of its own points
    for (Batch& batch : batches) {
        if (progress.cancelled()) return cancelled_error();
        offset.push_back(static_cast<std::uint32_t>(points.size()) - base);
        points.add_all(batch.new_points.size(), [&](std::size_t i, ExactPoint& exact, Vec3& approx) {
            exact = std::move(batch.new_points[i].exact);
            approx = batch.new_points[i].approx;
        });
        const std::uint32_t first_list = out.sources.add_all(batch.sources, progress);
        for (SubFaces::OfCluster own : batch.of_cluster) {
            own.first += next;
            own.first_list += first_list;
            out.of_cluster.push_back(own);
        }
        next += static_cast<std::uint32_t>(batch.corners.size());
    }
    out.corners.resize(next);
    out.plane.resize(next);
    out.source.resize(next);
    tbb::parallel_for(std::size_t{0}, batches.size(), [&](std::size_t b) {
        if (progress.cancelled()) return;
        Batch& batch = batches[b];
        for (std::size_t i = batch.first_cluster; i < batch.end_cluster; ++i) {
            const SubFaces::OfCluster& made = out.of_cluster[i];
            const SubFaces::OfCluster& own = batch.of_cluster[i - batch.first_cluster];
            for (FaceId f : clusters[i].faces)
                out.of_active[active.index_of[f.value()]] = {made.first, made.first + made.count};
            for (std::uint32_t t = 0; t < made.count; ++t) {
                for (std::size_t k = 0; k < 3; ++k) {
                    const std::uint32_t n = batch.corners[own.first + t][k];
                    out.corners[made.first + t][k] = VertexId(n < base ? n : n + offset[b]);
                }
                out.plane[made.first + t] = clusters[i].faces.front();
                out.source[made.first + t] = made.first_list + batch.cover[own.first + t] - own.first_list;
            }
        }
        batch = {batch.first_cluster, batch.end_cluster};
    });
    if (progress.cancelled()) return cancelled_error();
    if (points.size() > base) points.identify(crossings.touched, progress);  // else all are known
    if (progress.cancelled()) return cancelled_error();
    tbb::parallel_for(tbb::blocked_range(std::size_t{0}, out.corners.size()), [&](const auto& range) {
        for (std::size_t t = range.begin(); t < range.end(); ++t)
            for (VertexId& v : out.corners[t]) v = points.same_as(v);
    });
    return out;
}

}  // namespace anvil
