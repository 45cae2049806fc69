// Based on: Q. Zhou, E. Grinspun, D. Zorin, A. Jacobson, "Mesh Arrangements for Solid Geometry" (2016), for the order
// of faces round an edge. We depart from it in letting whole patches stand for their faces.
#include "core/arrange/wings.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <tuple>

#include "core/arrange/half_edges.h"
#include "core/base/sort.h"
#include "core/spatial/by_ranges.h"

namespace anvil {
namespace {

Wing make_wing(std::uint32_t element, FaceId plane, const Triangle& t, int k) {
    const VertexId a = t[k], b = t[(k + 1) % 3];
    return {std::min(a, b), std::max(a, b), element, a < b, static_cast<std::uint8_t>(k), t[(k + 2) % 3], plane};
}

template <class Visit>
void for_each_wing_of_sub_faces(const SubFaces& faces, std::size_t from, std::size_t to, const Visit& visit) {
    for (std::size_t f = from; f < to; ++f)
        for (int k = 0; k < 3; ++k)
            visit(make_wing(static_cast<std::uint32_t>(f), faces.plane[f], faces.corners[f], k));
}

/// Where an active face borders on a patch, the patch's face is a wing too. Nothing crosses that edge.
template <class Visit>
void for_each_wing_of_patches(const Soup& soup, const PointTable& points, const ActiveFaces& active,
                              const SubFaces& faces, const Patches& patches, std::size_t from, std::size_t to,
                              const Visit& visit) {
    const auto count = static_cast<std::uint32_t>(faces.size());
    for (std::size_t i = from; i < to; ++i) {
        const FaceId f = active.faces[i];
        const std::uint32_t o = soup.operand_of(f);
        const Operand& operand = soup.operand(o);
        for (std::uint32_t h = 3 * soup.own(o, f).value(), end = h + 3; h < end; ++h) {
            const std::uint32_t twin = operand.twin[h];
            if (twin == HalfEdges::none) continue;
            const FaceId own(twin / 3), across = soup.global(o, own);
            if (active.contains(across)) continue;
            Triangle t = soup.face(across);
            for (VertexId& v : t) v = points.same_as(v);
            visit(make_wing(count + patches.of(soup, o, own), across, t, static_cast<int>(twin % 3)));
        }
    }
}

class RadialOrder {
  public:
    RadialOrder(const Soup& soup, const PointTable& points) : soup_(soup), points_(points) {}

    /// Sorts the wings of one edge by angle, from the first one on.
    void sort(std::span<Wing> wings) const {
        if (wings.size() == 4 && sort_two_planes(wings)) return;
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
    /// Where two faces cross, each has a wing on either side, since those of one plane cannot overlap: one question
    /// tells the order of all four.
    bool sort_two_planes(std::span<Wing> wings) const {
        const FaceId first = wings[0].plane;
        const auto opposite =
            std::find_if(wings.begin() + 1, wings.end(), [&](const Wing& w) { return w.plane == first; });
        if (opposite == wings.end()) return false;
        std::swap(wings[2], *opposite);
        Wing &one = wings[1], &other = wings[3];
        if (one.plane == first || one.plane != other.plane) return false;
        const int side = ahead(wings[0], one);
        if (side < 0) std::swap(one, other);
        return side != 0;
    }

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
    constexpr std::size_t at_once = 4096;
    const std::size_t of_faces = (faces.size() + at_once - 1) / at_once,
                      of_active = (active.size() + at_once - 1) / at_once;
    auto for_each_of_block = [&](std::size_t k, const auto& visit) {
        if (progress.cancelled()) return;
        if (k < of_faces)
            return for_each_wing_of_sub_faces(faces, k * at_once, std::min((k + 1) * at_once, faces.size()), visit);
        const std::size_t from = (k - of_faces) * at_once, to = std::min(from + at_once, active.size());
        for_each_wing_of_patches(soup, points, active, faces, patches, from, to, visit);
    };
    auto ranges = by_ranges<Wing>(
        of_faces + of_active, 3 * faces.size(), points.size(), [](const Wing& w) { return w.low.value(); },
        for_each_of_block);
    if (progress.cancelled()) return {};
    const RadialOrder order(soup, points);
    tbb::parallel_for(std::size_t{0}, ranges.size(), [&](std::size_t r) {
        if (progress.cancelled()) return;
        const std::span<Wing> here = ranges.range(r);
        auto for_each = [&](const auto& visit, bool) { std::ranges::for_each(here, visit); };
        const std::vector<Wing> sorted = sorted_by_number<Wing>(
            here.size(), for_each, [](const Wing& w) { return w.low.value(); },
            [](const Wing& a, const Wing& b) {
                return std::tie(a.high, a.element, a.plane) < std::tie(b.high, b.element, b.plane);
            });
        std::ranges::copy(sorted, here.begin());
        for_each_run(here, same_edge, [&](std::span<Wing> edge) {
            if (edge.size() > 2) order.sort(edge);
        });
    });
    return std::move(ranges.all);
}

}  // namespace anvil
