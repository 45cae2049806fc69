// Screw threads: the basic profile of ISO 68-1 wound round an axis.
#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <numbers>
#include <vector>

#include "core/base/number_text.h"
#include "core/mesh/circle.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

constexpr double root3 = std::numbers::sqrt3;

/// One pitch of the surface, from the middle of a crest to the next: crest, flank, root, flank.
struct Profile {
    double pitch;
    double crest, root;            ///< radii
    double crest_half, root_half;  ///< half of how wide the flats are
};

/// The basic profile, all of it moved by `by` along its normals: out for a nut, in for a bolt.
Profile profile_of(double diameter, double pitch, double by) {
    const ThreadDiameters basic = basic_diameters(diameter, pitch);
    Profile p{pitch, basic.major / 2 + by, basic.minor / 2 + by, pitch / 16 + by / root3, pitch / 8 - by / root3};
    // Where a flat is used up the flanks meet before it.
    if (p.crest_half < 0) p.crest += p.crest_half * root3, p.crest_half = 0;
    if (p.root_half < 0) p.root -= p.root_half * root3, p.root_half = 0;
    return p;
}

/// A point of the surface in one half-plane through the axis. Breaks of the profile have a number, the same all along
/// their helix.
struct At {
    double z, r;
    int helix = none;
    static constexpr int none = std::numeric_limits<int>::min();
};
using Column = std::vector<At>;

class ThreadSurface {
  public:
    ThreadSurface(const Profile& profile, double length, bool chamfered, bool flares)
        : p_(profile), length_(length), chamfered_(chamfered), flares_(flares) {}

    /// From z = 0 to the length, where the thread has risen by `rise`.
    Column column(double rise) const {
        Column all;  // breaks, one beyond each end
        const int first = static_cast<int>(std::floor(-rise / p_.pitch)) - 1;
        for (int turn = first; all.empty() || all.back().z <= length_; ++turn) {
            const double z = rise + turn * p_.pitch;
            const At breaks[] = {{z - p_.crest_half, p_.crest, 4 * turn},
                                 {z + p_.crest_half, p_.crest, 4 * turn + 1},
                                 {z + p_.pitch / 2 - p_.root_half, p_.root, 4 * turn + 2},
                                 {z + p_.pitch / 2 + p_.root_half, p_.root, 4 * turn + 3}};
            for (const At& b : breaks)
                if (all.empty() || b.z > all.back().z) all.push_back(b);
        }
        Column out;
        for (std::size_t k = 0; k + 1 < all.size(); ++k) add_stretch(all[k], all[k + 1], out);
        return out;
    }

  private:
    double near() const { return p_.pitch * 1e-6; }
    double depth() const { return p_.crest - p_.root; }
    /// How far out the chamfer leaves the surface there, or has it at least.
    double chamfer(double z) const {
        const double in = std::min(z, length_ - z);
        return flares_ ? p_.crest - in : p_.root + in;
    }
    double radius(double z, double profile) const {
        if (!chamfered_ || std::min(z, length_ - z) >= depth()) return profile;
        return flares_ ? std::max(profile, chamfer(z)) : std::min(profile, chamfer(z));
    }
    void add(double z, double profile, int helix, Column& out) const {
        if (!out.empty() && z - out.back().z < near()) return;
        out.push_back({z, radius(z, profile), helix});
    }
    /// A straight stretch of the profile, without its far end: its ends, where the solid ends, and where a chamfer
    /// begins, ends, or crosses it.
    void add_stretch(const At& a, const At& b, Column& out) const {
        if (b.z < 0 || a.z > length_) return;
        auto at = [&](double z) { return a.r + (b.r - a.r) * (z - a.z) / (b.z - a.z); };
        std::vector<double> stops;
        for (const double z : {0.0, length_})
            if (z >= a.z && z < b.z) stops.push_back(z);
        if (chamfered_)
            for (const bool upper : {false, true}) {
                const double end = upper ? length_ - depth() : depth();
                if (end > a.z && end < b.z) stops.push_back(end);
                // The profile runs as s z + c, the chamfer as t z + d.
                const double s = (b.r - a.r) / (b.z - a.z), c = a.r - s * a.z;
                const double t = upper == flares_ ? 1 : -1;
                const double d = (flares_ ? p_.crest : p_.root) - t * (upper ? length_ : 0);
                const double z = s == t ? -1 : (d - c) / (s - t);
                const bool within = upper ? z > length_ - depth() && z < length_ : z > 0 && z < depth();
                if (within && z > a.z && z < b.z) stops.push_back(z);
            }
        std::ranges::sort(stops);
        if (a.z >= 0 && a.z <= length_) add(a.z, a.r, a.helix, out);
        for (const double z : stops) {
            if (z == 0) out.clear();
            if (z == length_)
                while (!out.empty() && z - out.back().z < near()) out.pop_back();
            add(z, at(z), At::none, out);
        }
    }

