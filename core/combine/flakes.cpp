#include "core/combine/flakes.h"

#include <algorithm>
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
    long double cone = 0, square = 0;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const std::size_t next = (axis + 1) % 3, last = (axis + 2) % 3;
        const long double n = u[next] * v[last] - u[last] * v[next];
        cone += from_origin[axis] * n;
        square += n * n;
    }
    volume_ += times * cone / 6;
    area_ += std::abs(times) * std::sqrt(square) / 2;
}

void ShellThickness::add(const ShellThickness& other) {
    volume_ += other.volume_;
    area_ += other.area_;
}

std::vector<char> thin_shells(std::span<const ShellThickness> thickness, double digit, RoundedFaces& faces) {
    std::vector<char> out;
    for (const ShellThickness& shell : thickness) {
        out.push_back(shell.is_thin(digit));
        if (out.back()) faces.largest_move = std::max(faces.largest_move, shell.thickness());
    }
    return out;
}

void drop_flakes(RoundedFaces& rounded, Precision precision, const Progress& progress) {
    const std::vector<EdgeUse> uses = edge_uses(rounded.faces);
    if (progress.cancelled()) return;
    DisjointSets sets(rounded.faces.size());
    std::vector<std::uint32_t> open;  // faces at edges that are closed elsewhere
    for_each_run(std::span(uses), same_edge, [&](std::span<const EdgeUse> here) {
        int balance = 0;
        for (const EdgeUse& use : here) {
            balance += use.forward ? 1 : -1;
            sets.join(here.front().face, use.face);
        }
        if (balance != 0) open.push_back(here.front().face);
    });
    std::vector<std::uint32_t> shell;
    const std::uint32_t shells = sets.number(shell);
    std::vector<char> closed(shells, 1);
    for (std::uint32_t f : open) closed[shell[f]] = 0;
    if (std::ranges::find(closed, 1) == closed.end() || progress.cancelled()) return;
    auto shell_of = [&](std::size_t f) { return shell[f]; };
    auto is_closed = [&](std::size_t f) { return closed[shell[f]]; };
    const auto thickness = thickness_of_shells(rounded, shells, shell_of, is_closed, progress);
    if (progress.cancelled()) return;
    note_thickness(thickness, shell_of, is_closed, rounded);
    const double digit = last_digit(reach_of(rounded.points), precision);
    const std::vector<char> thin = thin_shells(thickness, digit, rounded);
    auto drops = [&](std::uint32_t s) { return closed[s] && thin[s]; };
    if (std::ranges::none_of(std::views::iota(0u, shells), drops)) return;
    std::size_t kept = 0;
    for (std::size_t f = 0; f < rounded.faces.size(); ++f)
        if (!drops(shell[f])) rounded.take(kept++, f);
    rounded.resize(kept);
}

}  // namespace anvil
