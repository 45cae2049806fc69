#include "core/combine/flat_layers.h"

#include <algorithm>
#include <limits>
#include <map>
#include <set>

#include "core/combine/snapped_overlay.h"
#include "core/exact/predicates.h"

namespace anvil {
namespace {

constexpr int steps_around = 8;
constexpr int across = 2;  // the axis of what is seen

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

/// The faces within that distance of the plane that are reached across edges from the first, in so many steps at most.
std::vector<std::uint32_t> reached(const LiveFaces& live, std::vector<std::uint32_t> faces, const Plane& plane,
                                   double most, int steps) {
    std::unordered_set<std::uint32_t> met(faces.begin(), faces.end());
    std::size_t from = 0;
    for (int step = 0; step < steps && from < faces.size(); ++step)
        for (const std::size_t end = faces.size(); from < end; ++from) {
            const Triangle t = live.face(faces[from]).corners;
            for (std::size_t k = 0; k < 3; ++k)
                live.for_each_along(t[k], t[(k + 1) % 3], [&](std::uint32_t next) {
                    if (met.insert(next).second && plane.has(live.corners(next), most)) faces.push_back(next);
                });
        }
    return faces;
}

/// Whether faces look both ways, more than those do that rounding turned over: they are the sides of a skin.
bool is_skin(const LiveFaces& live, std::span<const std::uint32_t> faces, const Vec3& normal) {
    double along = 0, against = 0;
    for (const std::uint32_t f : faces) {
        const double area = dot(area_vector(live.corners(f)), normal);
        (area > 0 ? along : against) += std::abs(area);
    }
    return 16 * std::min(along, against) > std::max(along, against);
}

/// How far the faces' points are from each other across the plane.
double thickness(const LiveFaces& live, std::span<const std::uint32_t> faces, const Plane& plane) {
    double low = 0, high = 0;
    for (const std::uint32_t f : faces)
        for (const Vec3* p : live.corners(f)) {
            const double height = dot(plane.normal, *p - plane.at);
            low = std::min(low, height);
            high = std::max(high, height);
        }
    return high - low;
}

/// The point as the axis sees it.
Vec3 seen_along(int axis, const Vec3& p) { return {p[(axis + 1) % 3], p[(axis + 2) % 3], 0}; }

/// Per edge across which there is something outside of the region: points within it.
using EdgePoints = std::map<std::pair<VertexId, VertexId>, std::vector<VertexId>>;

class Flattener {
  public:
    Flattener(LiveFaces& live, const FlatRegion& region, const PlaneGrid& grid, Precision precision)
        : live_(live), region_(region), grid_(grid), precision_(precision) {}

    Result<std::vector<VertexId>> run(Progress& progress) {
        take_apart();
        if (given_.empty()) return std::vector<VertexId>();
        // Two layers of any shape have fewer points: this is a heap.
        auto overlay = snapped_overlay(seen_, edges(), grid_.width, 32 * given_.size() + 1000, progress);
        if (!overlay) return overlay.error();
        if (!*overlay) return std::vector<VertexId>();
        overlay_ = std::move(**overlay);
        lift_new_points();
        make_faces();
        if (std::ranges::find(stays_, 0) == stays_.end()) return std::vector<VertexId>();
        find_rim();
        replace();
        return std::vector<VertexId>(touched_.begin(), touched_.end());
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
        std::unordered_map<Vec3, std::uint32_t, CoordinateHash> number;
        for (const std::uint32_t f : region_.faces) {
            const Triangle t = live_.face(f).corners;
            Vec3 seen[3];
            for (std::size_t k = 0; k < 3; ++k) seen[k] = seen_of(t[k]);
            const int turn = orient2d(seen[0], seen[1], seen[2], across);
            if (turn == 0) continue;
            for (std::size_t k = 0; k < 3; ++k) {
                const auto [at, is_new] = number.try_emplace(seen[k], static_cast<std::uint32_t>(seen_.size()));
                if (is_new) {
                    seen_.push_back(seen[k]);
                    stands_for_.push_back(t[k]);
                }
                // Of points that are seen as one the lowest stands for all.
                VertexId& one = stands_for_[at->second];
                one = std::min(one, t[k]);
                number_[t[k].value()] = at->second;
            }
            given_.push_back(f);
            turn_.push_back(turn);
        }
        inside_.insert(given_.begin(), given_.end());
        for (std::size_t i = 0; i < stands_for_.size(); ++i) {
            VertexId& v = stands_for_[i];
            const Vec3 there = unseen(seen_[i], live_.point(v)[region_.axis]);
            if (!(there == live_.point(v))) v = live_.point_at(there, live_.moved(v) + norm(there - live_.point(v)));
        }
    }

    /// How often a given face counts.
    int times(std::size_t i) const { return turn_[i] * live_.face(given_[i]).times; }

    /// The region's edges; those stay across which there is something else.
    std::vector<FlatEdge> edges() const {
        std::vector<FlatFace> faces;
        std::vector<int> counted;
        for (std::size_t i = 0; i < given_.size(); ++i) {
            const Triangle t = live_.face(given_[i]).corners;
            faces.push_back({number_.at(t[0].value()), number_.at(t[1].value()), number_.at(t[2].value())});
            counted.push_back(times(i));
        }
        std::vector<FlatEdge> out = flat_edges(seen_, faces, counted);
        for (std::size_t i = 0; i < given_.size(); ++i) {
            const Triangle t = live_.face(given_[i]).corners;
            for (std::size_t k = 0; k < 3; ++k) {
                const std::size_t next = (k + 1) % 3;
                bool stays = false;
                live_.for_each_along(t[k], t[next], [&](std::uint32_t g) { stays = stays || !inside_.contains(g); });
                if (!stays) continue;
                const auto [low, high] = std::minmax(faces[i][k], faces[i][next]);
                std::ranges::lower_bound(out, std::pair(low, high), {}, [](const FlatEdge& e) {
                    return std::pair(e.low, e.high);
                })->stays = true;
            }
        }
        return out;
    }

