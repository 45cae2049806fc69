#include "core/combine/live_faces.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <atomic>
#include <map>

#include "core/exact/predicates.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {
namespace {

/// The sign of the order in which b has the corners of a; 0 where they are not the same three.
int same_corners(const Triangle& a, const Triangle& b) {
    for (std::size_t k = 0; k < 3; ++k) {
        if (a[0] != b[k]) continue;
        if (a[1] == b[(k + 1) % 3] && a[2] == b[(k + 2) % 3]) return 1;
        if (a[2] == b[(k + 1) % 3] && a[1] == b[(k + 2) % 3]) return -1;
    }
    return 0;
}

}  // namespace

PointIndex::PointIndex(std::span<const Vec3> points) : slots_(std::bit_ceil(2 * points.size() + 64), 0) {
    // Of equal points, the first.
    for (std::size_t v = 0; v < points.size(); ++v)
        if (auto& slot = slots_[slot_of(points, points[v])]; slot == 0) slot = static_cast<std::uint32_t>(v + 1);
}

std::size_t PointIndex::slot_of(std::span<const Vec3> points, const Vec3& p) const {
    std::size_t i = CoordinateHash()(p) & (slots_.size() - 1);
    while (slots_[i] != 0 && !(points[slots_[i] - 1] == p)) i = (i + 1) & (slots_.size() - 1);
    return i;
}

VertexId PointIndex::find(std::span<const Vec3> points, const Vec3& p) const {
    const std::uint32_t known = slots_[slot_of(points, p)];
    return known == 0 ? VertexId() : VertexId(known - 1);
}

void PointIndex::add_last(std::span<const Vec3> points) {
    if (2 * points.size() > slots_.size()) {
        *this = PointIndex(points);
        return;
    }
    slots_[slot_of(points, points.back())] = static_cast<std::uint32_t>(points.size());
}

LiveFaces::LiveFaces(RoundedFaces rounded)
    : points_(std::move(rounded.points)),
      moved_(points_.size(), rounded.largest_move),
      triangles_(std::move(rounded.faces)),
      source_(std::move(rounded.source)),
      times_(triangles_.size(), 1),
      alive_(triangles_.size(), 1),
      alive_count_(triangles_.size()),
      given_(triangles_.size()),
      largest_move_(rounded.largest_move),
      thickness_(std::move(rounded.thickness)),
      start_(points_.size() + 1, 0),
      last_at_(points_.size(), none) {
    const double reach = reach_of(points_);
    exponent_ = reach > 0 ? std::ilogb(reach) : 0;
    // Room for a few more, so that lists do not double for their sake.
    auto give_room = [](auto&... lists) { (lists.reserve(lists.size() + lists.size() / 8 + 64), ...); };
    give_room(triangles_, source_, times_, alive_, points_, moved_, last_at_);
    auto list_faces = [&] {
        for (const Triangle& t : triangles_)
            for (const VertexId v : t) ++start_[v.value() + 1];
        for (std::size_t v = 0; v + 1 < start_.size(); ++v) start_[v + 1] += start_[v];
        list_.resize(3 * given_);
        std::vector<std::uint32_t> next(start_.begin(), start_.end() - 1);
        for (std::uint32_t f = 0; f < given_; ++f)
            for (const VertexId v : triangles_[f]) list_[next[v.value()]++] = f;
    };
    tbb::parallel_invoke([&] { tree_ = BoxTree(points_, triangles_); }, [&] { number_ = PointIndex(points_); },
                         list_faces);
}

VertexId LiveFaces::point_at(const Vec3& p, double moved) {
    VertexId v = number_.find(points_, p);
    if (!v.valid()) {
        v = VertexId(points_.size());
        points_.push_back(p);
        moved_.push_back(moved);
        last_at_.push_back(none);
        number_.add_last(points_);
    }
    double& known = moved_[v.value()];
    known = std::max(known, moved);
    largest_move_ = std::max(largest_move_, known);
    return v;
}

VertexId LiveFaces::move(VertexId v, const Vec3& to) {
    const VertexId u = point_at(to, moved(v) + norm(to - point(v)));
    if (u == v) return v;
    std::vector<std::uint32_t> here;
    for_each_at(v, [&](std::uint32_t f) { here.push_back(f); });
    for (const std::uint32_t f : here) {
        Face next = face(f);
        std::ranges::replace(next.corners, v, u);
        remove(f);
        add(next);
    }
    return u;
}

void LiveFaces::remove(std::uint32_t f) {
    alive_count_ -= alive_[f] != 0;
    alive_[f] = 0;
}

