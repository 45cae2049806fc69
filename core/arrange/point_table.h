#pragma once

#include <deque>
#include <vector>

#include "core/exact/implicit_point.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// All points of an arrangement: first the input points, then the implicit ones. Points that are the same point of
/// space are made one by `identify`; afterwards `same_as` leads from any number to the one that stands for it.
class PointTable {
  public:
    explicit PointTable(const IdVector<VertexId, Vec3>& input);

    std::size_t size() const { return approx_.size(); }
    std::size_t input_count() const { return input_count_; }
    VertexId add(HomogeneousPoint point);
    PointView view(VertexId v) const {
        return {approx_[v.value()], is_input(v) ? nullptr : &implicit_[v.value() - input_count_]};
    }
    /// The nearest doubles of a point.
    const Vec3& approx(VertexId v) const { return approx_[v.value()]; }
    bool is_input(VertexId v) const { return v.value() < input_count_; }

    /// Makes every added point one with any other point that it coincides with: added ones, and those input points
    /// for which `touched` is set. The lowest number stands for all.
    void identify(const std::vector<char>& touched);
    VertexId same_as(VertexId v) const { return same_[v.value()]; }

  private:
    std::size_t input_count_;
    std::vector<Vec3> approx_;
    std::deque<HomogeneousPoint> implicit_;  // stays in place while it grows
    std::vector<VertexId> same_;
};

}  // namespace anvil
