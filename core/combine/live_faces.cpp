#include "core/combine/live_faces.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>

#include "core/combine/flakes.h"
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

Box box_of(const CornerPoints& corners) {
    Box box;
    for (const Vec3* p : corners) box.add(*p);
    return box;
}

}  // namespace

LiveFaces::LiveFaces(const RoundedFaces& rounded, double moved)
    : points_(rounded.points),
      moved_(rounded.points.size(), moved),
      alive_(rounded.faces.size(), 1),
      alive_count_(rounded.faces.size()),
      given_(rounded.faces.size()),
      largest_move_(moved),
      thinnest_(rounded.thinnest),
      start_(rounded.points.size() + 1, 0),
      more_at_(rounded.points.size()),
      tree_(rounded.points, rounded.faces) {
    const double reach = reach_of(points_);
    exponent_ = reach > 0 ? std::ilogb(reach) : 0;
    number_.reserve(points_.size());
    for (std::size_t v = 0; v < points_.size(); ++v) number_.try_emplace(points_[v], VertexId(v));
    faces_.reserve(given_);
    for (std::size_t f = 0; f < given_; ++f) {
        faces_.push_back({rounded.faces[f], rounded.source[f], 1});
        for (const VertexId v : rounded.faces[f]) ++start_[v.value() + 1];
    }
    for (std::size_t v = 0; v + 1 < start_.size(); ++v) start_[v + 1] += start_[v];
    list_.resize(3 * given_);
    std::vector<std::uint32_t> next(start_.begin(), start_.end() - 1);
    for (std::uint32_t f = 0; f < given_; ++f)
        for (const VertexId v : rounded.faces[f]) list_[next[v.value()]++] = f;
}

VertexId LiveFaces::point_at(const Vec3& p, double moved) {
    const auto [at, is_new] = number_.try_emplace(p, VertexId(points_.size()));
    if (is_new) {
        points_.push_back(p);
        moved_.push_back(moved);
        start_.push_back(start_.back());
        more_at_.emplace_back();
    }
    double& known = moved_[at->second.value()];
    known = std::max(known, moved);
    largest_move_ = std::max(largest_move_, known);
    return at->second;
}

