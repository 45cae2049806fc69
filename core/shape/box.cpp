// A box with its edges rounded, and a sphere, which is one without flat sides: eight octants, moved apart.
#include <algorithm>
#include <array>
#include <cmath>

#include "core/mesh/circle.h"
#include "core/mesh/primitives.h"
#include "core/shape/shapes.h"

namespace anvil {
namespace {

using Signs = std::array<int, 3>;

/// Points of an octant of a sphere in rows from the pole on z: row i of n has i + 1 points, at even angles.
class RoundedBox {
  public:
    /// Of that size about its middle, which lies half its height above z = 0. `rows` of faces in a quarter turn.
    RoundedBox(const Vec3& size, double radius, int rows) : half_(size * 0.5), radius_(radius), rows_(rows) {
        for (int octant = 0; octant < 8; ++octant)
            for (int i = 0; i <= rows_; ++i)
                for (int j = 0; j <= i; ++j) {
                    const Point2 along = on_circle(i, 4 * rows_), round = i > 0 ? on_circle(j, 4 * i) : Point2{1, 0};
                    out_.mesh.points.push_back(at(signs_of(octant), {along.v * round.u, along.v * round.v, along.u}));
                }
    }

    Solid made() {
        for (int octant = 0; octant < 8; ++octant) add_corner(octant);
        for (int axis = 0; axis < 3; ++axis)
            for (int which = 0; which < 4; ++which) add_edge(axis, which);
        for (int side = 0; side < 6; ++side) add_flat(side);
        return without_empty_faces(out_);
    }

  private:
    static Signs signs_of(int octant) { return {octant & 1 ? 1 : -1, octant & 2 ? 1 : -1, octant & 4 ? 1 : -1}; }
    static int octant_of(const Signs& s) { return (s[0] > 0) + 2 * (s[1] > 0) + 4 * (s[2] > 0); }

    /// So that what lies on a flat side is just there: no coordinate is a sum of the radius and the rest.
    Vec3 at(const Signs& s, const Vec3& direction) const {
        Vec3 p;
        for (int k = 0; k < 3; ++k) p[k] = s[static_cast<std::size_t>(k)] * (half_[k] - radius_ * (1 - direction[k]));
        p.z = s[2] > 0 ? 2 * half_.z - radius_ * (1 - direction.z) : radius_ * (1 - direction.z);
        return p;
    }
    VertexId point(int octant, int i, int j) const {
        return VertexId(static_cast<std::uint32_t>(octant * (rows_ + 1) * (rows_ + 2) / 2 + i * (i + 1) / 2 + j));
    }
    void add(VertexId a, VertexId b, VertexId c, std::uint32_t side) {
        out_.mesh.faces.push_back({a, b, c});
        out_.side.push_back(side);
    }
    /// Either way round: turned so that it looks along `out`.
    void add_quad(VertexId a, VertexId b, VertexId c, VertexId d, const Vec3& out, std::uint32_t side) {
        const auto& p = out_.mesh.points;
        const Vec3 normal = cross(p[c] - p[a], p[d] - p[b]);
        if (dot(normal, out) < 0) std::swap(b, d);
        add(a, b, c, side);
        add(a, c, d, side);
    }

    void add_corner(int octant) {
        const Signs s = signs_of(octant);
        const bool mirrored = s[0] * s[1] * s[2] < 0;
        const auto side = static_cast<std::uint32_t>(18 + octant);
        auto face = [&](VertexId a, VertexId b, VertexId c) { mirrored ? add(a, c, b, side) : add(a, b, c, side); };
        for (int i = 0; i < rows_; ++i)
            for (int j = 0; j <= i; ++j) {
                face(point(octant, i, j), point(octant, i + 1, j), point(octant, i + 1, j + 1));
                if (j < i) face(point(octant, i, j), point(octant, i + 1, j + 1), point(octant, i, j + 1));
            }
    }

