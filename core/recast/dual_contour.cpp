#include "core/recast/dual_contour.h"

#include <tbb/concurrent_vector.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>

#include <Eigen/Eigenvalues>
#include <numeric>
#include <optional>
#include <span>
#include <tuple>

namespace anvil {
namespace {

constexpr std::uint32_t none = 0xffffffffu;

// The corners of a cell are numbered by three bits, x the lowest. Edge 4 a + u + 2 v runs along axis a; u and v tell
// its side along the two axes that follow a.
constexpr int next(int axis) { return (axis + 1) % 3; }
constexpr int low_corner(int edge) {
    const int a = edge / 4, u = edge % 2, v = edge / 2 % 2;
    return u << next(a) | v << next(next(a));
}
constexpr int axis_of(int edge) { return edge / 4; }
constexpr int edge_between(int p, int q) {
    const int bit = p ^ q, axis = bit == 1 ? 0 : bit == 2 ? 1 : 2, low = p & q;
    return 4 * axis + (low >> next(axis) & 1) + 2 * (low >> next(next(axis)) & 1);
}

/// The parts of the surface in a cell, by the signs at its corners: per edge the number of its part, or -1 for edges
/// that the surface does not pass.
struct CellParts {
    std::array<signed char, 12> part{};
    int count = 0;
};

/// Passages are of one part where they are linked across a side of the cell. A side with four of them is linked round
/// its inner corners, so that both cells at it link alike.
CellParts parts_of(unsigned corners) {
    auto is_in = [&](int c) { return (corners >> c & 1) != 0; };
    std::array<int, 12> group{};
    std::iota(group.begin(), group.end(), 0);
    auto root = [&](int e) {
        while (group[static_cast<std::size_t>(e)] != e) e = group[static_cast<std::size_t>(e)];
        return e;
    };
    auto link = [&](int e, int f) { group[static_cast<std::size_t>(root(e))] = root(f); };
    for (int axis = 0; axis < 3; ++axis)
        for (int side = 0; side < 2; ++side) {
            const int b = 1 << next(axis), c = 1 << next(next(axis)), base = side << axis;
            const int round[4] = {base, base | b, base | b | c, base | c};
            int edges[4], passed[4], n = 0;
            for (int k = 0; k < 4; ++k) {
                edges[k] = edge_between(round[k], round[(k + 1) % 4]);
                if (is_in(round[k]) != is_in(round[(k + 1) % 4])) passed[n++] = edges[k];
            }
            if (n == 2) link(passed[0], passed[1]);
            if (n == 4)
                for (int k = 0; k < 4; ++k)
                    if (is_in(round[k])) link(edges[(k + 3) % 4], edges[k]);
        }
    CellParts out;
    out.part.fill(-1);
    std::array<signed char, 12> number;
    number.fill(-1);
    for (int e = 0; e < 12; ++e) {
        const int low = low_corner(e);
        if (is_in(low) == is_in(low | 1 << axis_of(e))) continue;
        signed char& n = number[static_cast<std::size_t>(root(e))];
        if (n < 0) n = static_cast<signed char>(out.count++);
        out.part[static_cast<std::size_t>(e)] = n;
    }
    return out;
}

/// Where planes meet as nearly as they can, as near to `middle` as they leave free.
struct Meeting {
    Vec3 at;
    double miss = 0;  ///< mm, by which it is off the planes at most
    Vec3 along;       ///< of length 1, where they meet in a line; else 0
};

/// `left_out`: in how many directions, those that the planes say least about, the middle is kept in any case.
Meeting meeting_of(std::span<const SurfacePassage> planes, const Vec3& middle, int left_out) {
    Eigen::Matrix3d ata = Eigen::Matrix3d::Zero();
    Eigen::Vector3d atb = Eigen::Vector3d::Zero();
    for (const SurfacePassage& p : planes) {
        const Eigen::Vector3d n(p.normal.x, p.normal.y, p.normal.z);
        ata += n * n.transpose();
        atb += n * dot(p.normal, p.on - middle);
    }
    Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> solver;
    solver.computeDirect(ata);
    const auto& values = solver.eigenvalues();  // ascending
    // Below this share planes differ by what a curved surface does within a cell, not by an edge.
    constexpr double least = 0.01;
    Eigen::Vector3d move = Eigen::Vector3d::Zero();
    int directions = 0;
    for (int k = left_out; k < 3; ++k)
        if (values[k] > least * values[2]) {
            move += solver.eigenvectors().col(k) * (solver.eigenvectors().col(k).dot(atb) / values[k]);
            ++directions;
        }
    Meeting out{middle + Vec3{move.x(), move.y(), move.z()}, 0, {}};
    const Eigen::Vector3d free = solver.eigenvectors().col(0);
    if (directions == 2) out.along = {free.x(), free.y(), free.z()};
    for (const SurfacePassage& p : planes) out.miss = std::max(out.miss, std::fabs(dot(p.normal, out.at - p.on)));
    return out;
}

class Contour {
  public:
    Contour(const Lattice& lattice, const std::vector<char>& inside, const ContourSource& source, Progress& progress)
        : lattice_(lattice), inside_(inside), source_(source), progress_(progress) {}

