#pragma once

#include <functional>
#include <optional>

#include "core/combine/faults.h"
#include "core/combine/flakes.h"
#include "core/mesh/weld.h"
#include "core/spatial/box_tree.h"

namespace anvil {

/// Whether a face has those corners, in whichever order, and none twice.
inline bool same_set(const Triangle& a, const Triangle& b) {
    return !repeats_corner(a) && std::ranges::all_of(a, [&](VertexId v) { return std::ranges::find(b, v) != b.end(); });
}

/// Points found by their coordinates.
class PointIndex {
  public:
    PointIndex() = default;
    explicit PointIndex(std::span<const Vec3> points);
    /// The point at those coordinates; not valid where there is none.
    VertexId find(std::span<const Vec3> points, const Vec3& p) const;
    /// Adds the last point. Precondition: there is none with its coordinates.
    void add_last(std::span<const Vec3> points);

  private:
    std::size_t slot_of(std::span<const Vec3> points, const Vec3& p) const;

    std::vector<std::uint32_t> slots_;  // the number of a point, plus 1, or 0
};

/// A rounded surface whose faces can be replaced a few at a time, and which finds what is faulty about those that are
/// new without looking at all others again. What it holds is a chain: faces that come to lie on each other with the
/// same corners are added up, and cancel where they run opposite ways; so what was closed stays closed.
///
/// Faces and points are numbered on and never change their numbers; a face that is replaced is no longer `alive`.
class LiveFaces {
  public:
    struct Face {
        Triangle corners;
        FaceSource source;
        int times = 1;  ///< how many faces lie here, not 0
    };

    explicit LiveFaces(RoundedFaces rounded);

    std::size_t size() const { return triangles_.size(); }
    std::size_t alive_count() const { return alive_count_; }
    bool alive(std::uint32_t f) const { return alive_[f] != 0; }
    Face face(std::uint32_t f) const { return {triangles_[f], source_[f], times_[f]}; }
    std::size_t point_count() const { return points_.size(); }
    const Vec3& point(VertexId v) const { return points_[v.value()]; }
    CornerPoints corners(std::uint32_t f) const { return corner_points(points_, triangles_[f]); }
    /// mm, of any point.
    double largest_move() const { return largest_move_; }
    /// Calls visit(f) for every face at a point that is alive.
    template <class Visit>
    void for_each_at(VertexId v, const Visit& visit) const {
        if (v.value() + 1 < start_.size())
            for (std::uint32_t i = start_[v.value()]; i < start_[v.value() + 1]; ++i)
                if (alive_[list_[i]]) visit(list_[i]);
        const std::uint32_t last = last_at_[v.value()];
        if (last == none) return;
        std::uint32_t i = last;
        do {
            i = more_[i].next;
            if (alive_[more_[i].face]) visit(more_[i].face);
        } while (i != last);
    }

    /// The same for every face with an edge from a to b, or from b to a.
    template <class Visit>
    void for_each_along(VertexId a, VertexId b, const Visit& visit) const {
        for_each_at(a, [&](std::uint32_t f) {
            if (std::ranges::find(triangles_[f], b) != triangles_[f].end()) visit(f);
        });
    }

    /// The point there, made where there is none. `moved`: how far it is from where it should be, mm.
    VertexId point_at(const Vec3& p, double moved);
    double moved(VertexId v) const { return moved_[v.value()]; }
    /// Puts a point elsewhere, onto the point that is there if there is one: that one stands for both then, and is
    /// returned.
    VertexId move(VertexId v, const Vec3& to);
    void remove(std::uint32_t f);
    /// Whether a face lies there, one way round or the other.
    bool has(const Triangle& corners) const;
    /// Takes a removal back. Precondition: what was added in its place was removed.
    void restore(std::uint32_t f) {
        alive_count_ += !alive_[f];
        alive_[f] = 1;
    }
    /// Faces that repeat a corner are none.
    void add(const Face& face);

    /// Has a face looked at as if it were new, if it is alive.
    void look_again(std::uint32_t f) { fresh_.push_back(f); }
    /// Looks at the faces that were added since the last time, against all: false where it was stopped. Of more pairs
    /// than `most` no more are looked for: then only that there are more is sure.
    bool find_faults(Faults& faults, std::size_t most, Progress& progress);
    /// Of the closed shells with a face that was added since faults were last looked for, those go that are no thicker
    /// than a few times `digit` mm, or all of whose points are `coarse` and which are no thicker than a few times
    /// `grid` mm (see ShellThickness).
    struct Dropped {
        std::vector<std::uint32_t> faces;
        double area = 0;  ///< mm2
    };
    Dropped drop_thin_shells(double digit, double grid, const std::function<bool(VertexId)>& coarse);
    /// Whether all faces that were added lie in shells that were given thicker than that, mm, and are.
    bool added_to_thicker_shells(double least) const;

    /// What is alive, each face as often as it lies there. It is used up.
    RoundedFaces result() &&;

  private:
    static constexpr std::uint32_t none = 0xffffffffu;
    bool is_closed(std::span<const std::uint32_t> shell) const;
    /// A face and those that hang together with it across edges, as far as that matters: not on to shells that are
    /// marked as thick, nor far over one that was given thick.
    struct Shell {
        std::vector<std::uint32_t> faces;
        ShellThickness thickness;
        bool whole = true;
        bool any_was_thick = false, any_was_thin = false;  ///< among the given faces
        bool was_thick() const { return any_was_thick && !any_was_thin; }
    };
    enum Mark : char { unknown, met, thick };
    /// `thin`: mm, how thick a shell was at most that was not thick. `marks`: per face; those of the shell become met.
    Shell shell_at(std::uint32_t seed, double thin, std::vector<char>& marks) const;
    /// Whether a face was given with a shell thicker than that, mm.
    bool was_thicker(std::uint32_t f, double least) const {
        return f < given_ && !thickness_.empty() && double{thickness_[f]} > least;
    }

    std::vector<Vec3> points_;
    std::vector<double> moved_;  // per point
    PointIndex number_;
    std::vector<Triangle> triangles_;          // per face
    std::vector<FaceSource> source_;           // per face
    std::vector<int> times_;                   // per face
    std::vector<char> alive_;                  // per face
    std::size_t alive_count_ = 0, given_ = 0;  // faces from `given_` on are not in the tree
    double largest_move_ = 0;                  // mm
    std::vector<float> thickness_;             // per face that was given, if it is known, as RoundedFaces has it
    int exponent_ = 0;  // of the largest coordinate: volumes are worked out near 1, where they stay in range
    std::vector<std::uint32_t> start_, list_;  // per given point: its faces among those that were given
    struct Added {
        std::uint32_t face, next;
    };
    std::vector<Added> more_;                   // faces that were added, at each of their points, in rings
    std::vector<std::uint32_t> last_at_;        // per point: its last one
    std::vector<std::uint32_t> added_, fresh_;  // alive or not: since the beginning, and since faults were looked for
    std::vector<char> thick_;                   // per face, a mark: thick where it is known that its shell is not thin
    BoxTree tree_;                              // over the faces that were given
};

}  // namespace anvil