    /// Puts the overlay's new points on the rims, of which the first is as good as the others.
    void lift_new_points() {
        lifted_ = stands_for_;
        lifted_.resize(overlay_.points.size());
        for (const auto& [ends, along] : overlay_.along) {
            const Vec3 from = overlay_.points[ends.first], way = overlay_.points[ends.second] - from;
            const double low = live_.point(lifted_[ends.first])[region_.axis],
                         high = live_.point(lifted_[ends.second])[region_.axis];
            for (const std::uint32_t v : along) {
                if (lifted_[v].valid()) continue;
                const double part = std::clamp(dot(overlay_.points[v] - from, way) / dot(way, way), 0.0, 1.0);
                const Vec3 out = unseen(overlay_.points[v], std::lerp(low, high, part));
                const double bent =
                    2 * overlay_.rounds * grid_.width + 2 * last_digit(largest_component(out), precision_);
                lifted_[v] = live_.point_at(out, bent);
            }
        }
    }

    /// What is to lie there in place of the faces that do not stay.
    void make_faces() {
        stays_.assign(given_.size(), 0);
        std::array<std::size_t, 2> any{given_.size(), given_.size()};  // that counts up, and down
        for (std::size_t i = given_.size(); i-- > 0;) any[times(i) > 0 ? 0 : 1] = i;
        for (const SnappedOverlay::Part& part : overlay_.parts) {
            const std::size_t i = part.face >= 0 ? static_cast<std::size_t>(part.face) : any[part.times > 0 ? 0 : 1];
            LiveFaces::Face face = live_.face(given_[i]);
            for (std::size_t k = 0; k < 3; ++k) face.corners[k] = lifted_[part.corners[k]];
            if (part.times == times(i) && same_set(face.corners, live_.face(given_[i]).corners)) {
                stays_[i] = 1;
                continue;
            }
            face.times = part.times;
            face.source.reversed = face.source.reversed != (turn_[i] < 0);
            made_.push_back(face);
        }
        // Nothing is farther from where it was than the layers are from each other.
        double moved = 0;
        for (std::size_t i = 0; i < given_.size(); ++i) {
            if (stays_[i]) continue;
            for (const VertexId v : live_.face(given_[i]).corners) {
                moved = std::max(moved, live_.moved(v));
                touched_.insert(stands_for_[number_.at(v.value())]);
            }
        }
        for (const LiveFaces::Face& face : made_) touched_.insert(face.corners.begin(), face.corners.end());
        for (const VertexId v : touched_) live_.point_at(live_.point(v), moved + region_.thickness);
    }

    /// Finds the points that came to lie on edges across which there is something else.
    void find_rim() {
        for (std::uint32_t i = 0; i < given_.size(); ++i) {
            if (stays_[i]) continue;
            const Triangle t = live_.face(given_[i]).corners;
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
                for (std::size_t j = 1; j + 1 < along.size(); ++j) between.push_back(lifted_[along[j]]);
                if (between.empty()) continue;
                if (to < from) std::ranges::reverse(between);
                on_rim_.emplace(std::pair(a, b), std::move(between));
                for (const std::uint32_t g : beyond) at_rim_.insert(g);
            }
        }
    }

    void replace() {
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
            for (const VertexId v : live_.face(f).corners) {
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
    std::vector<int> turn_;                                    // per face given: 1 or, clockwise, -1
    std::unordered_set<std::uint32_t> inside_;                 // the faces given
    std::vector<Vec3> seen_;                                   // their points, as the axis sees them
    std::unordered_map<std::uint32_t, std::uint32_t> number_;  // of a point in `seen_`
    std::vector<VertexId> stands_for_;                         // per point of `seen_`
    SnappedOverlay overlay_;
    std::vector<VertexId> lifted_;  // per point of the overlay
    std::vector<char> stays_;       // per face given
    std::vector<LiveFaces::Face> made_;
    std::set<VertexId> touched_;  // points of what goes, and of what is made
    EdgePoints on_rim_;
    std::set<std::uint32_t> at_rim_;  // faces outside with an edge there
};

}  // namespace

FlatRegion flat_region_at(const LiveFaces& live, std::uint32_t f, std::uint32_t g, double most, bool whole) {
    constexpr int all = std::numeric_limits<int>::max();
    auto area = [&](std::uint32_t i) { return norm(area_vector(live.corners(i))); };
    if (area(f) < area(g)) std::swap(f, g);
    FlatRegion out;
    Plane plane = plane_of(live.corners(f));
    // A plane through one small face leads astray: the mean of what was found from there says more.
    while (plane.has(live.corners(f), most) && plane.has(live.corners(g), most)) {
        std::vector<std::uint32_t> faces = reached(live, {f, g}, plane, most, whole ? all : steps_around);
        if (!whole && is_skin(live, faces, plane.normal)) return flat_region_at(live, f, g, most, true);
        if (faces.size() <= out.faces.size()) break;
        out.faces = std::move(faces);
        out.axis = longest_axis(plane.normal);
        out.thickness = thickness(live, out.faces, plane);
        plane = mean_plane(live, out.faces, plane.normal);
    }
    return out;
}

Result<std::vector<VertexId>> flatten_layers(LiveFaces& live, const FlatRegion& region, const PlaneGrid& grid,
                                             Precision precision, Progress& progress) {
    return Flattener(live, region, grid, precision).run(progress);
}

}  // namespace anvil
