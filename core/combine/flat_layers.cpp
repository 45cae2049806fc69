#include "core/combine/flat_layers.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/combine/snapped_overlay.h"
#include "core/exact/predicates.h"

namespace anvil {
namespace {

struct Plane {
    Vec3 normal, at;

    double distance(const Vec3& p) const { return std::abs(dot(normal, p - at)); }
    bool has(const CornerPoints& corners, double most) const {
        // Of faces so small that their areas are no numbers there is no plane.
        return norm(normal) > 0.5 && std::ranges::all_of(corners, [&](const Vec3* p) { return distance(*p) <= most; });
    }
};

Vec3 area_vector(const CornerPoints& c) { return cross(*c[1] - *c[0], *c[2] - *c[0]); }

Plane plane_of(const CornerPoints& corners) { return {normalized(area_vector(corners)), *corners[0]}; }

/// The mean plane of faces, by their area, the layers that look the other way turned over.
Plane mean_plane(const LiveFaces& live, std::span<const std::uint32_t> faces, const Vec3& normal) {
    Vec3 sum{}, at{};
    double area = 0;
    for (const std::uint32_t f : faces) {
        const CornerPoints c = live.corners(f);
        const Vec3 n = area_vector(c);
        const double along = dot(n, normal);
        sum = sum + n * (along < 0 ? -1.0 : 1.0);
        at = at + (*c[0] + *c[1] + *c[2]) * (std::abs(along) / 3);
        area += std::abs(along);
    }
    return {normalized(sum), at * (1 / area)};
}

/// The faces within that distance of the plane that are reached across edges from the first.
std::vector<std::uint32_t> reached(const LiveFaces& live, std::vector<std::uint32_t> faces, const Plane& plane,
                                   double most) {
    std::unordered_set<std::uint32_t> met(faces.begin(), faces.end());
    for (std::size_t i = 0; i < faces.size(); ++i) {
        const Triangle t = live.face(faces[i]).corners;
        for (std::size_t k = 0; k < 3; ++k)
            live.for_each_along(t[k], t[(k + 1) % 3], [&](std::uint32_t next) {
                if (met.insert(next).second && plane.has(live.corners(next), most)) faces.push_back(next);
            });
    }
    return faces;
}

/// The point as the axis sees it.
Vec3 seen_along(int axis, const Vec3& p) { return {p[(axis + 1) % 3], p[(axis + 2) % 3], 0}; }

/// Across those edges there is something outside of the region.
using EdgePoints = std::map<std::pair<VertexId, VertexId>, std::vector<VertexId>>;

class Flattener {
  public:
    Flattener(LiveFaces& live, const FlatRegion& region, const PlaneGrid& grid, Precision precision)
        : live_(live), region_(region), grid_(grid), precision_(precision) {}

    Result<std::vector<VertexId>> run(Progress& progress) {
        take_apart();
        if (seen_.faces.empty()) return std::vector<VertexId>();
        // Two layers of any shape have fewer points: this is a heap.
        auto overlay = snapped_overlay(seen_, grid_.width, 32 * seen_.faces.size() + 1000, progress);
        if (!overlay) return overlay.error();
        if (!*overlay) return std::vector<VertexId>();
        overlay_ = std::move(**overlay);
        if (std::ranges::all_of(overlay_.covers, [](const auto& cover) { return cover.size() < 2; }))
            return std::vector<VertexId>();
        make_faces();
        find_rim();
        replace();
        std::vector<VertexId> touched;
        for (const auto& [v, moved] : moves_) touched.push_back(VertexId(v));
        return touched;
    }

  private:
    /// A given point as the axis sees it.
    Vec3 seen_of(VertexId v) const {
        const Vec3 seen = seen_along(region_.axis, live_.point(v));
        return grid_.points.contains(v.value()) ? on_grid(seen, grid_.width) : seen;
    }
    /// The point that is seen there, so high.
    Vec3 unseen(const Vec3& seen, double height) const {
        Vec3 out;
        out[region_.axis] = height;
        out[(region_.axis + 1) % 3] = seen.x;
        out[(region_.axis + 2) % 3] = seen.y;
        return precision_ == Precision::single_precision ? in_single_precision(out) : out;
    }

