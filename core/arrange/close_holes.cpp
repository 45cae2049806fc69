#include "core/arrange/close_holes.h"

#include <algorithm>
#include <map>
#include <unordered_map>

namespace anvil {
namespace {

constexpr std::size_t longest_exact = 96;

/// Every edge i-j of the polygon has a best third corner; the areas of the parts add up.
void fill_exactly(const Mesh& mesh, std::span<const VertexId> loop, std::vector<Triangle>& out) {
    const std::size_t n = loop.size();
    std::vector<double> least(n * n, 0);
    std::vector<std::uint32_t> third(n * n, 0);
    auto at = [&](std::size_t i) -> const Vec3& { return mesh.points[loop[i]]; };
    for (std::size_t span = 2; span < n; ++span)
        for (std::size_t i = 0; i + span < n; ++i) {
            const std::size_t j = i + span;
            double best = HUGE_VAL;
            for (std::size_t k = i + 1; k < j; ++k) {
                const double total = least[i * n + k] + least[k * n + j] + triangle_area(at(i), at(k), at(j));
                if (!(total < best)) continue;
                best = total;
                third[i * n + j] = static_cast<std::uint32_t>(k);
            }
            least[i * n + j] = best;
            if (third[i * n + j] == 0) third[i * n + j] = static_cast<std::uint32_t>(i + 1);  // areas beyond range
        }
    std::vector<std::pair<std::size_t, std::size_t>> stack{{0, n - 1}};
    while (!stack.empty()) {
        const auto [i, j] = stack.back();
        stack.pop_back();
        if (j - i < 2) continue;
        const std::size_t k = third[i * n + j];
        out.push_back({loop[i], loop[k], loop[j]});
        stack.emplace_back(i, k);
        stack.emplace_back(k, j);
    }
}

void fill(const Mesh& mesh, std::span<const VertexId> loop, std::vector<Triangle>& out) {
    const std::size_t n = loop.size();
    if (n <= longest_exact) return fill_exactly(mesh, loop, out);
    // The shortest chord that leaves at least a quarter of the points on either side, tried from some of them.
    const std::size_t least = n / 4, stride = std::max<std::size_t>(1, n / 256);
    std::size_t from = 0, to = n / 2;
    double best = HUGE_VAL;
    for (std::size_t i = 0; i < n; i += stride)
        for (std::size_t step = least; step + least <= n; step += stride) {
            const std::size_t j = (i + step) % n;
            const double length = norm(mesh.points[loop[i]] - mesh.points[loop[j]]);
            if (length < best) best = length, from = std::min(i, j), to = std::max(i, j);
        }
    std::vector<VertexId> one(loop.begin() + static_cast<long>(from), loop.begin() + static_cast<long>(to) + 1);
    std::vector<VertexId> other(loop.begin() + static_cast<long>(to), loop.end());
    other.insert(other.end(), loop.begin(), loop.begin() + static_cast<long>(from) + 1);
    fill(mesh, one, out);
    fill(mesh, other, out);
}

}  // namespace

std::vector<std::vector<VertexId>> find_missing_loops(std::span<const UnbalancedEdge> unbalanced) {
    std::map<VertexId, std::vector<VertexId>> next;  // in order, so that equal input gives equal loops
    for (const UnbalancedEdge& e : unbalanced)
        for (int k = 0; k < e.missing; ++k) next[e.from].push_back(e.to);
    std::vector<std::vector<VertexId>> loops;
    for (auto& [start, ways] : next)
        while (!ways.empty()) {
            // As many ways lead to a point as lead away from it, so the walk ends where it began.
            std::vector<VertexId> path;
            std::unordered_map<std::uint32_t, std::size_t> place;
            VertexId v = start;
            do {
                if (const auto seen = place.find(v.value()); seen != place.end()) {
                    const std::size_t from = seen->second;
                    loops.emplace_back(path.begin() + static_cast<long>(from), path.end());
                    for (std::size_t i = from; i < path.size(); ++i) place.erase(path[i].value());
                    path.resize(from);
                }
                place[v.value()] = path.size();
                path.push_back(v);
                auto& onward = next[v];
                v = onward.back();
                onward.pop_back();
            } while (v != start);
            loops.push_back(std::move(path));
        }
    return loops;
}

std::vector<Triangle> smallest_fill(const Mesh& mesh, std::span<const VertexId> loop) {
    std::vector<Triangle> out;
    if (loop.size() >= 3) fill(mesh, loop, out);
    return out;
}

}  // namespace anvil
