#include "core/spatial/pieces.h"

#include <algorithm>
#include <cmath>

#include "core/mesh/keep_faces.h"
#include "core/mesh/weld.h"
#include "core/spatial/fast_winding.h"

namespace anvil {
namespace {

constexpr std::uint32_t nowhere = ~0u;

struct Shell {
    double volume = 0;  ///< mm3, below 0 where it looks inward
    Box box;
    std::vector<Vec3> points;  ///< some that lie on it, spread over its faces
    std::uint32_t within = nowhere;
};

std::vector<Shell> shells_of(const Mesh& mesh, const Shells& shells) {
    std::vector<Shell> out(shells.count);
    std::vector<std::size_t> faces(shells.count, 0), seen(shells.count, 0);
    for (const std::uint32_t s : shells.shell_of) ++faces[s];
    const Vec3 origin = bounds(mesh).center();
    constexpr std::size_t samples = 5;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const std::uint32_t s = shells.shell_of[f];
        const Vec3 &a = mesh.corner(f, 0), &b = mesh.corner(f, 1), &c = mesh.corner(f, 2);
        out[s].volume += dot(a - origin, cross(b - a, c - a)) / 6;
        for (const Vec3& p : {a, b, c}) out[s].box.add(p);
        if (seen[s]++ * samples / faces[s] >= out[s].points.size()) out[s].points.push_back((a + b + c) * (1.0 / 3));
    }
    return out;
}

Mesh alone(const Mesh& mesh, const Shells& shells, std::uint32_t s) {
    Mesh out;
    out.points = mesh.points;
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        if (shells.shell_of[f] == s) out.faces.push_back(mesh.faces[f]);
    return welded(out);
}

bool lies_in(const Box& inner, const Box& outer) {
    for (int k = 0; k < 3; ++k)
        if (inner.low[k] < outer.low[k] || inner.high[k] > outer.high[k]) return false;
    return true;
}

/// Of each shell the smallest that holds it.
void find_holders(const Mesh& mesh, const Shells& shells, std::vector<Shell>& all, const Progress& progress) {
    for (std::uint32_t outer = 0; outer < all.size() && !progress.cancelled(); ++outer) {
        std::vector<std::uint32_t> near;
        for (std::uint32_t s = 0; s < all.size(); ++s)
            if (s != outer && lies_in(all[s].box, all[outer].box) &&
                std::fabs(all[s].volume) <= std::fabs(all[outer].volume))
                near.push_back(s);
        if (near.empty()) continue;
        const Mesh body = alone(mesh, shells, outer);
        const FastWinding winding(body);
        // What lies on it, as a plug in its pocket does, has a winding number of a half there.
        auto is_inside = [&](const Vec3& p) { return std::fabs(winding.at(p)) > 0.75; };
        for (const std::uint32_t s : near)
            if (std::ranges::all_of(all[s].points, is_inside) &&
                (all[s].within == nowhere || std::fabs(all[outer].volume) < std::fabs(all[all[s].within].volume)))
                all[s].within = outer;
    }
}

}  // namespace

Pieces find_pieces(const Mesh& mesh, const Progress& progress) {
    const Shells shells = find_shells(mesh);
    std::vector<Shell> all = shells_of(mesh, shells);
    find_holders(mesh, shells, all, progress);
    auto depth = [&](std::uint32_t s) {
        std::size_t n = 0;
        while ((s = all[s].within) != nowhere && n < all.size()) ++n;
        return n;
    };
    std::vector<std::uint32_t> number(all.size(), nowhere);
    Pieces out;
    for (std::uint32_t s = 0; s < all.size(); ++s)
        if (const auto holder = all[s].within;
            holder == nowhere || depth(s) % 2 == 0 || all[s].volume * all[holder].volume > 0) {
            number[s] = static_cast<std::uint32_t>(out.pieces.size());
            out.pieces.push_back({all[s].box.center(), all[s].volume});
        }
    for (std::uint32_t s = 0; s < all.size(); ++s)
        if (number[s] == nowhere) {
            number[s] = number[all[s].within];
            out.pieces[number[s]].volume += all[s].volume;
        }
    for (const std::uint32_t s : shells.shell_of) out.of.push_back(number[s]);
    return out;
}

Mesh piece_of(const Mesh& mesh, const Pieces& pieces, std::uint32_t number) {
    Mesh out = mesh;
    keep_faces_of(out, [&](FaceId f) { return pieces.of[f] == number; });
    return welded(out);
}

}  // namespace anvil
