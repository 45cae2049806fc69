// Pegs and sockets in a cut face. Common practice in printing: a clearance all round, a chamfered tip, and a distance
// from the rim so that the wall round a socket holds.
#include "core/cut/joints.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/number_text.h"
#include "core/mesh/circle.h"
#include "core/mesh/primitives.h"
#include "core/shape/turned.h"
#include "core/spatial/pick.h"

namespace anvil {
namespace {

constexpr int grid = 48;  // places tried along each side of the cut face
constexpr double flare =
    0.2679491924311227;               // of a dovetail: its flanks lean by 15 degrees (common practice: 10 to 15)
constexpr double tip_chamfer = 0.12;  // of the size, at the tip of a peg

double degrees(double v) { return v * std::numbers::pi / 180; }

/// Half the width over all of a socket, seen along the plane's normal.
double reach_of(const Joints& j) {
    const double half = j.size / 2 + j.clearance;
    return j.form == Joints::Form::square ? half * std::numbers::sqrt2 : half;
}

double keeps_off(std::span<const KeepOff> off, const Point2& p) {
    double least = HUGE_VAL;
    for (const KeepOff& line : off) least = std::min(least, std::fabs(p.u * line.a + p.v * line.b - line.c));
    return least;
}

double apart(const Point2& a, const Point2& b) { return std::hypot(a.u - b.u, a.v - b.v); }

/// How deep the body is behind a place of the cut face, all round a socket there.
class Behind {
  public:
    Behind(const Mesh& body, const Transform& frame) : picker_(body), frame_(frame) {
        down_ = apply(frame, {0, 0, -1}) - apply(frame, {});
    }
    double depth(const Point2& p, double radius) const {
        double least = HUGE_VAL;
        for (int k = 0; k <= 8; ++k) {
            const Point2 c = k == 8 ? Point2{0, 0} : on_circle(k, 8);
            const auto hit = picker_.first_hit(apply(frame_, {p.u + radius * c.u, p.v + radius * c.v, 0}), down_);
            least = std::min(least, hit ? hit->distance : 0);
        }
        return least;
    }