    Result<Mesh> run() {
        find_passages();
        if (progress_.cancelled()) return cancelled_error();
        find_cells();
        if (progress_.cancelled()) return cancelled_error();
        place_points();
        add_faces();
        if (progress_.cancelled()) return cancelled_error();
        return std::move(mesh_);
    }

  private:
    struct Passed {
        std::array<int, 3> low;
        int axis;
        SurfacePassage surface;
    };
    struct Cell {
        std::array<int, 3> low;
        CellParts parts;
        std::uint32_t first_point;
    };

    std::array<int, 3> beside(std::array<int, 3> at, int axis, int by = 1) const {
        at[static_cast<std::size_t>(axis)] += by;
        return at;
    }

    void find_passages() {
        passed_at_.assign(3 * lattice_.count(), none);
        for (std::size_t n = 0; n < lattice_.count(); ++n) {
            if (n % 65536 == 0 && progress_.cancelled()) return;
            for (int axis = 0; axis < 3; ++axis) {
                const auto low = lattice_.at(n), high = beside(low, axis);
                const auto a = static_cast<std::size_t>(axis);
                if (high[a] >= lattice_.size[a] || inside_[n] == inside_[lattice_.number(high)]) continue;
                passed_at_[3 * n + a] = static_cast<std::uint32_t>(passed_.size());
                passed_.push_back({low, axis, {}});
            }
        }
        tbb::parallel_for(std::size_t{0}, passed_.size(), [&](std::size_t i) {
            if (progress_.cancelled()) return;
            Passed& p = passed_[i];
            Vec3 inner = lattice_.point(p.low), outer = lattice_.point(beside(p.low, p.axis));
            if (!inside_[lattice_.number(p.low)]) std::swap(inner, outer);
            p.surface = source_.passage(inner, outer);
        });
    }

    void find_cells() {
        cell_at_.assign(lattice_.count(), none);
        std::uint32_t points = 0;
        for (std::size_t n = 0; n < lattice_.count(); ++n) {
            const auto low = lattice_.at(n);
            bool is_cell = true;
            for (std::size_t k = 0; k < 3; ++k) is_cell = is_cell && low[k] + 1 < lattice_.size[k];
            if (!is_cell) continue;
            unsigned corners = 0;
            for (int c = 0; c < 8; ++c) corners |= unsigned(inside_[lattice_.number(corner(low, c))] != 0) << c;
            if (corners == 0 || corners == 255) continue;
            cell_at_[n] = static_cast<std::uint32_t>(cells_.size());
            cells_.push_back({low, parts_of(corners), points});
            points += static_cast<std::uint32_t>(cells_.back().parts.count);
        }
        mesh_.points.resize(points);
    }
    static std::array<int, 3> corner(std::array<int, 3> low, int c) {
        for (std::size_t k = 0; k < 3; ++k) low[k] += c >> k & 1;
        return low;
    }

