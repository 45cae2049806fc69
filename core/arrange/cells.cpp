// Based on: Q. Zhou, E. Grinspun, D. Zorin, A. Jacobson, "Mesh Arrangements for Solid Geometry" (2016): cells from
// the order of faces round each edge, winding numbers spread from cell to cell. We depart from it in placing each
// connected piece with one exact ray from the inside of a face against the input triangles.
#include "core/arrange/cells.h"

#include <algorithm>

#include "core/mesh/disjoint_sets.h"
#include "core/mesh/edge_table.h"
#include "core/spatial/ray_winding.h"

namespace anvil {
namespace {

/// A face at an edge, as met when turning counter-clockwise about the edge's direction (low to high vertex).
struct Wing {
    std::uint32_t face;
    bool forward;  // the face runs along the edge from low to high
    VertexId apex;

    std::uint32_t side_ahead() const { return 2 * face + (forward ? 0 : 1); }  // met next when turning on
    std::uint32_t side_behind() const { return 2 * face + (forward ? 1 : 0); }
};

class RadialOrder {
  public:
    RadialOrder(const Soup& soup, const PointTable& points, const SubFaces& faces)
        : soup_(soup), points_(points), faces_(faces) {}

    /// Sorts the wings of one edge by angle, from the first one on.
    void sort(std::vector<Wing>& wings) const {
        const Wing first = wings[0];
        auto half = [&](const Wing& w) {  // 0: within half a turn ahead, 1: opposite, 2: beyond
            const int s = ahead(first, w);
            return s > 0 ? 0 : s == 0 ? 1 : 2;
        };
        std::vector<std::pair<int, Wing>> rest;
        for (std::size_t i = 1; i < wings.size(); ++i) rest.emplace_back(half(wings[i]), wings[i]);
        std::sort(rest.begin(), rest.end(), [&](const auto& a, const auto& b) {
            if (a.first != b.first) return a.first < b.first;
            return a.second.face != b.second.face && ahead(a.second, b.second) > 0;
        });
        for (std::size_t i = 0; i < rest.size(); ++i) wings[i + 1] = rest[i].second;
    }

