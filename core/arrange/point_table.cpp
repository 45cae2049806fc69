#include "core/arrange/point_table.h"

#include <algorithm>
#include <tuple>

namespace anvil {

PointTable::PointTable(const IdVector<VertexId, Vec3>& input) : input_count_(input.size()), approx_(input.raw()) {
    same_.reserve(input_count_);
    for (VertexId v : ids<VertexId>(input_count_)) same_.push_back(v);
}

VertexId PointTable::add(HomogeneousPoint point) {
    approx_.push_back(rounded(point));
    implicit_.push_back(std::move(point));
    const VertexId v(approx_.size() - 1);
    same_.push_back(v);
    return v;
}

void PointTable::identify(const std::vector<char>& touched) {
    // Equal points round to equal doubles, so only neighbours in the order of the rounded points can be equal.
    std::vector<VertexId> order;
    for (std::size_t i = 0; i < input_count_; ++i)
        if (touched[i]) order.push_back(VertexId(i));
    for (std::size_t i = input_count_; i < size(); ++i) order.push_back(VertexId(i));
    auto key = [&](VertexId v) { return std::tuple(approx(v).x, approx(v).y, approx(v).z); };
    std::sort(order.begin(), order.end(), [&](VertexId a, VertexId b) {
        const auto ka = key(a), kb = key(b);
        return ka != kb ? ka < kb : a < b;
    });
    for (std::size_t i = 0; i < order.size();) {
        std::size_t end = i + 1;
        while (end < order.size() && approx(order[end]) == approx(order[i])) ++end;
        for (std::size_t j = i; j < end; ++j) {
            same_[order[j].value()] = order[j];
            for (std::size_t k = i; k < j; ++k)
                if (same_as(order[k]) == order[k] && same_point(view(order[k]), view(order[j]))) {
                    same_[order[j].value()] = order[k];
                    break;
                }
        }
        i = end;
    }
}

}  // namespace anvil