VertexId LiveFaces::move(VertexId v, const Vec3& to) {
    const VertexId u = point_at(to, moved(v) + norm(to - point(v)));
    if (u == v) return v;
    std::vector<std::uint32_t> here;
    for_each_at(v, [&](std::uint32_t f) { here.push_back(f); });
    for (const std::uint32_t f : here) {
        Face next = faces_[f];
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
    for_each_at(corners[0], [&](std::uint32_t f) { found = found || same_corners(faces_[f].corners, corners) != 0; });
    return found;
}

void LiveFaces::add(Face face) {
    if (repeats_corner(face.corners)) return;
    std::uint32_t twin = 0;
    int sign = 0;
    for_each_at(face.corners[0], [&](std::uint32_t f) {
        if (sign != 0) return;
        sign = same_corners(faces_[f].corners, face.corners);
        twin = f;
    });
    if (sign != 0) {
        faces_[twin].times += sign * face.times;
        if (faces_[twin].times == 0) remove(twin);
        return;
    }
    const auto f = static_cast<std::uint32_t>(faces_.size());
    faces_.push_back(face);
    alive_.push_back(1);
    ++alive_count_;
    added_.push_back(f);
    fresh_.push_back(f);
    for (const VertexId v : face.corners) more_at_[v.value()].push_back(f);
}

bool LiveFaces::find_faults(Faults& faults, Progress& progress) {
    faults = {};
    std::erase_if(added_, [&](std::uint32_t f) { return !alive(f); });
    std::erase_if(fresh_, [&](std::uint32_t f) { return !alive(f); });
    std::sort(fresh_.begin(), fresh_.end());
    fresh_.erase(std::unique(fresh_.begin(), fresh_.end()), fresh_.end());
    std::vector<Triangle> corners_of_added;
    for (const std::uint32_t f : added_) corners_of_added.push_back(faces_[f].corners);
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
    tbb::parallel_for(std::size_t{0}, fresh_.size(), [&](std::size_t i) {
        const std::uint32_t f = fresh_[i];
        if (progress.cancelled()) return;
        if ((found[i].flat = is_flat(f))) return;
        const CornerPoints own = corners(f);
        const Box box = box_of(own);
        auto test = [&](std::uint32_t g) {
            if (g == f || !alive(g)) return;
            // The tree's boxes are in single precision, too coarse for what lies within its last digit.
            if (!box.meets(box_of(corners(g)))) return;
            if (g < f && std::binary_search(fresh_.begin(), fresh_.end(), g)) return;  // tested from there
            if (!is_flat(g) && triangle_contact(own, corners(g)).beyond_shared()) found[i].with.push_back(g);
        };
        tree_.overlapping(box, test);
        tree_of_added.overlapping(box, [&](std::uint32_t k) { test(added_[k]); });
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

LiveFaces::Dropped LiveFaces::drop_thin_shells(double digit, double grid, const std::function<bool(VertexId)>& coarse) {
    Dropped out;
    enum : char { unknown, met, thick };
    constexpr std::size_t most_in_crumb = 2048;
    const bool all_were_thick = thinnest_ > 8 * std::max(digit, grid);
    thick_.resize(faces_.size(), unknown);
    const std::vector<std::uint32_t> seeds = fresh_;
    for (const std::uint32_t seed : seeds) {
        if (!alive(seed) || thick_[seed] != unknown) continue;
        std::vector<std::uint32_t> shell{seed};
        bool whole = true;
        thick_[seed] = met;
        ShellThickness thickness(exponent_);
        for (std::size_t i = 0; i < shell.size() && whole; ++i) {
            whole = !all_were_thick || shell.size() <= most_in_crumb;  // what came off such a shell is small
            const Triangle t = faces_[shell[i]].corners;
            thickness.add(corners(shell[i]), faces_[shell[i]].times);
            for (std::size_t k = 0; k < 3; ++k) {
                for_each_along(t[k], t[(k + 1) % 3], [&](std::uint32_t g) {
                    if (thick_[g] == met) return;
                    whole = whole && thick_[g] != thick;
                    if (thick_[g] == unknown) shell.push_back(g);
                    thick_[g] = std::max<char>(thick_[g], met);
                });
            }
        }
        auto all_coarse = [&] {
            return std::ranges::all_of(shell,
                                       [&](std::uint32_t f) { return std::ranges::all_of(faces_[f].corners, coarse); });
        };
        const bool is_thin =
            whole && (thickness.is_thin(digit) || (thickness.is_thin(grid) && all_coarse())) && is_closed(shell);
        for (const std::uint32_t f : shell) thick_[f] = is_thin ? unknown : thick;
        if (!is_thin) continue;
        for (const std::uint32_t f : shell) remove(f);
        out.faces.insert(out.faces.end(), shell.begin(), shell.end());
        out.area += thickness.area();
        largest_move_ = std::max(largest_move_, thickness.thickness());
    }
    return out;
}

bool LiveFaces::is_closed(std::span<const std::uint32_t> shell) const {
    std::map<std::pair<VertexId, VertexId>, int> balance;
    for (const std::uint32_t f : shell)
        for (std::size_t k = 0; k < 3; ++k) {
            const VertexId a = faces_[f].corners[k], b = faces_[f].corners[(k + 1) % 3];
            balance[std::minmax(a, b)] += (a < b ? 1 : -1) * faces_[f].times;
        }
    return std::ranges::all_of(balance, [](const auto& edge) { return edge.second == 0; });
}

RoundedFaces LiveFaces::result() const {
    RoundedFaces out;
    out.points = points_;
    out.input.resize(points_.size());
    out.moved.assign(points_.size(), 0);
    out.largest_move = largest_move_;
    for (std::uint32_t f = 0; f < faces_.size(); ++f) {
        if (!alive(f)) continue;
        Face face = faces_[f];
        if (face.times < 0) {
            std::swap(face.corners[1], face.corners[2]);
            face.source.reversed = !face.source.reversed;
        }
        for (int k = 0; k < std::abs(face.times); ++k) {
            out.origin.push_back(f);
            out.faces.push_back(face.corners);
            out.source.push_back(face.source);
        }
    }
    return out;
}

}  // namespace anvil
