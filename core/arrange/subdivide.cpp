#include "core/arrange/subdivide.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <list>
#include <map>
#include <numeric>

#include "core/arrange/planar_triangulation.h"
#include "core/arrange/stretches.h"
#include "core/exact/predicates.h"
#include "core/mesh/disjoint_sets.h"

namespace anvil {
namespace {

/// A line of the plane at hand: along an input edge, or where another face's plane meets it.
struct Line {
    VertexId a, b;  // the edge
    FaceId face;    // or the face
    bool is_edge() const { return !face.valid(); }
};

/// Touched faces that lie in one plane and overlap or touch there; mostly a single one.
struct Cluster {
    std::vector<FaceId> faces;
    std::vector<std::uint32_t> crossings;  // numbers in Crossings::segments
};

/// What became of a cluster. Corners below `new_base` are numbers of the table, those above are new points.
struct ClusterParts {
    struct NewPoint {
        HomogeneousPoint exact;
        Vec3 approx;
    };
    std::list<NewPoint> new_points;  // stay in place; mostly none
    std::vector<std::array<std::uint32_t, 3>> corners;
    std::vector<std::uint32_t> cover;      // per part: number in `covers`
    std::vector<std::vector<int>> covers;  // which of the cluster's faces lie there
};

struct Clusters {
    std::vector<Cluster> list;
    std::vector<std::uint32_t> of_face;  // per face of the soup; means nothing where it is not touched
};

Clusters find_clusters(const Crossings& crossings, const ActiveFaces& active) {
    DisjointSets sets(active.size());
    std::vector<char> touched(active.size(), 0);
    auto index = [&](FaceId f) { return active.index_of[f.value()]; };
    for (const auto& [a, b] : crossings.coplanar) {
        sets.join(index(a), index(b));
        touched[index(a)] = touched[index(b)] = 1;
    }
    for (const Crossing& c : crossings.segments) touched[index(c.a)] = touched[index(c.b)] = 1;
    Clusters out{{}, std::vector<std::uint32_t>(active.index_of.size())};
    auto& [clusters, cluster_of] = out;
    for (std::uint32_t i = 0; i < active.size(); ++i) {
        if (!touched[i]) continue;
        const std::uint32_t root = sets.find(i);  // the lowest member, so met first
        if (root == i) {
            cluster_of[active.faces[i].value()] = static_cast<std::uint32_t>(clusters.size());
            clusters.emplace_back();
        }
        const std::uint32_t number = cluster_of[active.faces[root].value()];
        cluster_of[active.faces[i].value()] = number;
        clusters[number].faces.push_back(active.faces[i]);
    }
    for (std::uint32_t i = 0; i < crossings.segments.size(); ++i) {
        clusters[cluster_of[crossings.segments[i].a.value()]].crossings.push_back(i);
        clusters[cluster_of[crossings.segments[i].b.value()]].crossings.push_back(i);
    }
    return out;
}

class ClusterSubdivider {
  public:
    ClusterSubdivider(const Soup& soup, const Crossings& crossings, const PointTable& points, const Clusters& clusters,
                      std::size_t number)
        : soup_(soup),
          crossings_(crossings),
          points_(points),
          cluster_of_(clusters.of_face),
          cluster_(clusters.list[number]),
          first_(cluster_.faces.front()),
          axis_(projection_axis(soup.corner(first_, 0), soup.corner(first_, 1), soup.corner(first_, 2))),
          sign_(orient2d(soup.corner(first_, 0), soup.corner(first_, 1), soup.corner(first_, 2), axis_)) {}

    ClusterParts run() {
        if (is_one_part()) {
            const Triangle t = face(first_);
            parts_.covers.emplace_back(cluster_.faces.size());
            std::iota(parts_.covers[0].begin(), parts_.covers[0].end(), 0);
            parts_.corners.push_back({t[0].value(), t[1].value(), t[2].value()});
            parts_.cover.push_back(0);
            return std::move(parts_);
        }
        const bool single = cluster_.faces.size() == 1;
        PlanarTriangulation triangulation = single ? start_from_face() : start_around();
        add_points(triangulation);
        improve_grown(triangulation, improved_ / 8);
        if (!single) add_boundaries(triangulation);
        add_crossings(triangulation);
        if (single) {
            triangulation.improve();
            parts_.covers = {{0}};
            for (const auto& f : triangulation.faces()) add_part(f, 0);
        } else {
            triangulation.improve();
            add_covered_parts(triangulation);
        }
        return std::move(parts_);
    }

