#include "core/arrange/stretches.h"

#include <algorithm>

#include "core/base/runs.h"
#include "core/exact/predicates.h"

namespace anvil {
namespace {

int order(const PointTable& points, VertexId x, VertexId y, int axis) {
    return x == y ? 0 : compare(points.view(x), points.view(y), axis);
}

/// Precondition: all lie on one line.
void join(std::span<Stretch> on_line, const PointTable& points, Few<Stretch>& joined) {
    if (on_line.size() == 1) {
        joined.push_back(on_line[0]);
        return;
    }
    int axis = 0;
    while (axis < 2 && order(points, on_line[0].p, on_line[0].q, axis) == 0) ++axis;
    for (Stretch& s : on_line)
        if (order(points, s.p, s.q, axis) > 0) std::swap(s.p, s.q);
    std::ranges::stable_sort(on_line,
                             [&](const Stretch& x, const Stretch& y) { return order(points, x.p, y.p, axis) < 0; });
    joined.push_back(on_line[0]);
    for (const Stretch& s : on_line.subspan(1)) {
        Stretch& last = joined.back();
        if (order(points, s.p, last.q, axis) > 0)
            joined.push_back(s);
        else if (order(points, last.q, s.q, axis) < 0)
            last.q = s.q;
    }
}

}  // namespace

Few<Stretch> stretches_on(const Cluster& cluster, const Crossings& all, const Clusters& clusters,
                          const ActiveFaces& active, const PointTable& points) {
    Few<Stretch> single, joined;
    for (const std::uint32_t i : cluster.crossings) {
        const Crossing& c = all.segments[i];
        if (!c.q.valid()) continue;
        const FaceId other = std::ranges::binary_search(cluster.faces, c.a) ? c.b : c.a;
        single.push_back({clusters.of(active, other), other, c.p, c.q});
    }
    if (!std::ranges::is_sorted(single, {}, &Stretch::cluster)) std::ranges::stable_sort(single, {}, &Stretch::cluster);
    for_each_run(
        span_of(single), [](const Stretch& x, const Stretch& y) { return x.cluster == y.cluster; },
        [&](std::span<Stretch> on_line) { join(on_line, points, joined); });
    return joined;
}

}  // namespace anvil
