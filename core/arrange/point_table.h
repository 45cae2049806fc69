#pragma once

#include <tbb/parallel_for.h>

#include <unordered_map>
#include <vector>

#include "core/arrange/soup.h"
#include "core/base/stable_vector.h"
#include "core/exact/implicit_point.h"

namespace anvil {

/// All points of an arrangement: first the soup's points, then the implicit ones. Points that are the same point of
/// space are made one by `identify`; afterwards `same_as` leads from any number to the one that stands for it.
class PointTable {
  public:
    explicit PointTable(const Soup& soup) : soup_(soup), input_count_(soup.point_count()) {}

    std::size_t size() const { return input_count_ + added_.size(); }
    std::size_t input_count() const { return input_count_; }
    /// Adds so many; fill(i, exact, approx) is called for each, side by side. `approx`: the point `rounded`.
    template <class Fill>
    void add_all(std::size_t count, const Fill& fill) {
        const std::size_t first = added_.size();
        added_.grow(count);
        tbb::parallel_for(std::size_t{0}, count, [&](std::size_t i) {
            Added& a = added_[first + i];
            a.same = VertexId(input_count_ + first + i);
            fill(i, a.exact, a.approx);
        });
    }
    PointView view(VertexId v) const {
        if (is_input(v)) return {soup_.point(v), nullptr};
        const Added& a = added_[v.value() - input_count_];
        return {a.approx, &a.exact};
    }
    /// The nearest doubles of a point.
    const Vec3& approx(VertexId v) const {
        return is_input(v) ? soup_.point(v) : added_[v.value() - input_count_].approx;
    }
    bool is_input(VertexId v) const { return v.value() < input_count_; }

    /// Makes every added point one with any other point that it coincides with, and the given input points with each
    /// other, which come sorted. The lowest number stands for all. Of no use where it was stopped.
    void identify(std::vector<VertexId> input, const Progress& progress);
    VertexId same_as(VertexId v) const {
        if (!is_input(v)) return added_[v.value() - input_count_].same;
        const auto at = same_input_.find(v.value());
        return at == same_input_.end() ? v : at->second;
    }

    /// Calls visit(v, same_as(v)) for every input point that another one stands for, in no order.
    template <class Visit>
    void for_each_same_input(const Visit& visit) const {
        for (const auto& [v, same] : same_input_) visit(VertexId(v), same);
    }

  private:
    struct Added {
        ExactPoint exact;
        Vec3 approx;
        VertexId same;
    };
    Soup soup_;
    std::size_t input_count_;
    StableVector<Added> added_;
    std::unordered_map<std::uint32_t, VertexId> same_input_;  // of those that another point stands for
};

}  // namespace anvil
