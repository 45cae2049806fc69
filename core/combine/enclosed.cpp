#include "core/combine/enclosed.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <limits>

#include "core/combine/flakes.h"
#include "core/combine/round_edge.h"
#include "core/mesh/disjoint_sets.h"
#include "core/mesh/edge_uses.h"
#include "core/spatial/ray_winding.h"

namespace anvil {
namespace {

/// What a face has in front of it and behind it.
std::uint32_t front_of(std::size_t face) { return static_cast<std::uint32_t>(2 * face); }
std::uint32_t back_of(std::size_t face) { return static_cast<std::uint32_t>(2 * face + 1); }

/// Joins the sides of faces at one edge that look into the same room. False where the edge is not closed, or the faces
/// lie round it in no order that can be told. Precondition: they are not two that run along it each way.
bool join_sides(const RoundedFaces& faces, std::span<const EdgeUse> here, std::vector<FaceAtEdge>& wings,
                DisjointSets& sides) {
    if (here.size() == 2) return false;
    wings.clear();
    int balance = 0;
    for (const EdgeUse& use : here) {
        balance += use.forward ? 1 : -1;
        const Triangle& t = faces.faces[use.face];
        wings.push_back({use.face, use.forward,
                         *std::ranges::find_if(t, [&](VertexId v) { return v != use.low && v != use.high; })});
    }
    if (balance != 0 || !sort_round_edge(faces.points, here.front().low, here.front().high, wings)) return false;
    for (std::size_t k = 0; k < wings.size(); ++k) {
        const FaceAtEdge &wing = wings[k], &next = wings[(k + 1) % wings.size()];
        sides.join(wing.leaves ? front_of(wing.place) : back_of(wing.place),
                   next.leaves ? back_of(next.place) : front_of(next.place));
    }
    return true;
}

/// The rooms that faces part, and how often each is enclosed.
class Rooms {
  public:
    explicit Rooms(const RoundedFaces& faces) : faces_(faces) {}

    /// Whether that can be told of all of them.
    bool find(const Progress& progress) {
        if (!join_all_sides(progress)) return false;
        link_across_walls();
        if (progress.cancelled() || !wind_within_shells()) return false;
        wind_shells(progress);
        return true;
    }

    std::uint32_t shells() const { return static_cast<std::uint32_t>(seed_.size()); }
    /// The faces that hang together across edges.
    std::uint32_t shell(std::size_t face) const { return shell_[in_front(face)]; }
    /// How a face bounds what is enclosed: 1 as it is, -1 turned over, 0 not.
    int turn(std::size_t face) const { return (winding_[behind(face)] > 0) - (winding_[in_front(face)] > 0); }

  private:
    static constexpr std::uint32_t none = std::numeric_limits<std::uint32_t>::max();

    std::uint32_t in_front(std::size_t face) const { return room_[front_of(face)]; }
    std::uint32_t behind(std::size_t face) const { return room_[back_of(face)]; }

    bool join_all_sides(const Progress& progress) {
        DisjointSets sides(2 * faces_.faces.size());
        const HalfEdges edges = find_half_edges(faces_.faces, faces_.points.size());
        edges.for_each_neighbours([&](std::uint32_t f, std::uint32_t g) {
            sides.join(front_of(f), front_of(g));
            sides.join(back_of(f), back_of(g));
        });
        if (progress.cancelled()) return false;
        const std::vector<EdgeUse> irregular = irregular_uses(faces_.faces, edges);
        std::vector<FaceAtEdge> wings;
        bool sound = true;
        for_each_run(std::span(irregular), same_edge, [&](std::span<const EdgeUse> here) {
            sound = sound && !progress.cancelled() && join_sides(faces_, here, wings, sides);
        });
        rooms_ = sides.number(room_);
        return sound;
    }

    /// Notes which rooms are next to each other: from the one in front to the one behind, once each.
    void link_across_walls() {
        std::pair<std::uint32_t, std::uint32_t> last{none, none};
        for (std::size_t f = 0; f < faces_.faces.size(); ++f) {
            const std::pair here(in_front(f), behind(f));
            if (here != last) walls_.push_back(here);
            last = here;
        }
        std::sort(walls_.begin(), walls_.end());
        walls_.erase(std::unique(walls_.begin(), walls_.end()), walls_.end());
    }

    /// Behind a wall is enclosed once more than in front of it. So each shell's rooms are known but for one number.
    bool wind_within_shells() {
        struct Way {
            std::uint32_t from, to;
            int more;
        };
        std::vector<Way> ways;
        for (const auto& [front, back] : walls_) {
            ways.push_back({front, back, 1});
            ways.push_back({back, front, -1});
        }
        std::ranges::sort(ways, {}, [](const Way& w) { return std::pair(w.from, w.to); });
        shell_.assign(rooms_, none);
        winding_.assign(rooms_, 0);
        std::vector<std::uint32_t> rooms;
        std::uint32_t shells = 0;
        for (std::uint32_t first = 0; first < rooms_; ++first) {
            if (shell_[first] != none) continue;
            rooms.assign(1, first);
            shell_[first] = shells;
            for (std::size_t i = 0; i < rooms.size(); ++i) {
                auto way = std::ranges::lower_bound(ways, rooms[i], {}, &Way::from);
                for (; way != ways.end() && way->from == rooms[i]; ++way) {
                    const int times = winding_[rooms[i]] + way->more;
                    if (shell_[way->to] == none) {
                        shell_[way->to] = shells;
                        winding_[way->to] = times;
                        rooms.push_back(way->to);
                    }
                    if (winding_[way->to] != times) return false;
                }
            }
            ++shells;
        }
        seed_.assign(shells, none);
        for (std::uint32_t f = 0; f < faces_.faces.size(); ++f)
            if (seed_[shell(f)] == none) seed_[shell(f)] = f;
        return true;
    }