bool LiveFaces::has(const Triangle& corners) const {
    bool found = false;
    for_each_at(corners[0], [&](std::uint32_t f) { found = found || same_corners(triangles_[f], corners) != 0; });
    return found;
}

void LiveFaces::add(const Face& face) {
    if (repeats_corner(face.corners)) return;
    std::uint32_t twin = 0;
    int sign = 0;
    for_each_at(face.corners[0], [&](std::uint32_t f) {
        if (sign != 0) return;
        sign = same_corners(triangles_[f], face.corners);
        twin = f;
    });
    if (sign != 0) {
        times_[twin] += sign * face.times;
        if (times_[twin] == 0) remove(twin);
        return;
    }
    const auto f = static_cast<std::uint32_t>(size());
    triangles_.push_back(face.corners);
    source_.push_back(face.source);
    times_.push_back(face.times);
    alive_.push_back(1);
    ++alive_count_;
    added_.push_back(f);
    fresh_.push_back(f);
    for (const VertexId v : face.corners) {
        const auto i = static_cast<std::uint32_t>(more_.size());
        std::uint32_t& last = last_at_[v.value()];
        more_.push_back({f, last == none ? i : more_[last].next});
        if (last != none) more_[last].next = i;
        last = i;
    }
}

bool LiveFaces::find_faults(Faults& faults, std::size_t most, Progress& progress) {
    faults = {};
    std::erase_if(added_, [&](std::uint32_t f) { return !alive(f); });
    std::erase_if(fresh_, [&](std::uint32_t f) { return !alive(f); });
    std::sort(fresh_.begin(), fresh_.end());
    fresh_.erase(std::unique(fresh_.begin(), fresh_.end()), fresh_.end());
    std::vector<Triangle> corners_of_added;
    for (const std::uint32_t f : added_) corners_of_added.push_back(triangles_[f]);
    const BoxTree tree_of_added(points_, corners_of_added);
    auto is_flat = [&](std::uint32_t f) {
        const CornerPoints c = corners(f);
        return collinear(*c[0], *c[1], *c[2]);
    };
    struct Found {
        bool flat = false;
        std::vector<std::uint32_t> with;
    };
    std::vector<Found> found(fresh_.size());
    std::atomic<std::size_t> pairs{0};
    tbb::parallel_for(std::size_t{0}, fresh_.size(), [&](std::size_t i) {
        const std::uint32_t f = fresh_[i];
        if (progress.cancelled() || pairs.load(std::memory_order_relaxed) > most) return;
        if ((found[i].flat = is_flat(f))) return;
        const CornerPoints own = corners(f);
        const PlaneFilter plane(*own[0], *own[1], *own[2]);
        const Box box = box_of(own);
        auto test = [&](std::uint32_t g) {
            if (g == f || !alive(g)) return;
            // The tree's boxes are in single precision, too coarse for what lies within its last digit.
            if (!box.meets(box_of(corners(g)))) return;
            if (g < f && std::binary_search(fresh_.begin(), fresh_.end(), g)) return;  // tested from there
            if (!is_flat(g) && triangle_contact(own, corners(g), &plane).beyond_shared()) found[i].with.push_back(g);
        };
        tree_.overlapping(box, test);
        tree_of_added.overlapping(box, [&](std::uint32_t k) { test(added_[k]); });
        pairs.fetch_add(found[i].with.size(), std::memory_order_relaxed);
    });
    if (progress.cancelled()) return false;
    for (std::size_t i = 0; i < fresh_.size(); ++i) {
        if (found[i].flat) faults.flat.push_back(fresh_[i]);
        for (const std::uint32_t g : found[i].with) faults.pairs.emplace_back(std::minmax(fresh_[i], g));
    }
    std::sort(faults.pairs.begin(), faults.pairs.end());
    fresh_.clear();
    return true;
}

LiveFaces::Shell LiveFaces::shell_at(std::uint32_t seed, double thin, std::vector<char>& marks) const {
    constexpr std::size_t most_in_crumb = 2048;
    Shell out{{seed}, ShellThickness(exponent_)};
    marks[seed] = met;
    for (std::size_t i = 0; i < out.faces.size() && out.whole; ++i) {
        const std::uint32_t f = out.faces[i];
        if (f < given_) (was_thicker(f, thin) ? out.any_was_thick : out.any_was_thin) = true;
        // What comes off a thick shell is small.
        out.whole = !out.was_thick() || out.faces.size() <= most_in_crumb;
        const Triangle t = triangles_[f];
        out.thickness.add(corners(f), times_[f]);
        for (std::size_t k = 0; k < 3; ++k) {
            for_each_along(t[k], t[(k + 1) % 3], [&](std::uint32_t g) {
                if (marks[g] == met) return;
                out.whole = out.whole && marks[g] != thick;
                if (marks[g] == unknown) out.faces.push_back(g);
                marks[g] = std::max<char>(marks[g], met);
            });
        }
    }
    return out;
}