    Profile p_;
    double length_;
    bool chamfered_, flares_;  // of a nut, the chamfer widens the mouth
};

/// Faces between two columns: breaks of one helix are joined, all else by height.
class Zipper {
  public:
    Zipper(Solid& out, const Column& a, std::uint32_t first_a, const Column& b, std::uint32_t first_b, int shift)
        : out_(out), a_(a), b_(b), first_a_(first_a), first_b_(first_b), shift_(shift) {
        for (std::size_t k = 0; k < a.size(); ++k)
            if (a[k].helix != At::none) in_a_[a[k].helix] = k;
        for (std::size_t k = 0; k < b.size(); ++k)
            if (b[k].helix != At::none) in_b_[b[k].helix + shift] = k;
    }
    void run() {
        while (i_ + 1 < a_.size() || j_ + 1 < b_.size()) {
            const bool more_a = i_ + 1 < a_.size(), more_b = j_ + 1 < b_.size();
            if (!more_b || (more_a && a_first()))
                face(point_a(i_), point_b(j_), point_a(i_ + 1)), ++i_;
            else
                face(point_a(i_), point_b(j_), point_b(j_ + 1)), ++j_;
        }
    }

  private:
    VertexId point_a(std::size_t k) const { return VertexId(first_a_ + static_cast<std::uint32_t>(k)); }
    VertexId point_b(std::size_t k) const { return VertexId(first_b_ + static_cast<std::uint32_t>(k)); }
    void face(VertexId a, VertexId b, VertexId c) {
        out_.mesh.faces.push_back({a, b, c});
        out_.side.push_back(1);
    }
    /// Whether the next point of the first column comes before that of the other.
    bool a_first() const {
        const At &a = a_[i_ + 1], &b = b_[j_ + 1];
        const auto match_a = a.helix == At::none ? in_b_.end() : in_b_.find(a.helix);
        const auto match_b = b.helix == At::none ? in_a_.end() : in_a_.find(b.helix + shift_);
        if (match_a != in_b_.end()) {
            if (match_a->second == j_) return true;
            if (match_a->second > j_) return false;
        }
        if (match_b != in_a_.end() && match_b->second >= i_) return match_b->second > i_;
        return a.z < b.z;
    }

    Solid& out_;
    const Column &a_, &b_;
    std::uint32_t first_a_, first_b_;
    int shift_;
    std::map<int, std::size_t> in_a_, in_b_;
    std::size_t i_ = 0, j_ = 0;
};

/// The threaded surface, looking out; then what closes it: flat ends, or a sleeve round it.
class ThreadBuilder {
  public:
    ThreadBuilder(const ThreadSurface& surface, double pitch, double length, int n) : length_(length), n_(n) {
        for (int k = 0; k < n; ++k) {
            columns_.push_back(surface.column(pitch * k / n));
            first_.push_back(static_cast<std::uint32_t>(out_.mesh.points.size()));
            const Point2 c = on_circle(k, n);
            for (const At& p : columns_.back()) out_.mesh.points.push_back({p.r * c.u, p.r * c.v, p.z});
        }
        for (int k = 0; k < n; ++k) {
            const auto a = static_cast<std::size_t>(k), b = static_cast<std::size_t>((k + 1) % n);
            // A turn on, each helix is one pitch higher.
            Zipper(out_, columns_[a], first_[a], columns_[b], first_[b], b == 0 ? -4 : 0).run();
        }
    }