  private:
    Picker picker_;
    Transform frame_;
    Vec3 down_;
};

Error does_not_fit(const Joints& j, std::size_t fit, const std::string& what) {
    const std::string wanted = count_text(static_cast<std::size_t>(j.count), what.c_str(), (what + "s").c_str());
    return {ErrorCode::out_of_range,
            wanted + " of " + short_text(j.size) + " mm, " + short_text(j.depth) +
                " mm deep, do not fit into the cut "
                "face " +
                short_text(j.rim) +
                " mm from its rim: " + (fit == 0 ? "none does" : std::to_string(fit) + (fit == 1 ? " does" : " do")) +
                "; take fewer or smaller ones, or less distance",
            ""};
}

/// Places for pegs: all of a grid that are good, then the farthest from those taken, one by one.
Result<std::vector<Point2>> spread(const PlaneSection& section, const Behind& behind, const Joints& j,
                                   std::span<const KeepOff> off, Progress& progress) {
    const double reach = reach_of(j), need = reach + j.rim, deep = j.depth + j.clearance + j.rim;
    struct Place {
        Point2 at;
        double room;
    };
    std::vector<Place> good;
    const Point2 low = section.low(), high = section.high();
    for (int row = 0; row < grid; ++row) {
        if (progress.cancelled()) return cancelled_error();
        for (int column = 0; column < grid; ++column) {
            const Point2 p{low.u + (high.u - low.u) * (column + 0.5) / grid,
                           low.v + (high.v - low.v) * (row + 0.5) / grid};
            if (keeps_off(off, p) < need) continue;
            const double room = section.depth(p);
            if (room < need || behind.depth(p, need) < deep) continue;
            good.push_back({p, std::min(room, keeps_off(off, p))});
        }
    }
    std::vector<Point2> out;
    if (good.empty()) return out;
    // One goes where there is most room; of several the first lies farthest from the middle of all.
    Point2 middle{0, 0};
    for (const Place& g : good)
        middle = {middle.u + g.at.u / double(good.size()), middle.v + g.at.v / double(good.size())};
    const auto first =
        std::ranges::max_element(good, {}, [&](const Place& g) { return j.count == 1 ? g.room : apart(g.at, middle); });
    out.push_back(first->at);
    std::vector<double> nearest(good.size(), HUGE_VAL);
    while (static_cast<int>(out.size()) < j.count) {
        std::size_t best = 0;
        for (std::size_t k = 0; k < good.size(); ++k) {
            nearest[k] = std::min(nearest[k], apart(good[k].at, out.back()));
            if (nearest[k] > nearest[best]) best = k;
        }
        if (nearest[best] < 2 * reach + j.rim) break;
        out.push_back(good[best].at);
    }
    return out;
}

/// Of dovetails, which run all through: only how they lie beside each other.
Result<std::vector<Point2>> side_by_side(const PlaneSection& section, const Behind& behind, const Joints& j) {
    const double c = std::cos(degrees(j.turn)), s = std::sin(degrees(j.turn));
    // Across the direction in which they run.
    double low = HUGE_VAL, high = -HUGE_VAL;
    for (const double u : {section.low().u, section.high().u})
        for (const double v : {section.low().v, section.high().v}) {
            low = std::min(low, u * c + v * s);
            high = std::max(high, u * c + v * s);
        }
    const double wide = j.size + 2 * (j.depth * flare + j.clearance), room = (high - low) / j.count;
    if (room < wide + j.rim || wide + 2 * j.rim > high - low)
        return does_not_fit(
            j, static_cast<std::size_t>(std::max(0.0, std::floor((high - low - j.rim) / (wide + j.rim)))), "dovetail");
    const Point2 middle{(section.low().u + section.high().u) / 2, (section.low().v + section.high().v) / 2};
    const double along = -middle.u * s + middle.v * c;
    std::vector<Point2> out;
    for (int k = 0; k < j.count; ++k) {
        const double across = low + room * (k + 0.5);
        out.push_back({across * c - along * s, across * s + along * c});
        // Where it runs into the body, that has to be deep enough somewhere.
        const double length = std::hypot(section.high().u - section.low().u, section.high().v - section.low().v);
        double deepest = 0;
        for (int i = 0; i <= grid; ++i) {
            const double t = (double(i) / grid - 0.5) * length;
            const Point2 p{out.back().u - t * s, out.back().v + t * c};
            if (section.is_inside(p)) deepest = std::max(deepest, behind.depth(p, 0));
        }
        if (deepest < j.depth + j.clearance + j.rim)
            return Error{ErrorCode::out_of_range,
                         "dovetails of " + short_text(j.depth) + " mm are too deep: the body is " +
                             short_text(deepest) + " mm deep behind the cut face",
                         ""};
    }
    return out;
}

void append(Solid& to, Solid&& more, const Transform& stands, std::uint32_t first_side) {
    append(to.mesh, transformed(std::move(more.mesh), stands));
    for (const std::uint32_t side : more.side) to.side.push_back(first_side + side);
}

/// Standing on z = -depth, its tip below.
Solid peg(const Joints& j, bool socket) {
    const double grow = socket ? j.clearance : 0, r = j.size / 2 + grow, tip = -j.depth - grow;
    const double chamfer = std::min(tip_chamfer * j.size, j.depth / 2);
    const bool round = j.form == Joints::Form::round;
    const int n = round ? faces_around(r, {}) : 4;
    const Point2 profile[] = {{0, tip}, {r - chamfer, tip}, {r, tip + chamfer}, {r, j.depth}, {0, j.depth}};
    constexpr std::uint32_t sides[] = {1, 1, 0, 0, 0};
    Solid out = turned(profile, sides, n);
    // Of four faces it stands on its corners: turned by 45 degrees and grown, its flats are as far out as it was round.
    if (!round)
        for (Vec3& p : out.mesh.points) p = {p.x - p.y, p.x + p.y, p.z};
    return out;
}

/// Along v, through all of the cut face.
Solid rail(const PlaneSection& section, const Joints& j, bool socket) {
    const double grow = socket ? j.clearance : 0;
    const double length = 2 * std::hypot(section.high().u - section.low().u, section.high().v - section.low().v) + 1;
    const double neck = j.size / 2 + grow, foot = neck + j.depth * flare;
    // The flanks of the socket stand off those of the rail by the clearance, square to them nearly so.
    const Point2 outline[] = {{-neck, j.depth},        {-neck, 0}, {-foot, -j.depth - grow},
                              {foot, -j.depth - grow}, {neck, 0},  {neck, j.depth}};
    std::vector<Point2> turned_over;  // the outline lies across: x to x, its height along z
    for (const Point2& p : outline) turned_over.push_back({p.u, p.v});
    Solid out{make_prism(turned_over, -length / 2, length / 2), {}};
    for (Vec3& p : out.mesh.points) p = {p.x, -p.z, p.y};
    out.side.resize(out.mesh.faces.size(), 0);
    for (FaceId f : ids<FaceId>(out.mesh.faces.size())) {
        double top = -HUGE_VAL;
        for (int k = 0; k < 3; ++k) top = std::max(top, out.mesh.corner(f, k).z);
        if (top < -j.depth / 2) out.side[f] = 1;
    }
    return out;
}

}  // namespace

Result<std::vector<Point2>> joint_places(const Mesh& body, const PlaneSection& section, const Transform& frame,
                                         const Joints& j, std::span<const Point2> by_hand, std::span<const KeepOff> off,
                                         Progress& progress) {
    if (section.empty()) return std::vector<Point2>();
    const Behind behind(body, frame);
    if (j.form == Joints::Form::dovetail) return side_by_side(section, behind, j);
    if (by_hand.empty()) {
        auto out = spread(section, behind, j, off, progress);
        if (!out) return out.error();
        if (static_cast<int>(out->size()) < j.count) return does_not_fit(j, out->size(), "joint");
        return out;
    }
    const double reach = reach_of(j);
    for (std::size_t k = 0; k < by_hand.size(); ++k) {
        const std::string which = "joint " + std::to_string(k + 1) + " ";
        const double room = std::min(section.depth(by_hand[k]), keeps_off(off, by_hand[k]));
        if (room < reach + j.rim)
            return Error{
                ErrorCode::out_of_range,
                which + (room < 0 ? "is not in the cut face"
                                  : "is too near to the rim of the cut face: its middle is " + short_text(room) +
                                        " mm from it, and needs " + short_text(reach + j.rim) + " mm"),
                ""};
        if (const double deep = behind.depth(by_hand[k], reach); deep < j.depth + j.clearance)
            return Error{ErrorCode::out_of_range,
                         which + "is too long: the body is " + short_text(deep) + " mm deep behind it", ""};
        for (std::size_t other = 0; other < k; ++other)
            if (apart(by_hand[k], by_hand[other]) < 2 * reach)
                return Error{ErrorCode::out_of_range,
                             which + "runs into joint " + std::to_string(other + 1) + ": move it, or make them smaller",
                             ""};
    }
    return std::vector<Point2>(by_hand.begin(), by_hand.end());
}

Solid joint_bodies(std::span<const Point2> places, const PlaneSection& section, const Transform& frame,
                   const Joints& joints, bool sockets, std::uint32_t first_side) {
    Solid out;
    for (std::size_t k = 0; k < places.size(); ++k) {
        const Transform at =
            frame * translation({places[k].u, places[k].v, 0}) * rotation(degrees(joints.turn), {0, 0, 1});
        Solid one = joints.form == Joints::Form::dovetail ? rail(section, joints, sockets) : peg(joints, sockets);
        append(out, std::move(one), at, first_side + 2 * static_cast<std::uint32_t>(k));
    }
    return out;
}

}  // namespace anvil