    /// The cell that a point is in, as its number; on the wall between two cells the given one. Nothing where that is
    /// neither it nor one beside it.
    std::optional<std::size_t> cell_of(const Vec3& p, const Cell& cell) const {
        std::array<int, 3> at;
        for (std::size_t k = 0; k < 3; ++k) {
            const double steps = (p[static_cast<int>(k)] - lattice_.origin[static_cast<int>(k)]) / lattice_.cell;
            if (!(steps >= cell.low[k] - 1 && steps <= cell.low[k] + 2)) return std::nullopt;
            at[k] =
                steps >= cell.low[k] && steps <= cell.low[k] + 1 ? cell.low[k] : static_cast<int>(std::floor(steps));
            if (at[k] < 0 || at[k] + 1 >= lattice_.size[k]) return std::nullopt;
        }
        return lattice_.number(at);
    }
    /// Whether a cell's point may be there: within the cell, or, where it may be `beside`, in one next to it that the
    /// surface does not pass as far as the lattice can tell: an edge or a corner may reach into it.
    bool is_free(const Cell& cell, const Vec3& p, bool beside) const {
        const auto at = cell_of(p, cell);
        return at && (*at == lattice_.number(cell.low) || (beside && cell_at_[*at] == none));
    }

    /// Where planes meet, exactly, and the cell's point may be: for planes that meet in a line as near to the middle as
    /// it is free along that.
    std::optional<Vec3> exact_meeting(const Cell& cell, std::span<const SurfacePassage> planes, const Vec3& middle,
                                      bool beside) const {
        const Meeting m = meeting_of(planes, middle, 0);
        const double near = 1e-3 * lattice_.cell;
        if (m.miss > near) return std::nullopt;
        // Planes go on where the surface ends.
        auto may_be = [&](const Vec3& p) { return is_free(cell, p, beside) && source_.distance(p) <= near; };
        if (may_be(m.at)) return m.at;
        constexpr int steps = 16;  // per cell
        for (int k = 1; k <= 3 * steps && m.along != Vec3{}; ++k)
            if (const Vec3 p = m.at + m.along * (lattice_.cell * ((k + 1) / 2) * (k % 2 ? 1 : -1) / steps); may_be(p))
                return p;
        return std::nullopt;
    }

    /// Where a part's point goes: to a corner if there is one, else to an edge, else as near to its planes as may be.
    /// `near`: planes in the cell and round it.
    Vec3 place_of(const Cell& cell, std::vector<SurfacePassage> planes, const std::vector<SurfacePassage>& near,
                  const Vec3& middle, bool beside) const {
        const std::size_t own = planes.size();
        planes.insert(planes.end(), near.begin(), near.end());
        if (!near.empty())
            if (const auto place = exact_meeting(cell, planes, middle, beside)) return *place;
        for (const SurfacePassage& one : near) {
            planes.resize(own);
            planes.push_back(one);
            if (const auto place = exact_meeting(cell, planes, middle, beside)) return *place;
        }
        planes.resize(own);
        for (int left_out = 0; left_out < 3; ++left_out)
            if (const Meeting m = meeting_of(planes, middle, left_out); is_free(cell, m.at, beside)) return m.at;
        return middle;
    }

    /// A point that would go to a cell beside its own.
    struct Claim {
        std::size_t cell;  ///< by its lowest corner
        VertexId point;
        Vec3 place;
        double way;  ///< mm, from the middle of its own passages
    };