    /// The k-th point of the quarter circle across an axis, in an octant.
    VertexId on_arc(int axis, int octant, int k) const {
        return axis == 0 ? point(octant, k, k) : axis == 1 ? point(octant, k, 0) : point(octant, rows_, k);
    }
    void add_edge(int axis, int which) {
        Signs low{};
        low[static_cast<std::size_t>(axis)] = -1;
        low[static_cast<std::size_t>((axis + 1) % 3)] = which & 1 ? 1 : -1;
        low[static_cast<std::size_t>((axis + 2) % 3)] = which & 2 ? 1 : -1;
        Signs high = low;
        high[static_cast<std::size_t>(axis)] = 1;
        Vec3 out;
        for (int k = 0; k < 3; ++k) out[k] = k == axis ? 0 : low[static_cast<std::size_t>(k)];
        const int a = octant_of(low), b = octant_of(high);
        for (int k = 0; k < rows_; ++k)
            add_quad(on_arc(axis, a, k), on_arc(axis, a, k + 1), on_arc(axis, b, k + 1), on_arc(axis, b, k), out,
                     static_cast<std::uint32_t>(6 + 4 * axis + which));
    }

    void add_flat(int side) {
        const int axis = side / 2;
        Vec3 out;
        out[axis] = side % 2 ? 1 : -1;
        std::array<VertexId, 4> corners;
        constexpr int round[4][2] = {{-1, -1}, {1, -1}, {1, 1}, {-1, 1}};
        for (std::size_t k = 0; k < 4; ++k) {
            Signs s{};
            s[static_cast<std::size_t>(axis)] = side % 2 ? 1 : -1;
            s[static_cast<std::size_t>((axis + 1) % 3)] = round[k][0];
            s[static_cast<std::size_t>((axis + 2) % 3)] = round[k][1];
            const int octant = octant_of(s);
            corners[k] = axis == 0   ? point(octant, rows_, 0)
                         : axis == 1 ? point(octant, rows_, rows_)
                                     : point(octant, 0, 0);
        }
        add_quad(corners[0], corners[1], corners[2], corners[3], out, static_cast<std::uint32_t>(side));
    }

    Vec3 half_;
    double radius_;
    int rows_;
    Solid out_;
};

/// Rows in a quarter turn. Near the pole, but some rows from it, faces leave the sphere most: right-angled, their legs
/// are pi r / (2 n) from row to row and pi^2 r / (4 n) along one, and a face leaves the sphere by its circumradius
/// squared over 2 r.
int rows_of(double radius, const Facets& facets) {
    if (facets.around > 0) return std::max(1, (facets.around + 3) / 4);
    const double n = std::sqrt(1.0694 * radius / facets.chord);
    return static_cast<int>(std::clamp(std::ceil(n), 2.0, 1e6));
}

}  // namespace

Result<Solid> box_shape(const BoxMeasures& m) {
    const double shortest = std::min({m.size.x, m.size.y, m.size.z});
    if (2 * m.edge_radius > shortest)
        return Error{ErrorCode::out_of_range, "the edge radius is more than half the shortest side of the box", ""};
    if (m.edge_radius == 0) {
        Solid out{make_box({-m.size.x / 2, -m.size.y / 2, 0}, {m.size.x / 2, m.size.y / 2, m.size.z}), {}};
        for (const std::uint32_t side : {4u, 5u, 2u, 3u, 0u, 1u})  // in the order of make_box
            for (int k = 0; k < 2; ++k) out.side.push_back(side);
        return out;
    }
    const int rows = rows_of(m.edge_radius, m.facets);
    if (auto fit = check_face_count(8.0 * rows * rows + 24.0 * rows); !fit) return fit.error();
    return RoundedBox(m.size, m.edge_radius, rows).made();
}

Result<Solid> sphere_shape(const SphereMeasures& m) {
    const double r = m.diameter / 2;
    const int rows = rows_of(r, m.facets);
    if (auto fit = check_face_count(8.0 * rows * rows); !fit) return fit.error();
    Solid out = RoundedBox({m.diameter, m.diameter, m.diameter}, r, rows).made();
    for (std::uint32_t& side : out.side) side = 0;
    return out;
}

}  // namespace anvil