    /// A ray from one face of each shell says how often that is enclosed. Shells are few, so each face looks for rays:
    /// among those along one axis, sorted across it, few are where a face is.
    void wind_shells(const Progress& progress) {
        struct Place {
            double across;
            std::uint32_t shell;
        };
        const double reach = reach_of(faces_.points);
        std::vector<SideRay> rays;
        std::vector<Box> boxes;
        std::array<std::vector<Place>, 3> along;
        for (std::uint32_t s = 0; s < shells(); ++s) {
            const SideRay& ray = rays.emplace_back(corner_points(faces_.points, faces_.faces[seed_[s]]));
            boxes.push_back(ray.box_up_to(reach));
            const int axis = ray.axis();
            along[static_cast<std::size_t>(axis)].push_back({boxes.back().low[Projection(axis).u], s});
        }
        for (auto& places : along) std::ranges::sort(places, {}, &Place::across);
        std::vector<int> times(rays.size(), 0);
        tbb::parallel_for(std::size_t{0}, faces_.faces.size(), [&](std::size_t f) {
            if (f % 1024 == 0 && progress.cancelled()) return;
            const CornerPoints c = corner_points(faces_.points, faces_.faces[f]);
            const Box box = box_of(c);
            for (int axis = 0; axis < 3; ++axis) {
                const auto& places = along[static_cast<std::size_t>(axis)];
                const int u = Projection(axis).u;
                auto place = std::ranges::lower_bound(places, box.low[u], {}, &Place::across);
                for (; place != places.end() && place->across <= box.high[u]; ++place) {
                    const std::uint32_t s = place->shell;
                    if (!box.meets(boxes[s])) continue;
                    if (const int sign = rays[s].passage(c)) std::atomic_ref<int>(times[s]).fetch_add(sign);
                }
            }
        });
        std::vector<int> more;
        for (std::size_t s = 0; s < rays.size(); ++s)
            more.push_back(times[s] - winding_[rays[s].in_front() ? in_front(seed_[s]) : behind(seed_[s])]);
        for (std::uint32_t room = 0; room < rooms_; ++room) winding_[room] += more[shell_[room]];
    }

    const RoundedFaces& faces_;
    std::uint32_t rooms_ = 0;
    std::vector<std::uint32_t> room_;                             // per side
    std::vector<std::pair<std::uint32_t, std::uint32_t>> walls_;  // rooms that are next to each other
    std::vector<std::uint32_t> shell_;                            // per room
    std::vector<int> winding_;                                    // per room
    std::vector<std::uint32_t> seed_;                             // per shell, one of its faces
};

/// Keeps what is enclosed. False, and all is as it was, where faces do not close, or lie round an edge in no order that
/// can be told, since they lie on each other.
bool keep_by_rooms(RoundedFaces& faces, Precision precision, const Progress& progress) {
    Rooms rooms(faces);
    if (!rooms.find(progress)) return false;
    auto shell = [&](std::size_t f) { return rooms.shell(f); };
    auto turn = [&](std::size_t f) { return rooms.turn(f); };
    const double digit = last_digit(reach_of(faces.points), precision);
    const auto thickness = thickness_of_shells(faces, rooms.shells(), shell, turn, digit, progress);
    if (progress.cancelled()) return false;
    note_thickness(thickness, shell, turn, faces);
    const std::vector<char> thin = thin_shells(thickness, digit, faces);
    std::size_t next = 0;
    for (std::size_t f = 0; f < faces.faces.size(); ++f) {
        const int times = turn(f);
        if (times != 0 && !thin[shell(f)]) faces.take(next++, f, times < 0);
    }
    faces.resize(next);
    return true;
}

/// Its faces that bound what they are wound around, turned over where they have to be. Nothing crosses, so each is
/// there as a whole or not at all.
Result<std::vector<FaceSource>> boundary_of(const Mesh& mesh, Progress& progress) {
    const Mesh* operand = &mesh;
    const auto arrangement = arrange(std::span(&operand, 1), progress, Taken::as_proven);
    if (!arrangement) return arrangement.error();
    const Extraction body = extract(*arrangement, {}, 0, progress).front();
    std::vector<FaceSource> source = taken_apart(*arrangement, body, progress).source;
    if (progress.cancelled()) return cancelled_error();
    return source;
}

}  // namespace

Result<bool> keep_enclosed(RoundedFaces& faces, Precision precision, Progress& progress) {
    if (faces.faces.empty() || keep_by_rooms(faces, precision, progress)) return true;
    if (progress.cancelled()) return cancelled_error();
    const auto sources = boundary_of(as_mesh(faces), progress);
    if (!sources && sources.error().is_cancel()) return sources.error();
    if (!sources) return false;
    RoundedFaces out;
    out.largest_move = faces.largest_move;
    for (const FaceSource& s : *sources) {
        const std::uint32_t f = s.face.value();
        out.faces.push_back(faces.faces[f]);
        if (s.reversed) std::swap(out.faces.back()[1], out.faces.back()[2]);
        out.source.push_back(faces.source[f]);
        out.source.back().reversed = faces.source[f].reversed != s.reversed;
        out.origin.push_back(faces.origin[f]);
    }
    out.points = std::move(faces.points);
    out.input = std::move(faces.input);
    out.moved = std::move(faces.moved);
    faces = std::move(out);
    drop_flakes(faces, precision, progress);
    if (progress.cancelled()) return cancelled_error();
    return true;
}

}  // namespace anvil