  private:
    /// +1 where b lies within half a turn ahead of a, -1 behind, 0 opposite. Sub-faces never overlap, so two at one
    /// edge cannot lie on each other.
    int ahead(const Wing& a, const Wing& b) const {
        const FaceId plane = faces_.plane[a.face];
        const int side =
            plane_side(soup_.corner(plane, 0), soup_.corner(plane, 1), soup_.corner(plane, 2), points_.view(b.apex));
        return a.forward ? side : -side;
    }
    const Soup& soup_;
    const PointTable& points_;
    const SubFaces& faces_;
};

/// Joins the two sides that look into the same wedge at an edge, for all edges.
void join_sides(const EdgeTable& edges, const SubFaces& faces, const RadialOrder& order, DisjointSets& sides) {
    std::vector<Wing> wings;
    for (EdgeId e : ids<EdgeId>(edges.size())) {
        wings.clear();
        for (std::uint32_t h : edges.uses(e))
            wings.push_back({h / 3, edges.forward(h), faces.corners[h / 3][(h % 3 + 2) % 3]});
        if (wings.size() > 2) order.sort(wings);
        for (std::size_t i = 0; i < wings.size(); ++i)
            sides.join(wings[i].side_ahead(), wings[(i + 1) % wings.size()].side_behind());
    }
}

/// What is added to each operand's winding when a face is passed from its front to its back.
template <class Add>
void for_each_jump(const SubFaces& faces, std::uint32_t face, const Add& add) {
    for (const FaceSource& s : faces.sources[faces.source[face]]) add(s.operand, s.reversed ? -1 : 1);
}

Error does_not_close(const SubFaces& faces, std::uint32_t face) {
    const FaceSource s = faces.sources[faces.source[face]].front();
    return {
        ErrorCode::open_operand,
        "the faces do not close: inside and outside cannot be told apart near face " + std::to_string(s.face.value()),
        "operand " + std::to_string(s.operand + 1), static_cast<int>(s.operand)};
}

}  // namespace

Result<Cells> find_cells(const Soup& soup, const BoxTree& tree, const PointTable& points, const SubFaces& faces,
                         Progress& progress) {
    const std::uint32_t n = static_cast<std::uint32_t>(faces.corners.size());
    const EdgeTable edges(faces.corners, points.size());
    if (progress.cancelled()) return cancelled_error();
    DisjointSets sides(2 * std::size_t{n});
    join_sides(edges, faces, RadialOrder(soup, points, faces), sides);
    if (progress.cancelled()) return cancelled_error();
    progress.part(0.5);

    Cells cells;
    cells.operands = soup.operands;
    std::vector<std::uint32_t> cell_of;
    cells.count = sides.number(cell_of);
    cells.of_face.resize(n);
    for (std::uint32_t f = 0; f < n; ++f) cells.of_face[f] = {cell_of[2 * f], cell_of[2 * f + 1]};
    cells.winding.assign(std::size_t{cells.count} * cells.operands, 0);

    // Faces at each cell, for spreading from cell to cell.
    std::vector<std::uint32_t> start(cells.count + 1, 0), at_cell(2 * std::size_t{n});
    for (const auto& c : cells.of_face)
        for (std::uint32_t cell : c) ++start[cell + 1];
    for (std::uint32_t c = 0; c < cells.count; ++c) start[c + 1] += start[c];
    std::vector<std::uint32_t> fill(start.begin(), start.end() - 1);
    for (std::uint32_t f = 0; f < n; ++f)
        for (std::uint32_t cell : cells.of_face[f]) at_cell[fill[cell]++] = f;

    const RayWinding rays(soup.points.raw(), soup.faces.raw(), tree);
    std::vector<char> known(cells.count, 0);
    std::vector<std::uint32_t> stack;
    auto row = [&](std::uint32_t cell) {
        return cells.winding.begin() + static_cast<long>(std::size_t{cell} * cells.operands);
    };
    for (std::uint32_t seed = 0; seed < n; ++seed) {
        if (known[cells.of_face[seed][0]]) continue;
        if (progress.cancelled()) return cancelled_error();
        const auto& t = faces.corners[seed];
        std::vector<std::int32_t> winding(cells.operands, 0);
        const bool front = rays.beside_face({points.view(t[0]), points.view(t[1]), points.view(t[2])},
                                            soup.faces[faces.plane[seed]], [&](std::uint32_t face, int sign) {
                                                for (const FaceSource& s : soup.sources[soup.source[face]])
                                                    winding[s.operand] += s.reversed ? -sign : sign;
                                            });
        const std::uint32_t origin = cells.of_face[seed][front ? 0 : 1];
        std::copy(winding.begin(), winding.end(), row(origin));
        known[origin] = 1;
        stack.push_back(origin);
        while (!stack.empty()) {
            const std::uint32_t cell = stack.back();
            stack.pop_back();
            for (std::uint32_t i = start[cell]; i < start[cell + 1]; ++i) {
                const std::uint32_t f = at_cell[i];
                const bool from_front = cells.of_face[f][0] == cell;
                const std::uint32_t other = cells.of_face[f][from_front ? 1 : 0];
                if (known[other]) continue;
                std::copy(row(cell), row(cell) + cells.operands, row(other));
                for_each_jump(faces, f, [&](std::uint32_t o, int jump) { row(other)[o] += from_front ? jump : -jump; });
                known[other] = 1;
                stack.push_back(other);
            }
        }
    }

    // Every face must agree with what was spread; an operand that does not close cannot.
    std::vector<std::int32_t> expected(cells.operands);
    for (std::uint32_t f = 0; f < n; ++f) {
        const auto [front, back] = cells.of_face[f];
        std::copy(row(front), row(front) + cells.operands, expected.begin());
        for_each_jump(faces, f, [&](std::uint32_t o, int jump) { expected[o] += jump; });
        if (!std::equal(expected.begin(), expected.end(), row(back))) return does_not_close(faces, f);
    }
    return cells;
}

}  // namespace anvil
