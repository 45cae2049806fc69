#pragma once

#include <span>
#include <vector>

#include "core/mesh/polygon.h"
#include "core/mesh/transform.h"

namespace anvil {

/// Where a mesh meets a plane, for placing things there: in doubles, nothing is decided by it. The plane is that of the
/// frame's x and y axes; what is told is in its coordinates, in mm.
class PlaneSection {
  public:
    PlaneSection(const Mesh& mesh, const Transform& frame);
    bool empty() const { return segments_.empty(); }
    Point2 low() const { return low_; }
    Point2 high() const { return high_; }
    /// Whether the plane is inside of the body there: it goes round that an odd number of times.
    bool is_inside(const Point2& p) const;
    /// From its rim; negative outside.
    double depth(const Point2& p) const;

  private:
    struct Segment {
        Point2 a, b;
    };
    std::vector<Segment> segments_;
    Point2 low_{}, high_{};
};

}  // namespace anvil