    /// The region as it is seen. What is seen from the side stays outside.
    void take_apart() {
        std::unordered_map<Vec3, VertexId, CoordinateHash> number;
        for (const std::uint32_t f : region_.faces) {
            Triangle t = live_.face(f).corners;
            Vec3 seen[3];
            for (std::size_t k = 0; k < 3; ++k) seen[k] = seen_of(t[k]);
            if (collinear(seen[0], seen[1], seen[2])) continue;
            for (std::size_t k = 0; k < 3; ++k) {
                const auto [at, is_new] = number.try_emplace(seen[k], VertexId(seen_.points.size()));
                if (is_new) {
                    seen_.points.push_back(seen[k]);
                    stands_for_.push_back(t[k]);
                }
                // Of points that are seen as one the lowest stands for all.
                VertexId& one = stands_for_[at->second.value()];
                one = std::min(one, t[k]);
                number_[t[k].value()] = at->second.value();
                t[k] = at->second;
            }
            seen_.faces.push_back(t);
            given_.push_back(f);
        }
        inside_.insert(given_.begin(), given_.end());
        for (std::size_t i = 0; i < stands_for_.size(); ++i) {
            VertexId& v = stands_for_[i];
            const Vec3 there = unseen(seen_.points[VertexId(i)], live_.point(v)[region_.axis]);
            if (!(there == live_.point(v))) v = live_.point_at(there, live_.moved(v) + norm(there - live_.point(v)));
        }
    }

    /// How high a face is along the axis, at a point of it as it is seen.
    double height_on(std::uint32_t face, const Vec3& seen) const {
        const CornerPoints c = live_.corners(face);
        Vec3 q[3];
        double height[3];
        for (std::size_t k = 0; k < 3; ++k) {
            q[k] = seen_along(region_.axis, *c[k]) - seen;
            height[k] = (*c[k])[region_.axis];
        }
        const double w[] = {cross(q[1], q[2]).z, cross(q[2], q[0]).z, cross(q[0], q[1]).z};
        const auto [low, high] = std::minmax({height[0], height[1], height[2]});
        const double mean = (w[0] * height[0] + w[1] * height[1] + w[2] * height[2]) / (w[0] + w[1] + w[2]);
        return std::isfinite(mean) ? std::clamp(mean, low, high) : low;  // so narrow, areas are no numbers
    }

    /// Where a point of the overlay is on the layers: a point that was given, or a new one on that face.
    VertexId lifted(std::uint32_t v, std::uint32_t face) {
        if (v < stands_for_.size()) return stands_for_[v];
        const auto [at, is_new] = lifted_.try_emplace(v, VertexId());
        if (!is_new) return at->second;
        const Vec3 out = unseen(overlay_.points[v], height_on(face, overlay_.points[v]));
        const double bent = 2 * overlay_.rounds * grid_.width + 2 * last_digit(largest_component(out), precision_);
        return at->second = live_.point_at(out, bent);
    }

    /// Takes note of how far a face is from the point that a corner of a part of it came to.
    void note_move(std::uint32_t v, VertexId to, std::uint32_t face) {
        double moved = 0;
        for (const VertexId u : live_.face(face).corners) moved = std::max(moved, live_.moved(u));
        const double gap = std::abs(height_on(face, overlay_.points[v]) - live_.point(to)[region_.axis]);
        double& known = moves_[to.value()];
        known = std::max(known, moved + gap);
    }

    /// What is to lie there in place of the faces that do not stay.
    void make_faces() {
        stays_.assign(given_.size(), 0);
        for (std::size_t p = 0; p < overlay_.parts.size(); ++p) {
            const std::map<int, int>& cover = overlay_.covers[overlay_.cover[p]];
            LiveFaces::Face face;
            face.times = 0;
            for (const auto& [i, times] : cover) face.times += times * live_.face(given(i)).times;
            const int lowest = cover.begin()->first;
            for (std::size_t k = 0; k < 3; ++k) face.corners[k] = lifted(overlay_.parts[p][k], given(lowest));
            if (cover.size() == 1 && same_set(face.corners, live_.face(given(lowest)).corners)) {
                stays_[static_cast<std::size_t>(lowest)] = 1;
                continue;
            }
            for (std::size_t k = 0; k < 3; ++k)
                for (const auto& [i, times] : cover) note_move(overlay_.parts[p][k], face.corners[k], given(i));
            if (face.times == 0) continue;
            const auto& [source, times] = *std::ranges::find_if(cover, [&](const auto& c) {
                return (c.second * live_.face(given(c.first)).times > 0) == (face.times > 0);
            });
            face.source = live_.face(given(source)).source;
            face.source.reversed = face.source.reversed != (times < 0);
            made_.push_back(face);
        }
    }
    std::uint32_t given(int i) const { return given_[static_cast<std::size_t>(i)]; }