    void place_points() {
        tbb::concurrent_vector<Claim> claims;
        tbb::parallel_for(std::size_t{0}, cells_.size(), [&](std::size_t i) {
            if (progress_.cancelled()) return;
            const Cell& cell = cells_[i];
            Box round;
            round.add(lattice_.point(beside(beside(beside(cell.low, 0, -1), 1, -1), 2, -1)));
            round.add(lattice_.point(corner(corner(cell.low, 7), 7)));
            const std::vector<SurfacePassage> near = source_.planes_in(round);
            std::vector<SurfacePassage> planes;
            for (int part = 0; part < cell.parts.count; ++part) {
                planes.clear();
                for (int e = 0; e < 12; ++e)
                    if (cell.parts.part[static_cast<std::size_t>(e)] == part) {
                        const auto low = lattice_.number(corner(cell.low, low_corner(e)));
                        planes.push_back(passed_[passed_at_[3 * low + static_cast<std::size_t>(axis_of(e))]].surface);
                    }
                Vec3 middle;
                for (const SurfacePassage& p : planes)
                    middle = middle + p.place * (1.0 / static_cast<double>(planes.size()));
                const VertexId v(cell.first_point + static_cast<std::uint32_t>(part));
                mesh_.points[v] = place_of(cell, planes, near, middle, true);
                if (is_free(cell, mesh_.points[v], false)) continue;
                claims.push_back({*cell_of(mesh_.points[v], cell), v, mesh_.points[v], norm(mesh_.points[v] - middle)});
                mesh_.points[v] = place_of(cell, planes, near, middle, false);
            }
        });
        // One point a cell, or faces would fold over each other there: the one that has the shortest way.
        tbb::parallel_sort(claims.begin(), claims.end(), [](const Claim& a, const Claim& b) {
            return std::tie(a.cell, a.way, a.point) < std::tie(b.cell, b.way, b.point);
        });
        for (std::size_t i = 0; i < claims.size(); ++i)
            if (i == 0 || claims[i].cell != claims[i - 1].cell) mesh_.points[claims[i].point] = claims[i].place;
    }

    /// Four cells lie round each passage; their points make two faces across it.
    void add_faces() {
        for (const Passed& p : passed_) {
            const int b = next(p.axis), c = next(b);
            VertexId v[4];
            const int round[4][2] = {{-1, -1}, {0, -1}, {0, 0}, {-1, 0}};
            for (int k = 0; k < 4; ++k) {
                const auto at = beside(beside(p.low, b, round[k][0]), c, round[k][1]);
                const Cell& cell = cells_[cell_at_[lattice_.number(at)]];
                const int edge = 4 * p.axis - round[k][0] - 2 * round[k][1];
                v[k] = VertexId(cell.first_point +
                                static_cast<std::uint32_t>(cell.parts.part[static_cast<std::size_t>(edge)]));
            }
            if (!inside_[lattice_.number(p.low)]) std::swap(v[1], v[3]);
            // Of the two diagonals that along which the faces fold less.
            const Vec3 a = normal(v[0], v[1], v[2]), d = normal(v[0], v[2], v[3]);
            const Vec3 e = normal(v[1], v[2], v[3]), f = normal(v[1], v[3], v[0]);
            if (dot(a, d) >= dot(e, f)) {
                mesh_.faces.push_back({v[0], v[1], v[2]});
                mesh_.faces.push_back({v[0], v[2], v[3]});
            } else {
                mesh_.faces.push_back({v[1], v[2], v[3]});
                mesh_.faces.push_back({v[1], v[3], v[0]});
            }
        }
    }
    Vec3 normal(VertexId a, VertexId b, VertexId c) const {
        const Vec3& p = mesh_.points[a];
        return normalized(cross(mesh_.points[b] - p, mesh_.points[c] - p));
    }

    const Lattice& lattice_;
    const std::vector<char>& inside_;
    const ContourSource& source_;
    Progress& progress_;
    std::vector<Passed> passed_;
    std::vector<std::uint32_t> passed_at_;  // per point and axis: the passage from it on
    std::vector<Cell> cells_;               // those that the surface passes through
    std::vector<std::uint32_t> cell_at_;    // by the lowest corner
    Mesh mesh_;
};

}  // namespace

Result<Mesh> dual_contour(const Lattice& lattice, const std::vector<char>& inside, const ContourSource& source,
                          Progress& progress) {
    return Contour(lattice, inside, source, progress).run();
}

}  // namespace anvil
