#include "core/arrange/orient.h"

#include <algorithm>
#include <array>
#include <tuple>

#include "core/base/runs.h"
#include "core/exact/predicates.h"
#include "core/mesh/measures.h"
#include "core/spatial/ray_winding.h"

namespace anvil {
namespace {

void turn(Triangle& t) { std::swap(t[1], t[2]); }

/// Half-edges that are the only two along their edge and run the same way.
std::vector<std::pair<std::uint32_t, std::uint32_t>> find_opposed(const Mesh& mesh, const HalfEdges& edges) {
    struct Use {
        VertexId low, high;
        bool forward;
        std::uint32_t half;
    };
    std::vector<Use> uses;
    for (std::uint32_t h = 0; h < edges.twin.size(); ++h) {
        if (edges.twin[h] != HalfEdges::none) continue;
        const Triangle& t = mesh.faces[FaceId(h / 3)];
        const VertexId a = t[h % 3], b = t[(h % 3 + 1) % 3];
        uses.push_back({std::min(a, b), std::max(a, b), a < b, h});
    }
    std::sort(uses.begin(), uses.end(), [](const Use& a, const Use& b) {
        return std::tie(a.low, a.high, a.half) < std::tie(b.low, b.high, b.half);
    });
    std::vector<std::pair<std::uint32_t, std::uint32_t>> out;
    for_each_run(std::span<const Use>(uses), same_edge, [&](std::span<const Use> here) {
        if (here.size() == 2 && here[0].forward == here[1].forward) out.emplace_back(here[0].half, here[1].half);
    });
    return out;
}

/// Shells across regular edges; `whole` where a shell has regular edges only.
struct ClosedShells {
    std::vector<std::uint32_t> of_face;
    std::vector<std::uint32_t> first;
    std::vector<char> whole;
    std::vector<double> volume;
};
ClosedShells find_closed_shells(const Mesh& mesh, const HalfEdges& edges) {
    ClosedShells shells;
    const auto n = static_cast<std::uint32_t>(mesh.faces.size());
    shells.of_face.assign(n, HalfEdges::none);
    const Vec3 center = bounds(mesh).center();
    std::vector<std::uint32_t> stack;
    for (std::uint32_t seed = 0; seed < n; ++seed) {
        if (shells.of_face[seed] != HalfEdges::none) continue;
        const auto number = static_cast<std::uint32_t>(shells.first.size());
        bool whole = true;
        double volume = 0;
        shells.of_face[seed] = number;
        stack.push_back(seed);
        while (!stack.empty()) {
            const std::uint32_t f = stack.back();
            stack.pop_back();
            const Vec3 a = mesh.corner(FaceId(f), 0) - center;
            volume += dot(a, cross(mesh.corner(FaceId(f), 1) - center, mesh.corner(FaceId(f), 2) - center)) / 6;
            for (std::uint32_t h = 3 * f; h < 3 * f + 3; ++h) {
                if (edges.twin[h] == HalfEdges::none) {
                    whole = false;
                    continue;
                }
                std::uint32_t& other = shells.of_face[edges.twin[h] / 3];
                if (other != HalfEdges::none) continue;
                other = number;
                stack.push_back(edges.twin[h] / 3);
            }
        }
        shells.first.push_back(seed);
        shells.whole.push_back(whole);
        shells.volume.push_back(volume);
    }
    return shells;
}

}  // namespace

std::size_t orient_alike(Mesh& mesh, const HalfEdges& edges) {
    const auto opposed = find_opposed(mesh, edges);
    if (opposed.empty()) return 0;
    // Across an edge of two faces: whether they run against each other.
    std::vector<std::uint32_t> against(edges.twin.size(), HalfEdges::none);
    for (const auto& [g, h] : opposed) against[g] = h, against[h] = g;
    std::vector<signed char> parity(mesh.faces.size(), -1);
    std::vector<std::uint32_t> part;
    std::size_t turned = 0;
    for (std::uint32_t seed = 0; seed < mesh.faces.size(); ++seed) {
        if (parity[seed] >= 0) continue;
        parity[seed] = 0;
        part.assign(1, seed);
        bool two_sided = true;
        std::size_t odd = 0;
        for (std::size_t i = 0; i < part.size(); ++i)
            for (std::uint32_t h = 3 * part[i]; h < 3 * part[i] + 3; ++h) {
                const bool turns = edges.twin[h] == HalfEdges::none;
                const std::uint32_t other = turns ? against[h] : edges.twin[h];
                if (other == HalfEdges::none) continue;
                const auto wanted = static_cast<signed char>(parity[part[i]] ^ (turns ? 1 : 0));
                signed char& there = parity[other / 3];
                if (there < 0) {
                    there = wanted;
                    odd += static_cast<std::size_t>(wanted);
                    part.push_back(other / 3);
                } else if (there != wanted) {
                    two_sided = false;
                }
            }
        if (!two_sided || odd == 0) continue;
        const signed char which = 2 * odd <= part.size() ? 1 : 0;
        for (const std::uint32_t f : part)
            if (parity[f] == which) {
                turn(mesh.faces[FaceId(f)]);
                ++turned;
            }
    }
    return turned;
}

std::size_t turn_shells_outward(Mesh& mesh, const HalfEdges& edges) {
    ClosedShells shells = find_closed_shells(mesh, edges);
    std::size_t turned = 0;
    double total = 0;
    for (double v : shells.volume) total += v;
    if (total < 0) {
        turn_over(mesh);
        for (double& v : shells.volume) v = -v;
        turned = shells.first.size();
    }
    std::vector<std::uint32_t> inward;
    for (std::uint32_t s = 0; s < shells.first.size(); ++s)
        if (shells.whole[s] && shells.volume[s] < 0) inward.push_back(s);
    if (inward.empty()) return turned;
    const auto& points = mesh.points.raw();
    const auto& faces = mesh.faces.raw();
    const BoxTree tree(points, faces);
    std::vector<char> turn_shell(shells.first.size(), 0);
    for (const std::uint32_t s : inward) {
        const Triangle& t = faces[shells.first[s]];
        const CornerPoints corners = corner_points(points, t);
        if (collinear(*corners[0], *corners[1], *corners[2])) continue;
        const SideRay ray(corners);
        std::int32_t others = 0;
        ray.cast(points, faces, tree, [&](std::uint32_t f, int sign) {
            if (shells.of_face[f] != s) others += sign;
        });
        if (others < 1) turn_shell[s] = 1;
    }
    for (std::uint32_t f = 0; f < mesh.faces.size(); ++f)
        if (turn_shell[shells.of_face[f]]) turn(mesh.faces[FaceId(f)]);
    return turned + static_cast<std::size_t>(std::count(turn_shell.begin(), turn_shell.end(), 1));
}

}  // namespace anvil