    /// Finds the points that came to lie on edges across which there is something else.
    void find_rim() {
        for (std::uint32_t i = 0; i < given_.size(); ++i) {
            if (stays_[i]) continue;
            const Triangle& t = live_.face(given_[i]).corners;
            for (std::size_t k = 0; k < 3; ++k) {
                const auto [a, b] = std::minmax(t[k], t[(k + 1) % 3]);
                std::vector<std::uint32_t> beyond;
                live_.for_each_along(a, b, [&](std::uint32_t g) {
                    if (!inside_.contains(g)) beyond.push_back(g);
                });
                if (beyond.empty()) continue;
                const std::uint32_t from = number_.at(a.value()), to = number_.at(b.value());
                const auto& along = overlay_.along.at(std::minmax(from, to));
                std::vector<VertexId> between;
                for (std::size_t j = 1; j + 1 < along.size(); ++j) between.push_back(lifted(along[j], given_[i]));
                if (between.empty()) continue;
                if (to < from) std::ranges::reverse(between);
                on_rim_.emplace(std::pair(a, b), std::move(between));
                for (const std::uint32_t g : beyond) at_rim_.insert(g);
            }
        }
    }

    void replace() {
        for (const auto& [v, moved] : moves_) live_.point_at(live_.point(VertexId(v)), moved);
        std::vector<LiveFaces::Face> beyond;
        for (const std::uint32_t g : at_rim_) {
            split_at_rim(live_.face(g), 7, beyond);
            live_.remove(g);
        }
        for (std::size_t i = 0; i < given_.size(); ++i)
            if (!stays_[i]) live_.remove(given_[i]);
        for (const auto* list : {&made_, &beyond})
            for (const LiveFaces::Face& face : *list) live_.add(face);
        for (const std::uint32_t f : given_)
            for (const VertexId v : Triangle(live_.face(f).corners)) {
                const VertexId one = stands_for_[number_.at(v.value())];
                if (one != v) live_.move(v, live_.point(one));
            }
    }

    /// Splits a face into fans along those of its edges, by bits, that have points.
    void split_at_rim(LiveFaces::Face face, unsigned edges, std::vector<LiveFaces::Face>& out) {
        for (std::size_t k = 0; k < 3; ++k) {
            if (!(edges & (1u << k))) continue;
            const VertexId a = face.corners[k], b = face.corners[(k + 1) % 3], apex = face.corners[(k + 2) % 3];
            const auto at = on_rim_.find(std::minmax(a, b));
            if (at == on_rim_.end()) continue;
            std::vector<VertexId> along = at->second;
            if (b < a) std::ranges::reverse(along);
            along.insert(along.begin(), a);
            along.push_back(b);
            for (std::size_t i = 0; i + 1 < along.size(); ++i) {
                face.corners = {along[i], along[i + 1], apex};
                // Of its edges, the first lies on the rim, the other two where they are whole ones of the face.
                const unsigned last = i + 2 == along.size() && edges & (1u << (k + 1) % 3) ? 2u : 0u;
                const unsigned first = i == 0 && edges & (1u << (k + 2) % 3) ? 4u : 0u;
                split_at_rim(face, last | first, out);
            }
            return;
        }
        out.push_back(face);
    }

    LiveFaces& live_;
    const FlatRegion& region_;
    const PlaneGrid& grid_;
    Precision precision_;
    std::vector<std::uint32_t> given_;                         // the faces that are laid together
    std::unordered_set<std::uint32_t> inside_;                 // the faces given
    Mesh seen_;                                                // as the axis sees them
    std::unordered_map<std::uint32_t, std::uint32_t> number_;  // of a point in `seen_`
    std::vector<VertexId> stands_for_;                         // per point of `seen_`
    SnappedOverlay overlay_;
    std::unordered_map<std::uint32_t, VertexId> lifted_;
    std::vector<char> stays_;  // per face given
    std::vector<LiveFaces::Face> made_;
    std::map<std::uint32_t, double> moves_;  // per point of what is made: mm, of the layers there
    EdgePoints on_rim_;
    std::set<std::uint32_t> at_rim_;  // faces outside with an edge there
};

}  // namespace

FlatRegion flat_region_at(const LiveFaces& live, std::uint32_t f, std::uint32_t g, double most) {
    auto area = [&](std::uint32_t i) { return norm(area_vector(live.corners(i))); };
    if (area(f) < area(g)) std::swap(f, g);
    FlatRegion out;
    Plane plane = plane_of(live.corners(f));
    // A plane through one small face leads astray: the mean of what was found from there says more.
    while (plane.has(live.corners(f), most) && plane.has(live.corners(g), most)) {
        std::vector<std::uint32_t> faces = reached(live, {f, g}, plane, most);
        if (faces.size() <= out.faces.size()) break;
        out.faces = std::move(faces);
        out.axis = longest_axis(plane.normal);
        plane = mean_plane(live, out.faces, plane.normal);
    }
    return out;
}

Result<std::vector<VertexId>> flatten_layers(LiveFaces& live, const FlatRegion& region, const PlaneGrid& grid,
                                             Precision precision, Progress& progress) {
    return Flattener(live, region, grid, precision).run(progress);
}

}  // namespace anvil
