#include "core/combine/flakes.h"

#include <gmpxx.h>

#include <algorithm>
#include <map>
#include <ranges>

#include "core/mesh/disjoint_sets.h"
#include "core/mesh/edge_uses.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {

void ShellThickness::add(const CornerPoints& corners, int times) {
    Coordinates p[3];
    for (std::size_t k = 0; k < 3; ++k) p[k] = coordinates(*corners[k]);
    if (!origin_) origin_ = p[0];
    Coordinates u, v, from_origin;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        u[axis] = p[1][axis] - p[0][axis];
        v[axis] = p[2][axis] - p[0][axis];
        from_origin[axis] = p[0][axis] - (*origin_)[axis];
    }
    long double cone = 0, square = 0, size = 1;
    for (const Coordinates* way : {&u, &v, &from_origin})
        size *= std::fabs((*way)[0]) + std::fabs((*way)[1]) + std::fabs((*way)[2]);
    error_ += std::abs(times) * size * 0x1p-62L;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const std::size_t next = (axis + 1) % 3, last = (axis + 2) % 3;
        const long double n = u[next] * v[last] - u[last] * v[next];
        cone += from_origin[axis] * n;
        square += n * n;
    }
    volume_ += times * cone / 6;
    area_ += std::abs(times) * std::sqrt(square) / 2;
}

void ThicknessBound::add(const CornerPoints& corners, int times) {
    const Vec3 u = (*corners[1] - *corners[0]) * scale_, v = (*corners[2] - *corners[0]) * scale_;
    const Vec3 w = (*corners[0] - origin_) * scale_, n = cross(u, v);
    auto amount = [](const Vec3& a) { return std::fabs(a.x) + std::fabs(a.y) + std::fabs(a.z); };
    add_volume(times * dot(w, n) / 6);
    area_ += std::abs(times) * norm(n) / 2;
    size_ += std::abs(times) * amount(u) * amount(v) * amount(w);
}

void ThicknessBound::add(const ThicknessBound& other) {
    add_volume(other.volume_);
    lost_ += other.lost_;
    area_ += other.area_;
    size_ += other.size_;
}

void ShellThickness::add(const ShellThickness& other) {
    volume_ += other.volume_;
    area_ += other.area_;
    error_ += other.error_;
}

void ShellThickness::set_volume(double mm3) {
    volume_ = std::ldexp(static_cast<long double>(mm3), -3 * exponent_);
    error_ = 0;
}

namespace {

/// Six times what a face and a point enclose, mm3.
mpq_class exact_cone(const CornerPoints& corners, const Vec3& from) {
    mpq_class p[3][3];
    for (std::size_t k = 0; k < 3; ++k)
        for (int axis = 0; axis < 3; ++axis) p[k][axis] = mpq_class((*corners[k])[axis]) - mpq_class(from[axis]);
    return p[0][0] * (p[1][1] * p[2][2] - p[1][2] * p[2][1]) + p[0][1] * (p[1][2] * p[2][0] - p[1][0] * p[2][2]) +
           p[0][2] * (p[1][0] * p[2][1] - p[1][1] * p[2][0]);
}

}  // namespace

void tell_exactly(std::vector<ShellThickness>& shells, const RoundedFaces& faces,
                  const std::function<std::size_t(std::size_t)>& shell, const std::function<int(std::size_t)>& times,
                  const Progress& progress) {
    std::map<std::size_t, mpq_class> open;
    for (std::size_t s = 0; s < shells.size(); ++s)
        if (shells[s].is_open()) open.emplace(s, 0);
    for (std::size_t f = 0; f < faces.faces.size() && !open.empty() && !progress.cancelled(); ++f)
        if (const auto at = open.find(shell(f)); at != open.end())
            if (const int count = times(f))
                at->second += count * exact_cone(corner_points(faces.points, faces.faces[f]), faces.points.front());
    for (const auto& [s, six_times] : open) shells[s].set_volume(mpq_class(six_times / 6).get_d());
}

std::vector<char> thin_shells(std::span<const ShellThickness> thickness, double digit, RoundedFaces& faces) {
    std::vector<char> out;
    for (const ShellThickness& shell : thickness) {
        out.push_back(shell.is_thin(digit));
        if (out.back()) faces.largest_move = std::max(faces.largest_move, shell.thickness());
    }
    return out;
}

namespace {

/// Joins the faces that hang together at edges. Returns those at edges that are closed elsewhere: run along more often
/// one way than the other.
std::vector<std::uint32_t> join_shells(const RoundedFaces& rounded, const HalfEdges& edges, DisjointSets& shells) {
    edges.for_each_neighbours([&](std::uint32_t f, std::uint32_t g) { shells.join(f, g); });
    const std::vector<EdgeUse> irregular = irregular_uses(rounded.faces, edges);
    std::vector<std::uint32_t> open;
    for_each_run(std::span(irregular), same_edge, [&](std::span<const EdgeUse> here) {
        int balance = 0;
        for (const EdgeUse& use : here) {
            balance += use.forward ? 1 : -1;
            shells.join(here.front().face, use.face);
        }
        if (balance != 0) open.push_back(here.front().face);
    });
    return open;
}

}  // namespace

std::vector<char> find_flakes(RoundedFaces& rounded, const HalfEdges& edges, Precision precision,
                              const Progress& progress) {
    DisjointSets sets(rounded.faces.size());
    const std::vector<std::uint32_t> open = join_shells(rounded, edges, sets);
    if (progress.cancelled()) return {};
    std::vector<std::uint32_t> shell;
    const std::uint32_t shells = sets.number(shell);
    std::vector<char> closed(shells, 1);
    for (std::uint32_t f : open) closed[shell[f]] = 0;
    if (std::ranges::find(closed, 1) == closed.end() || progress.cancelled()) return {};
    auto shell_of = [&](std::size_t f) { return shell[f]; };
    auto is_closed = [&](std::size_t f) { return closed[shell[f]]; };
    const double digit = last_digit(reach_of(rounded.points), precision);
    const auto thickness = thickness_of_shells(rounded, shells, shell_of, is_closed, digit, progress);
    if (progress.cancelled()) return {};
    note_thickness(thickness, shell_of, is_closed, rounded);
    const std::vector<char> thin = thin_shells(thickness, digit, rounded);
    auto drops = [&](std::uint32_t s) { return closed[s] && thin[s]; };
    if (std::ranges::none_of(std::views::iota(0u, shells), drops)) return {};
    std::vector<char> out;
    for (const std::uint32_t s : shell) out.push_back(drops(s));
    return out;
}

void drop_flakes(RoundedFaces& rounded, Precision precision, const Progress& progress) {
    const HalfEdges edges = find_half_edges(rounded.faces, rounded.points.size());
    const std::vector<char> flakes = find_flakes(rounded, edges, precision, progress);
    if (!flakes.empty()) rounded.drop(flakes);
}

}  // namespace anvil