    Solid rod() {
        const VertexId low = out_.mesh.points.push_back({0, 0, 0}), high = out_.mesh.points.push_back({0, 0, length_});
        for (int k = 0; k < n_; ++k) {
            add(low, bottom(k + 1), bottom(k), 0);
            add(high, top(k), top(k + 1), 2);
        }
        return std::move(out_);
    }

    Solid sleeve(double radius) {
        turn_over(out_.mesh);
        std::vector<VertexId> low, high;
        for (int k = 0; k < n_; ++k) {
            const Point2 c = on_circle(k, n_);
            low.push_back(out_.mesh.points.push_back({radius * c.u, radius * c.v, 0}));
            high.push_back(out_.mesh.points.push_back({radius * c.u, radius * c.v, length_}));
        }
        for (int k = 0; k < n_; ++k) {
            const auto a = static_cast<std::size_t>(k), b = static_cast<std::size_t>((k + 1) % n_);
            add_quad(low[a], bottom(k), bottom(k + 1), low[b], 0);
            add_quad(low[a], low[b], high[b], high[a], 3);
            add_quad(high[a], high[b], top(k + 1), top(k), 2);
        }
        return std::move(out_);
    }

  private:
    VertexId bottom(int k) const { return VertexId(first_[static_cast<std::size_t>(k % n_)]); }
    VertexId top(int k) const {
        const auto at = static_cast<std::size_t>(k % n_);
        return VertexId(first_[at] + static_cast<std::uint32_t>(columns_[at].size()) - 1);
    }
    void add(VertexId a, VertexId b, VertexId c, std::uint32_t side) {
        out_.mesh.faces.push_back({a, b, c});
        out_.side.push_back(side);
    }
    void add_quad(VertexId a, VertexId b, VertexId c, VertexId d, std::uint32_t side) {
        add(a, b, c, side);
        add(a, c, d, side);
    }

    Solid out_;
    double length_;
    int n_;
    std::vector<Column> columns_;
    std::vector<std::uint32_t> first_;
};

}  // namespace

ThreadDiameters basic_diameters(double diameter, double pitch) {
    const double height = root3 / 2 * pitch;  // of the sharp triangle
    return {diameter, diameter - 2 * 3.0 / 8 * height, diameter - 2 * 5.0 / 8 * height};
}

Result<Solid> thread_shape(const ThreadMeasures& m) {
    auto refuse = [](std::string text) { return Error{ErrorCode::out_of_range, std::move(text), ""}; };
    const Profile profile = profile_of(m.diameter, m.pitch, m.internal ? m.clearance : -m.clearance);
    if (profile.root <= 0.05 * m.diameter)
        return refuse("a pitch of " + short_text(m.pitch) + " mm leaves no core in a thread of " +
                      short_text(m.diameter) + " mm: make the pitch smaller");
    if (profile.crest - profile.root < 0.1 * m.pitch)
        return refuse("the clearance takes the whole thread away: make it smaller than " + short_text(m.pitch / 2) +
                      " mm");
    if (m.chamfered && m.length <= 2 * (profile.crest - profile.root))
        return refuse("a thread of that length has no room for its chamfers: make it longer than " +
                      short_text(2 * (profile.crest - profile.root)) + " mm, or leave them out");
    const bool sleeve = m.internal != m.cutter;
    if (sleeve && m.around / 2 <= profile.crest)
        return refuse("the sleeve has to be wider than the thread: more than " + short_text(2 * profile.crest) + " mm");
    const int n = std::max(8, faces_around(profile.crest, m.facets));
    if (auto fit = check_face_count(8.0 * n * (m.length / m.pitch + 2)); !fit) return fit.error();
    ThreadBuilder builder(ThreadSurface(profile, m.length, m.chamfered, m.internal), m.pitch, m.length, n);
    Solid out = sleeve ? builder.sleeve(m.around / 2) : builder.rod();
    if (m.left) {
        for (Vec3& p : out.mesh.points) p.x = -p.x;
        turn_over(out.mesh);
    }
    return out;
}

}  // namespace anvil
