// Based on: Q. Zhou, E. Grinspun, D. Zorin, A. Jacobson, "Mesh Arrangements for Solid Geometry" (2016): cells from
// the order of faces round each edge, winding numbers spread from cell to cell. We depart from it in letting whole
// patches stand for their faces, and in placing each connected piece with one exact ray from the inside of a face
// against the input triangles.
#include "core/arrange/cells.h"

#include <algorithm>
#include <tuple>

#include "core/arrange/half_edges.h"
#include "core/mesh/disjoint_sets.h"
#include "core/spatial/ray_winding.h"

namespace anvil {
namespace {

/// A face at an edge, as met when turning counter-clockwise about the edge's direction (low to high vertex).
struct Wing {
    VertexId low, high;
    std::uint32_t element;  // a sub-face, or behind those a patch
    bool forward;           // the face runs along the edge from low to high
    VertexId apex;
    FaceId plane;

    std::uint32_t side_ahead() const { return 2 * element + (forward ? 0 : 1); }  // met next when turning on
    std::uint32_t side_behind() const { return 2 * element + (forward ? 1 : 0); }
};

Wing make_wing(std::uint32_t element, FaceId plane, const Triangle& t, int k) {
    const VertexId a = t[k], b = t[(k + 1) % 3];
    return {std::min(a, b), std::max(a, b), element, a < b, t[(k + 2) % 3], plane};
}

/// The wings of all edges at which sub-faces end, edge by edge.
std::vector<Wing> find_wings(const Soup& soup, const PointTable& points, const ActiveFaces& active,
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
    std::sort(wings.begin(), wings.end(), [](const Wing& a, const Wing& b) {
        return std::tie(a.low, a.high, a.element, a.plane) < std::tie(b.low, b.high, b.element, b.plane);
    });
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

/// Joins the two sides that look into the same wedge at an edge, for all edges.
void join_sides(std::vector<Wing>& wings, const RadialOrder& order, DisjointSets& sides) {
    for (std::size_t from = 0; from < wings.size();) {
        std::size_t to = from + 1;
        while (to < wings.size() && wings[to].low == wings[from].low && wings[to].high == wings[from].high) ++to;
        const std::span<Wing> here(wings.begin() + static_cast<long>(from), wings.begin() + static_cast<long>(to));
        if (here.size() > 2) order.sort(here);
        for (std::size_t i = 0; i < here.size(); ++i)
            sides.join(here[i].side_ahead(), here[(i + 1) % here.size()].side_behind());
        from = to;
    }
}

/// Sub-faces and patches by one number: what is added to each operand's winding when one is passed from its front to
/// its back, and where one of them lies.
class Elements {
  public:
    Elements(const Soup& soup, const PointTable& points, const SubFaces& faces, const Patches& patches)
        : soup_(soup), points_(points), faces_(faces), patches_(patches) {}

    std::uint32_t count() const { return static_cast<std::uint32_t>(faces_.size() + patches_.size()); }
    bool is_patch(std::uint32_t e) const { return e >= faces_.size(); }
    const Patches::Patch& patch(std::uint32_t e) const { return patches_.list[e - faces_.size()]; }

    template <class Add>
    void for_each_jump(std::uint32_t e, const Add& add) const {
        if (is_patch(e)) return add(patch(e).operand, 1);
        for (const FaceSource& s : faces_.sources[faces_.source[e]]) add(s.operand, s.reversed ? -1 : 1);
    }
    SideRay ray_beside(std::uint32_t e) const {
        if (!is_patch(e)) {
            const Triangle& t = faces_.corners[e];
            return {{points_.view(t[0]), points_.view(t[1]), points_.view(t[2])}, soup_.corners(faces_.plane[e])};
        }
        const CornerPoints c = soup_.corners(soup_.global(patch(e).operand, patch(e).first));
        return {{PointView{*c[0]}, PointView{*c[1]}, PointView{*c[2]}}, c};
    }
    FaceSource a_source(std::uint32_t e) const {
        if (!is_patch(e)) return faces_.sources[faces_.source[e]].front();
        return soup_.source(soup_.global(patch(e).operand, patch(e).first));
    }

  private:
    const Soup& soup_;
    const PointTable& points_;
    const SubFaces& faces_;
    const Patches& patches_;
};

Error does_not_close(const FaceSource& s) {
    return {
        ErrorCode::open_operand,
        "the faces do not close: inside and outside cannot be told apart near face " + std::to_string(s.face.value()),
        "operand " + std::to_string(s.operand + 1), static_cast<int>(s.operand)};
}

/// The winding numbers at the start of a ray.
std::vector<std::int32_t> winding_at(const Soup& soup, const SideRay& ray) {
    std::vector<std::int32_t> winding(soup.size(), 0);
    for (std::uint32_t o = 0; o < soup.size(); ++o) {
        const Operand& operand = soup.operand(o);
        ray.cast(operand.mesh.points.raw(), operand.mesh.faces.raw(), operand.tree, [&](std::uint32_t face, int sign) {
            winding[o] += sign;
            const auto [from, to] = std::ranges::equal_range(operand.copies, FaceId(face), {}, &Operand::Copy::of);
            for (auto c = from; c != to; ++c) winding[o] += c->reversed ? -sign : sign;
        });
    }
    return winding;
}

}  // namespace

Result<Cells> find_cells(const Soup& soup, const PointTable& points, const ActiveFaces& active, const SubFaces& faces,
                         const Patches& patches, Progress& progress) {
    const Elements elements(soup, points, faces, patches);
    const std::uint32_t n = elements.count();
    std::vector<Wing> wings = find_wings(soup, points, active, faces, patches);
    if (progress.cancelled()) return cancelled_error();
    DisjointSets sides(2 * std::size_t{n});
    join_sides(wings, RadialOrder(soup, points), sides);
    if (progress.cancelled()) return cancelled_error();
    progress.part(0.5);

    Cells cells;
    cells.operands = soup.size();
    std::vector<std::uint32_t> cell_of;
    cells.count = sides.number(cell_of);
    std::vector<Cells::Sides> of(n);
    for (std::uint32_t e = 0; e < n; ++e) of[e] = {cell_of[2 * e], cell_of[2 * e + 1]};
    cells.winding.assign(std::size_t{cells.count} * cells.operands, 0);

    // Elements at each cell, for spreading from cell to cell.
    std::vector<std::uint32_t> start(cells.count + 1, 0), at_cell(2 * std::size_t{n});
    for (const auto& c : of)
        for (std::uint32_t cell : c) ++start[cell + 1];
    for (std::uint32_t c = 0; c < cells.count; ++c) start[c + 1] += start[c];
    std::vector<std::uint32_t> fill(start.begin(), start.end() - 1);
    for (std::uint32_t e = 0; e < n; ++e)
        for (std::uint32_t cell : of[e]) at_cell[fill[cell]++] = e;

    std::vector<char> known(cells.count, 0);
    std::vector<std::uint32_t> stack;
    auto row = [&](std::uint32_t cell) {
        return cells.winding.begin() + static_cast<long>(std::size_t{cell} * cells.operands);
    };
    for (std::uint32_t seed = 0; seed < n; ++seed) {
        if (known[of[seed][0]]) continue;
        if (progress.cancelled()) return cancelled_error();
        const SideRay ray = elements.ray_beside(seed);
        const std::vector<std::int32_t> winding = winding_at(soup, ray);
        const std::uint32_t origin = of[seed][ray.in_front() ? 0 : 1];
        std::copy(winding.begin(), winding.end(), row(origin));
        known[origin] = 1;
        stack.push_back(origin);
        while (!stack.empty()) {
            const std::uint32_t cell = stack.back();
            stack.pop_back();
            for (std::uint32_t i = start[cell]; i < start[cell + 1]; ++i) {
                const std::uint32_t e = at_cell[i];
                const bool from_front = of[e][0] == cell;
                const std::uint32_t other = of[e][from_front ? 1 : 0];
                if (known[other]) continue;
                std::copy(row(cell), row(cell) + cells.operands, row(other));
                elements.for_each_jump(e,
                                       [&](std::uint32_t o, int jump) { row(other)[o] += from_front ? jump : -jump; });
                known[other] = 1;
                stack.push_back(other);
            }
        }
    }

    // Every face must agree with what was spread; an operand that does not close cannot.
    std::vector<std::int32_t> expected(cells.operands);
    for (std::uint32_t e = 0; e < n; ++e) {
        const auto [front, back] = of[e];
        std::copy(row(front), row(front) + cells.operands, expected.begin());
        elements.for_each_jump(e, [&](std::uint32_t o, int jump) { expected[o] += jump; });
        if (!std::equal(expected.begin(), expected.end(), row(back))) return does_not_close(elements.a_source(e));
    }
    const auto middle = of.begin() + static_cast<long>(faces.size());
    cells.of_face.assign(of.begin(), middle);
    cells.of_patch.assign(middle, of.end());
    return cells;
}

}  // namespace anvil