  private:
    PlanarTriangulation::Cross crosser() {
        return [this](int a, int b) {
            HomogeneousPoint exact = cross(lines_[static_cast<std::size_t>(a)], lines_[static_cast<std::size_t>(b)]);
            const Vec3 approx = rounded(exact);
            parts_.new_points.push_back({std::move(exact), approx});
            const ClusterParts::NewPoint& p = parts_.new_points.back();
            numbers_.push_back(static_cast<std::uint32_t>(points_.size() + parts_.new_points.size() - 1));
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
        std::vector<VertexId> wanted;
        if (cluster_.faces.size() > 1)
            for (FaceId f : cluster_.faces)
                for (VertexId v : face(f)) wanted.push_back(v);
        for (std::uint32_t i : cluster_.crossings) {
            const Crossing& c = crossings_.segments[i];
            wanted.push_back(c.p);
            if (c.q.valid()) wanted.push_back(c.q);
        }
        std::sort(wanted.begin(), wanted.end());
        wanted.erase(std::unique(wanted.begin(), wanted.end()), wanted.end());
        std::sort(local_.begin(), local_.end());
        auto present = local_;
        if (cluster_.faces.size() == 1) {
            add_rim_points(triangulation, wanted);
            present = local_;
            std::sort(present.begin(), present.end());
        }
        if (wanted.size() > many_points) put_side_by_side(wanted);
        for (VertexId v : wanted) {
            const auto at = std::lower_bound(present.begin(), present.end(), std::pair(v, -1));
            if (at != present.end() && at->first == v) continue;
            const std::size_t before = triangulation.point_count();
            const int number = triangulation.insert(points_.view(v));
            local_.emplace_back(v, number);
            if (triangulation.point_count() > before) numbers_.push_back(v.value());
            improve_grown(triangulation, improved_);
        }
        std::sort(local_.begin(), local_.end());
    }

    /// Up and down strips of the plane, so that the search for a point's place begins near it.
    void put_side_by_side(std::vector<VertexId>& list) const {
        const Projection k(axis_);
        Box box;
        for (const VertexId v : list) box.add(points_.approx(v));
        const double width = box.size()[k.u] / std::sqrt(static_cast<double>(list.size()));
        auto place = [&](VertexId v) {
            const Vec3 p = points_.approx(v);
            const int strip = width > 0 ? static_cast<int>((p[k.u] - box.low[k.u]) / width) : 0;
            return std::tuple(strip, strip % 2 == 0 ? p[k.v] : -p[k.v], v);
        };
        std::ranges::sort(list, {}, place);
    }

    /// Points that were made on an edge of the only face go there in their order, without a search.
    void add_rim_points(PlanarTriangulation& triangulation, std::span<const VertexId> wanted) {
        const Triangle corners = soup_.face(first_);
        for (std::size_t k = 0; k < 3; ++k) {
            const VertexId a = corners[k], b = corners[(k + 1) % 3];
            std::vector<VertexId> here;
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

    /// Lines would cross nearly all edges where many points lie as they came: those are put in order now and then.
    void improve_grown(PlanarTriangulation& triangulation, std::size_t growth) {
        if (triangulation.point_count() < improved_ + std::max(many_points, growth)) return;
        triangulation.improve();
        improved_ = triangulation.point_count();
    }

    void add_boundaries(PlanarTriangulation& triangulation) {
        for (std::size_t i = 0; i < cluster_.faces.size(); ++i) {
            const Triangle t = face(cluster_.faces[i]);
            for (int k = 0; k < 3; ++k) {
                const VertexId a = t[k], b = t[(k + 1) % 3];
                lines_.push_back({std::min(a, b), std::max(a, b), FaceId()});
                triangulation.constrain(local(a), local(b), static_cast<int>(lines_.size()) - 1, static_cast<int>(i));
                improve_grown(triangulation, improved_ / 8);
            }
        }
    }

    void add_crossings(PlanarTriangulation& triangulation) {
        for (const Stretch& s : stretches_on(cluster_.faces, cluster_.crossings, crossings_, cluster_of_, points_)) {
            lines_.push_back({VertexId(), VertexId(), s.other});
            triangulation.constrain(local(s.p), local(s.q), static_cast<int>(lines_.size()) - 1, -1);
            improve_grown(triangulation, improved_ / 8);
        }
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
        parts_.cover.push_back(cover);
    }

    /// Spreads from the outside: crossing a face's boundary enters or leaves that face.
    void add_covered_parts(const PlanarTriangulation& triangulation) {
        const auto& faces = triangulation.faces();
        std::map<std::vector<int>, std::uint32_t> number;
        auto intern = [&](const std::vector<int>& cover) {
            const auto [at, fresh] = number.try_emplace(cover, static_cast<std::uint32_t>(parts_.covers.size()));
            if (fresh) parts_.covers.push_back(cover);
            return at->second;
        };
        std::vector<std::uint32_t> cover(faces.size(), outside);
        std::vector<int> stack;
        for (std::size_t t = 0; t < faces.size() && stack.empty(); ++t)
            if (faces[t].v[0] < 3 || faces[t].v[1] < 3 || faces[t].v[2] < 3) {
                cover[t] = intern({});
                stack.push_back(static_cast<int>(t));
            }
        while (!stack.empty()) {
            const std::size_t t = static_cast<std::size_t>(stack.back());
            stack.pop_back();
            for (int i = 0; i < 3; ++i) {
                const int u = faces[t].n[i];
                if (u < 0 || cover[static_cast<std::size_t>(u)] != outside) continue;
                std::vector<int> there = parts_.covers[cover[t]];
                if (faces[t].c[i] >= 0)
                    for (int mark : triangulation.constraint(faces[t].c[i]).marks) {
                        const auto at = std::lower_bound(there.begin(), there.end(), mark);
                        if (at != there.end() && *at == mark)
                            there.erase(at);
                        else
                            there.insert(at, mark);
                    }
                cover[static_cast<std::size_t>(u)] = intern(there);
                stack.push_back(u);
            }
        }
        for (std::size_t t = 0; t < faces.size(); ++t)
            if (!parts_.covers[cover[t]].empty()) add_part(faces[t], cover[t]);
    }

    static constexpr std::uint32_t outside = 0xffffffffu;
    static constexpr std::size_t many_points = 64;
    const Soup& soup_;
    const Crossings& crossings_;
    const PointTable& points_;
    std::span<const std::uint32_t> cluster_of_;  // per face of the soup
    const Cluster& cluster_;
    FaceId first_;
    int axis_, sign_;
    std::vector<std::pair<VertexId, int>> local_;  // sorted: where each point of the table is in the triangulation
    std::vector<std::uint32_t> numbers_;           // the other way round; new points count on from the table
    std::vector<Line> lines_;
    std::size_t improved_ = 0;  // points when they were last put in order
    ClusterParts parts_;
};

/// The sources of a part: those of all faces that cover it, as seen from the side of the cluster's first face.
std::vector<FaceSource> merged_sources(const Soup& soup, const Cluster& cluster, const std::vector<int>& cover) {
    auto normal_sign = [&](FaceId f, int axis) {
        return orient2d(soup.corner(f, 0), soup.corner(f, 1), soup.corner(f, 2), axis);
    };
    const FaceId first = cluster.faces.front();
    if (cluster.faces.size() == 1) {
        const auto own = soup.sources(first);
        return {own.begin(), own.end()};
    }
    const int axis = projection_axis(soup.corner(first, 0), soup.corner(first, 1), soup.corner(first, 2));
    std::vector<FaceSource> out;
    for (int i : cover) {
        const FaceId f = cluster.faces[static_cast<std::size_t>(i)];
        const bool against = normal_sign(f, axis) != normal_sign(first, axis);
        for (FaceSource s : soup.sources(f)) {
            s.reversed = s.reversed != against;
            out.push_back(s);
        }
    }
    return out;
}

}  // namespace

Result<SubFaces> subdivide(const Soup& soup, const Crossings& crossings, const ActiveFaces& active, PointTable& points,
                           Progress& progress) {
    const Clusters clustered = find_clusters(crossings, active);
    const std::vector<Cluster>& clusters = clustered.list;
    std::vector<ClusterParts> parts(clusters.size());
    std::atomic<std::size_t> done{0};
    tbb::parallel_for(std::size_t{0}, clusters.size(), [&](std::size_t i) {
        if (progress.cancelled()) return;
        parts[i] = ClusterSubdivider(soup, crossings, points, clustered, i).run();
        if (++done % 64 == 0) progress.part(static_cast<double>(done) / static_cast<double>(clusters.size()));
    });
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
        out.source.push_back(out.sources.add(soup.sources(f)));
    }
    const std::uint32_t base = static_cast<std::uint32_t>(points.size());
    for (std::size_t i = 0; i < clusters.size(); ++i) {
        const std::uint32_t offset = static_cast<std::uint32_t>(points.size()) - base;
        for (ClusterParts::NewPoint& p : parts[i].new_points) points.add(std::move(p.exact), p.approx);
        std::vector<std::uint32_t> lists;
        for (const auto& cover : parts[i].covers)
            lists.push_back(out.sources.add(merged_sources(soup, clusters[i], cover)));
        const auto end = static_cast<std::uint32_t>(here() + parts[i].corners.size());
        for (FaceId f : clusters[i].faces) out.of_active[active.index_of[f.value()]] = {here(), end};
        for (std::size_t t = 0; t < parts[i].corners.size(); ++t) {
            Triangle corners;
            for (int k = 0; k < 3; ++k) {
                const std::uint32_t n = parts[i].corners[t][static_cast<std::size_t>(k)];
                corners[static_cast<std::size_t>(k)] = VertexId(n < base ? n : n + offset);
            }
            out.corners.push_back(corners);
            out.plane.push_back(clusters[i].faces.front());
            out.source.push_back(lists[parts[i].cover[t]]);
        }
        parts[i] = {};
    }
    points.identify(crossings.touched);
    for (Triangle& t : out.corners)
        for (VertexId& v : t) v = points.same_as(v);
    return out;
}

}  // namespace anvil
