#include "core/arrange/point_table.h"

#include "core/mesh/weld.h"

namespace anvil {

void PointTable::identify(std::vector<VertexId> order, const Progress& progress) {
    for (std::size_t i = input_count_; i < size(); ++i) order.push_back(VertexId(i));
    // Equal points round to equal doubles, so only those that do can be equal.
    std::vector<Vec3> rounded;
    rounded.reserve(order.size());
    for (const VertexId v : order) rounded.push_back(approx(v));
    const WeldMap weld = weld_map(rounded);
    if (weld.groups == order.size() || progress.cancelled()) return;
    auto stand_for = [&](VertexId v, VertexId by) {
        if (is_input(v))
            same_input_[v.value()] = by;
        else
            added_[v.value() - input_count_].same = by;
    };
    // Of each group those that stand for themselves, as a chain from the last one met.
    constexpr std::uint32_t none = 0xffffffffu;
    std::vector<std::uint32_t> last(weld.groups, none), before(order.size(), none);
    for (std::uint32_t i = 0; i < order.size(); ++i) {
        if (i % 4096 == 0 && progress.cancelled()) return;
        const VertexId v = order[i];
        std::uint32_t& end = last[weld.group[i]];
        std::uint32_t earlier = end;
        while (earlier != none && !same_point(view(order[earlier]), view(v))) earlier = before[earlier];
        if (earlier != none) {
            stand_for(v, order[earlier]);
        } else {
            before[i] = end;
            end = i;
        }
    }
}

}  // namespace anvil
