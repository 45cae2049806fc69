#include "core/combine/flakes.h"

#include <algorithm>

#include "core/mesh/disjoint_sets.h"
#include "core/mesh/edge_uses.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {

std::size_t drop_flakes(RoundedFaces& rounded, Precision precision, double grid) {
    const std::vector<EdgeUse> uses = edge_uses(rounded.faces);
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
    std::vector<char> closed(shells, 1), drop(shells, 0);
    for (std::uint32_t f : open) closed[shell[f]] = 0;
    if (std::ranges::find(closed, 1) == closed.end()) return 0;
    // Near 1, so that no volume leaves the range of doubles.
    const double reach = reach_of(rounded.points);
    const int exponent = reach > 0 ? std::ilogb(reach) : 0;
    auto scaled = [&](const Vec3& p) {
        return Vec3{std::ldexp(p.x, -exponent), std::ldexp(p.y, -exponent), std::ldexp(p.z, -exponent)};
    };
    std::vector<double> volume(shells, 0), area(shells, 0);
    std::vector<Vec3> origin(shells);
    std::vector<char> met(shells, 0);
    for (std::uint32_t f = 0; f < rounded.faces.size(); ++f) {
        const std::uint32_t s = shell[f];
        if (!closed[s]) continue;
        const CornerPoints c = corner_points(rounded.points, rounded.faces[f]);
        const Vec3 p = scaled(*c[0]);
        if (!met[s]) met[s] = 1, origin[s] = p;
        const Vec3 n = cross(scaled(*c[1]) - p, scaled(*c[2]) - p);
        volume[s] += dot(p - origin[s], n) / 6;
        area[s] += norm(n) / 2;
    }
    const double digit = std::ldexp(std::max(grid, last_digit(reach, precision)), -exponent);
    std::size_t count = 0;
    for (std::uint32_t s = 0; s < shells; ++s)
        if (closed[s] && std::fabs(volume[s]) <= 4 * digit * area[s]) {
            drop[s] = 1;
            ++count;
            // Its two sides, half of the area each, are so far apart.
            if (area[s] > 0)
                rounded.largest_move =
                    std::max(rounded.largest_move, std::ldexp(2 * std::fabs(volume[s]) / area[s], exponent));
        }
    if (count == 0) return 0;
    std::size_t kept = 0;
    for (std::size_t f = 0; f < rounded.faces.size(); ++f) {
        if (drop[shell[f]]) continue;
        rounded.faces[kept] = rounded.faces[f];
        rounded.source[kept] = rounded.source[f];
        rounded.origin[kept++] = rounded.origin[f];
    }
    rounded.faces.resize(kept);
    rounded.source.resize(kept);
    rounded.origin.resize(kept);
    return count;
}

}  // namespace anvil
