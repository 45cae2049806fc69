#include "core/mend/strip.h"

#include <algorithm>

namespace anvil {
namespace {

/// A rim from a place on, once round: its first point comes again at the end.
std::vector<VertexId> from_place(std::span<const VertexId> rim, std::size_t at) {
    std::vector<VertexId> out(rim.begin() + static_cast<long>(at), rim.end());
    out.insert(out.end(), rim.begin(), rim.begin() + static_cast<long>(at) + 1);
    return out;
}

/// Between two chains that run against each other, from their first pair of points to their last one.
std::vector<Triangle> smallest_strip(const Mesh& mesh, std::span<const VertexId> a, std::span<const VertexId> b) {
    const std::size_t n = a.size(), m = b.size();
    auto area = [&](VertexId p, VertexId q, VertexId r) {
        return triangle_area(mesh.points[p], mesh.points[q], mesh.points[r]);
    };
    std::vector<double> least(n * m, HUGE_VAL);
    std::vector<char> came_along_a(n * m, 0);
    least[0] = 0;
    for (std::size_t i = 0; i < n; ++i)
        for (std::size_t j = 0; j < m; ++j) {
            double& here = least[i * m + j];
            if (i > 0)
                if (const double with = least[(i - 1) * m + j] + area(a[i - 1], a[i], b[j]); with < here)
                    here = with, came_along_a[i * m + j] = 1;
            if (j > 0)
                if (const double with = least[i * m + j - 1] + area(a[i], b[j], b[j - 1]); with < here)
                    here = with, came_along_a[i * m + j] = 0;
        }
    std::vector<Triangle> strip;
    for (std::size_t i = n - 1, j = m - 1; i + j > 0;)
        if (came_along_a[i * m + j]) {
            strip.push_back({a[i - 1], a[i], b[j]});
            --i;
        } else {
            strip.push_back({a[i], b[j], b[j - 1]});
            --j;
        }
    std::ranges::reverse(strip);
    return strip;
}

}  // namespace

std::vector<Triangle> strip_between(const Mesh& mesh, std::span<const VertexId> a, std::size_t at_a,
                                    std::span<const VertexId> b, std::size_t at_b) {
    std::vector<VertexId> back = from_place(b, at_b);
    std::ranges::reverse(back);
    return smallest_strip(mesh, from_place(a, at_a), back);
}

}  // namespace anvil
