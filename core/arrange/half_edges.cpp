#include "core/arrange/half_edges.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <tuple>

#include "core/base/sort.h"

namespace anvil {
namespace {

/// The one half-edge that leaves v towards `to`; `none` where there is none or several. Long lists come sorted.
std::uint32_t only_one(const HalfEdges& edges, VertexId v, VertexId to, std::size_t long_list) {
    const auto list = edges.leaving(v.value());
    if (list.size() > long_list) {
        const auto first = std::ranges::lower_bound(list, to, {}, &HalfEdges::Out::to);
        const bool one = first != list.end() && first->to == to && (first + 1 == list.end() || (first + 1)->to != to);
        return one ? first->half : HalfEdges::none;
    }
    std::uint32_t found = HalfEdges::none, count = 0;  // no branch, which would often be mispredicted
    for (const HalfEdges::Out& o : list) {
        found = o.to == to ? o.half : found;
        count += o.to == to;
    }
    return count == 1 ? found : HalfEdges::none;
}

/// The half-edges that leave each point, without their twins.
HalfEdges list_leaving(std::span<const Triangle> faces, std::size_t points) {
    HalfEdges edges;
    edges.twin.assign(3 * faces.size(), HalfEdges::none);
    edges.start.assign(points + 1, 0);
    for (const Triangle& t : faces)
        for (VertexId v : t) ++edges.start[v.value() + 1];
    for (std::size_t v = 0; v < points; ++v) edges.start[v + 1] += edges.start[v];
    edges.out.resize(3 * faces.size());
    std::vector<std::uint32_t> next(edges.start.begin(), edges.start.end() - 1);
    for (std::uint32_t f = 0; f < faces.size(); ++f)
        for (std::uint32_t k = 0; k < 3; ++k)
            edges.out[next[faces[f][k].value()]++] = {faces[f][(k + 1) % 3], 3 * f + k};
    return edges;
}

}  // namespace

bool HalfEdges::is_ring(std::size_t v) const {
    const std::span<const Out> faces = leaving(v);
    if (faces.empty()) return false;
    const std::uint32_t first = faces.front().half;
    std::uint32_t h = first;
    for (std::size_t met = 1; met <= faces.size(); ++met) {
        h = twin[before_in_face(h)];
        if (h == none) return false;
        if (h == first) return met == faces.size();
    }
    return false;
}

HalfEdges find_half_edges(std::span<const Triangle> faces, std::size_t points) {
    HalfEdges edges = list_leaving(faces, points);
    constexpr std::size_t long_list = 24;
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, points, 4096), [&](const auto& range) {
        for (std::size_t v = range.begin(); v != range.end(); ++v)
            if (edges.start[v + 1] - edges.start[v] > long_list)
                std::sort(edges.out.begin() + edges.start[v], edges.out.begin() + edges.start[v + 1],
                          [](const auto& a, const auto& b) { return a.to != b.to ? a.to < b.to : a.half < b.half; });
    });
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, points, 4096), [&](const auto& range) {
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            const VertexId v(i);
            for (const HalfEdges::Out& o : edges.leaving(i)) {
                if (o.to < v) continue;
                if (only_one(edges, v, o.to, long_list) == HalfEdges::none) continue;
                const std::uint32_t back = only_one(edges, o.to, v, long_list);
                if (back == HalfEdges::none) continue;
                edges.twin[o.half] = back;
                edges.twin[back] = o.half;
            }
        }
    });
    return edges;
}

HalfEdges find_half_edges(std::span<const Triangle> faces, std::size_t points, std::span<const std::uint32_t> number,
                          std::size_t edges) {
    HalfEdges out = list_leaving(faces, points);
    auto from = [&](std::uint32_t h) { return faces[h / 3][h % 3]; };
    constexpr std::uint32_t irregular = HalfEdges::none - 1;
    std::vector<std::uint32_t> first(edges, HalfEdges::none);  // per edge: a half-edge that is met before
    for (std::uint32_t h = 0; h < number.size(); ++h) {
        std::uint32_t& known = first[number[h]];
        if (known == HalfEdges::none) {
            known = h;
        } else if (known != irregular) {
            std::uint32_t& twin = out.twin[known];
            if (twin == HalfEdges::none && from(known) != from(h)) {
                twin = h;
                out.twin[h] = known;
                continue;
            }
            if (twin != HalfEdges::none) out.twin[twin] = HalfEdges::none;
            twin = HalfEdges::none;
            known = irregular;
        }
    }
    return out;
}

std::vector<EdgeUse> irregular_uses(std::span<const Triangle> faces, const HalfEdges& edges) {
    std::vector<EdgeUse> uses;
    for (std::uint32_t h = 0; h < edges.twin.size(); ++h) {
        if (edges.twin[h] != HalfEdges::none) continue;
        const VertexId a = faces[h / 3][h % 3], b = faces[h / 3][(h % 3 + 1) % 3];
        uses.push_back({std::min(a, b), std::max(a, b), h / 3, a < b});
    }
    sort_by_number(
        uses, [](const EdgeUse& u) { return u.low.value(); },
        [](const EdgeUse& a, const EdgeUse& b) { return std::tie(a.high, a.face) < std::tie(b.high, b.face); });
    return uses;
}

std::vector<UnbalancedEdge> find_unbalanced(std::span<const Triangle> faces, const HalfEdges& edges) {
    const std::vector<EdgeUse> uses = irregular_uses(faces, edges);
    std::vector<UnbalancedEdge> out;
    for_each_run(std::span(uses), same_edge, [&](std::span<const EdgeUse> here) {
        const auto [low, high] = std::pair(here.front().low, here.front().high);
        if (low == high) return;
        int balance = 0;
        for (const EdgeUse& use : here) balance += use.forward ? 1 : -1;
        if (balance > 0) out.push_back({high, low, balance});
        if (balance < 0) out.push_back({low, high, -balance});
    });
    return out;
}

}  // namespace anvil