LiveFaces::Dropped LiveFaces::drop_thin_shells(double digit, double grid, const std::function<bool(VertexId)>& coarse) {
    Dropped out;
    const double thin = 8 * std::max(digit, grid);
    thick_.resize(size(), unknown);
    const std::vector<std::uint32_t> seeds = fresh_;
    for (const std::uint32_t seed : seeds) {
        if (!alive(seed) || thick_[seed] != unknown) continue;
        const Shell shell = shell_at(seed, thin, thick_);
        const ShellThickness& thickness = shell.thickness;
        auto all_coarse = [&] {
            return std::ranges::all_of(shell.faces,
                                       [&](std::uint32_t f) { return std::ranges::all_of(triangles_[f], coarse); });
        };
        const bool is_thin = shell.whole && (thickness.is_thin(digit) || (thickness.is_thin(grid) && all_coarse())) &&
                             is_closed(shell.faces);
        for (const std::uint32_t f : shell.faces) thick_[f] = is_thin ? unknown : thick;
        if (!is_thin) continue;
        for (const std::uint32_t f : shell.faces) remove(f);
        out.faces.insert(out.faces.end(), shell.faces.begin(), shell.faces.end());
        out.area += thickness.area();
        largest_move_ = std::max(largest_move_, thickness.thickness());
    }
    return out;
}

bool LiveFaces::added_to_thicker_shells(double least) const {
    std::vector<char> marks(size(), unknown);
    for (auto f = static_cast<std::uint32_t>(given_); f < size(); ++f) {
        if (!alive(f) || marks[f] != unknown) continue;
        const Shell shell = shell_at(f, least, marks);
        // A crumb that hung on a large shell was given with the thickness of both, so what is small is measured.
        if (shell.whole && !(shell.was_thick() && shell.thickness.thickness() > least)) return false;
        for (const std::uint32_t g : shell.faces) marks[g] = thick;
    }
    return true;
}

bool LiveFaces::is_closed(std::span<const std::uint32_t> shell) const {
    std::map<std::pair<VertexId, VertexId>, int> balance;
    for (const std::uint32_t f : shell)
        for (std::size_t k = 0; k < 3; ++k) {
            const VertexId a = triangles_[f][k], b = triangles_[f][(k + 1) % 3];
            balance[std::minmax(a, b)] += (a < b ? 1 : -1) * times_[f];
        }
    return std::ranges::all_of(balance, [](const auto& edge) { return edge.second == 0; });
}

RoundedFaces LiveFaces::result() && {
    RoundedFaces out;
    std::size_t kept = 0;
    std::vector<Face> rest;  // what is new, or lies there more than once or the other way round
    std::vector<std::uint32_t> of_rest;
    for (std::uint32_t f = 0; f < size(); ++f) {
        if (!alive(f)) continue;
        if (f >= given_ || times_[f] != 1) {
            rest.push_back(face(f));
            of_rest.push_back(f);
            continue;
        }
        triangles_[kept] = triangles_[f];
        source_[kept] = source_[f];
        if (!thickness_.empty()) thickness_[kept] = thickness_[f];
        ++kept;
        out.origin.push_back(f);
    }
    out.points = std::move(points_);
    out.input.resize(out.points.size());
    out.moved.assign(out.points.size(), 0);
    out.largest_move = largest_move_;
    out.faces = std::move(triangles_);
    out.source = std::move(source_);
    out.faces.resize(kept);
    out.source.resize(kept);
    out.thickness = std::move(thickness_);
    if (!out.thickness.empty()) out.thickness.resize(kept);
    for (std::size_t i = 0; i < rest.size(); ++i) {
        Face& face = rest[i];
        if (face.times < 0) {
            std::swap(face.corners[1], face.corners[2]);
            face.source.reversed = !face.source.reversed;
        }
        for (int k = 0; k < std::abs(face.times); ++k) {
            out.origin.push_back(of_rest[i]);
            out.faces.push_back(face.corners);
            out.source.push_back(face.source);
        }
    }
    if (!out.thickness.empty()) out.thickness.resize(out.faces.size(), 0);
    return out;
}

}  // namespace anvil
