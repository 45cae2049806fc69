#pragma once

#include <functional>
#include <span>
#include <vector>

#include "core/arrange/few.h"
#include "core/base/progress.h"
#include "core/exact/implicit_point.h"

namespace anvil {

/// A triangulation of points of one plane in which given segments are edges; all decisions exact. Starts from one
/// triangle that holds everything to come. Points are numbered as they are added, the first three being the corners
/// of the first triangle.
///
///        v[0]
///        /  \          n[i]: the triangle across the edge opposite v[i], -1 outside
///   e2  / t  \  e1     c[i]: the constraint on that edge, -1 none
///      /      \        corners counter-clockwise as seen in the projection
///   v[1] ---- v[2]
///         e0
class PlanarTriangulation {
  public:
    struct Face {
        int v[3], n[3], c[3];
    };
    /// The corner after another, or before it, round a face.
    static int next(int i) { return i == 2 ? 0 : i + 1; }
    static int previous(int i) { return i == 0 ? 2 : i - 1; }
    /// A constraint: the line that it is a part of, as the caller numbers lines, and the caller's marks (which
    /// boundaries run here).
    struct Constraint {
        int line;
        std::vector<int> marks;
    };
    /// Makes the point where two lines, by the caller's numbers, cross.
    using Cross = std::function<PointView(int line, int other)>;

    /// `axis` as for orient2d; `mirrored` where the first triangle is clockwise along it.
    PlanarTriangulation(int axis, bool mirrored, const PointView& a, const PointView& b, const PointView& c,
                        Cross cross);

    /// Starts from a triangle well around a box, its corners being no points of the caller's. `mirrored`: the plane's
    /// faces are to come out clockwise along the axis.
    static PlanarTriangulation around(const Box& box, int axis, bool mirrored, Cross cross);

    /// Has long work end early where it is stopped. What it was to make is of no use then.
    void stop_by(const Progress& progress) { progress_ = &progress; }
    bool stopped() const { return progress_ && progress_->cancelled(); }

    /// Adds a point and returns its number; where there is a point already, that one's.
    int insert(const PointView& p);

    /// The same for many points, in an order that keeps it quick. Returns the number of each.
    Few<int> insert_all(std::span<const PointView> points);

    /// Adds a point that is known to lie within the edge between two points, and returns its number.
    /// Precondition: they are joined by an edge, on the first triangle's rim.
    int insert_on_edge(const PointView& p, int a, int b);

    /// Makes the segment between two points a chain of edges on `line`. Crossed constraints get a point there.
    /// The marks are added to the edges' marks.
    void constrain(int a, int b, int line, std::vector<int> marks = {});

    /// The same where nothing is in the way: no point, and no constraint that would be crossed. Returns whether it is
    /// in.
    bool constrain_if_free(int a, int b, int line, std::vector<int> marks = {});

    struct Segment {
        int a, b, line;
        std::vector<int> marks{};
    };
    /// The same for many segments, in an order that keeps it quick. Returns whether all are in: with more points than
    /// `most_points` it gives up.
    bool constrain_all(std::vector<Segment> segments, std::size_t most_points = ~std::size_t{0});

    /// Flips free edges towards a Delaunay triangulation of the rounded points. A matter of shape, not of
    /// correctness: every flip is proven valid exactly, the wish to flip is judged in doubles.
    void improve();

    /// Per face: whether it is enclosed by the constraints, each of them passed as often as it has marks. Outside is
    /// where the first three points are; meant for a first triangle well around everything.
    std::vector<char> inside() const;

    std::span<const Face> faces() const { return span_of(faces_); }
    const PointView& point(int v) const { return points_[static_cast<std::size_t>(v)]; }
    std::size_t point_count() const { return points_.size(); }
    const Constraint& constraint(int c) const { return constraints_[static_cast<std::size_t>(c)]; }

  private:
    struct Location {
        int face, edge, vertex;  // edge or vertex -1 where the point lies inside
    };
    int turn(int a, int b, int c) const;
    Location locate(int p);
    Location located(int t, const int (&turns)[3]) const;
    bool locate_in(int t, int p, Location& at) const;
    void split_face(int t, int p);
    void split_edge(int t, int i, int p);
    void flip(int t, int i);
    bool can_flip(int t, int i) const;
    void relink(int t, int from, int to);
    int index_of(int t, int v) const;
    int index_across(int t, int neighbour) const;
    bool find_edge(int a, int b, int& t, int& i) const;
    void mark_edge(int t, int i, int c);
    int advance(int a, int b, int c, bool only_free = false);
    /// A face that a segment runs through, and the edge across which it leaves it.
    struct Through {
        int face, edge;
    };
    void force_edge(int a, int b, std::span<const Through> through, int last);
    static constexpr int blocked = -1;
    bool ahead(int a, int b, int p) const;

    int axis_, sign_;
    Cross cross_;
    const Progress* progress_ = nullptr;
    // Most triangulations are small, and there are many: those ask for no memory.
    Few<PointView> points_;
    Few<int> face_at_;  // one face at each point
    Few<Face, 32> faces_;
    Few<Constraint> constraints_;
    int last_ = 0;
};

}  // namespace anvil
