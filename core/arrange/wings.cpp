// Based on: Q. Zhou, E. Grinspun, D. Zorin, A. Jacobson, "Mesh Arrangements for Solid Geometry" (2016), for the order
// of faces round an edge. We depart from it in letting whole patches stand for their faces.
#include "core/arrange/wings.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <bit>
#include <tuple>

#include "core/arrange/half_edges.h"
#include "core/base/sort.h"

namespace anvil {
namespace {

Wing make_wing(std::uint32_t element, FaceId plane, const Triangle& t, int k) {
    const VertexId a = t[k], b = t[(k + 1) % 3];
    return {std::min(a, b), std::max(a, b), element, a < b, t[(k + 2) % 3], plane};
}

std::vector<Wing> unsorted_wings(const Soup& soup, const PointTable& points, const ActiveFaces& active,
                                 const SubFaces& faces, const Patches& patches) {
    std::vector<Wing> wings;
    const auto count = static_cast<std::uint32_t>(faces.size());
    wings.reserve(3 * faces.size() + active.size());
    for (std::uint32_t f = 0; f < count; ++f)
        for (int k = 0; k < 3; ++k) wings.push_back(make_wing(f, faces.plane[f], faces.corners[f], k));
    // Where an active face borders on a patch, the patch's face is a wing too. Nothing crosses that edge.
    for (FaceId f : active.faces) {
        const std::uint32_t o = soup.operand_of(f);
        const Operand& operand = soup.operand(o);
        for (std::uint32_t h = 3 * soup.own(o, f).value(), end = h + 3; h < end; ++h) {
            const std::uint32_t twin = operand.twin[h];
            if (twin == HalfEdges::none) continue;
            const FaceId own(twin / 3), across = soup.global(o, own);
            if (active.contains(across)) continue;
            Triangle t = soup.face(across);
            for (VertexId& v : t) v = points.same_as(v);
            wings.push_back(make_wing(count + patches.of(soup, o, own), across, t, static_cast<int>(twin % 3)));
        }
    }
    return wings;
}

class RadialOrder {
  public:
    RadialOrder(const Soup& soup, const PointTable& points) : soup_(soup), points_(points) {}

    /// Sorts the wings of one edge by angle, from the first one on.
    void sort(std::span<Wing> wings) const {
        const Wing first = wings[0];
        auto half = [&](const Wing& w) {  // 0: within half a turn ahead, 1: opposite, 2: beyond
            const int s = ahead(first, w);
            return s > 0 ? 0 : s == 0 ? 1 : 2;
        };
        std::vector<std::pair<int, Wing>> rest;
        for (std::size_t i = 1; i < wings.size(); ++i) rest.emplace_back(half(wings[i]), wings[i]);
        std::sort(rest.begin(), rest.end(), [&](const auto& a, const auto& b) {
            if (a.first != b.first) return a.first < b.first;
            const bool same = a.second.plane == b.second.plane && a.second.apex == b.second.apex;
            return !same && ahead(a.second, b.second) > 0;
        });
        for (std::size_t i = 0; i < rest.size(); ++i) wings[i + 1] = rest[i].second;
    }

  private:
    /// +1 where b lies within half a turn ahead of a, -1 behind, 0 opposite. Faces never overlap, so two at one edge
    /// cannot lie on each other.
    int ahead(const Wing& a, const Wing& b) const {
        const CornerPoints plane = soup_.corners(a.plane);
        const int side = plane_side(*plane[0], *plane[1], *plane[2], points_.view(b.apex));
        return a.forward ? side : -side;
    }
    const Soup& soup_;
    const PointTable& points_;
};

}  // namespace

std::vector<Wing> find_wings(const Soup& soup, const PointTable& points, const ActiveFaces& active,
                             const SubFaces& faces, const Patches& patches, const Progress& progress) {
    std::vector<Wing> wings = unsorted_wings(soup, points, active, faces, patches);
    if (progress.cancelled()) return {};
    sort_by_bits(
        wings, [](const Wing& w) { return w.low.value(); }, 0, static_cast<int>(std::bit_width(points.size())));
    if (progress.cancelled()) return {};
    const RadialOrder order(soup, points);
    // Pieces of the list that begin where the lower point changes.
    std::vector<std::size_t> starts{0};
    while (starts.back() < wings.size()) {
        std::size_t next = std::min(starts.back() + 4096, wings.size());
        while (next < wings.size() && wings[next].low == wings[next - 1].low) ++next;
        starts.push_back(next);
    }
    tbb::parallel_for(std::size_t{0}, starts.size() - 1, [&](std::size_t k) {
        const std::size_t from = starts[k], to = starts[k + 1];
        const std::span<Wing> piece(wings.data() + from, to - from);
        std::ranges::sort(piece, {}, [](const Wing& w) { return std::tuple(w.low, w.high, w.element, w.plane); });
        for_each_run(piece, same_edge, [&](std::span<Wing> here) {
            if (here.size() > 2) order.sort(here);
        });
    });
    return wings;
}

}  // namespace anvil
