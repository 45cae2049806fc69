#include "core/arrange/point_table.h"

#include <tbb/parallel_sort.h>

#include <algorithm>
#include <tuple>

namespace anvil {

void PointTable::identify(std::vector<VertexId> order, const Progress& progress) {
    // Equal points round to equal doubles, so only neighbours in the order of the rounded points can be equal.
    for (std::size_t i = input_count_; i < size(); ++i) order.push_back(VertexId(i));
    struct Entry {
        Vec3 approx;
        VertexId v;
    };
    std::vector<Entry> entries;
    entries.reserve(order.size());
    for (VertexId v : order) entries.push_back({approx(v), v});
    tbb::parallel_sort(entries.begin(), entries.end(), [](const Entry& a, const Entry& b) {
        return std::tie(a.approx.x, a.approx.y, a.approx.z, a.v) < std::tie(b.approx.x, b.approx.y, b.approx.z, b.v);
    });
    if (progress.cancelled()) return;
    auto stand_for = [&](VertexId v, VertexId by) {
        if (is_input(v))
            same_input_[v.value()] = by;
        else
            added_[v.value() - input_count_].same = by;
    };
    for (std::size_t i = 0; i < entries.size();) {
        std::size_t end = i + 1;
        while (end < entries.size() && entries[end].approx == entries[i].approx) ++end;
        for (std::size_t j = i + 1; j < end; ++j)
            for (std::size_t k = i; k < j; ++k) {
                const VertexId v = entries[j].v, earlier = entries[k].v;
                if (v == earlier || same_as(earlier) != earlier || !same_point(view(earlier), view(v))) continue;
                stand_for(v, earlier);
                break;
            }
        i = end;
    }
}

}  // namespace anvil
