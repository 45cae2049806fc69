#include "core/combine/pinches.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <map>
#include <tuple>

#include "core/base/sort.h"
#include "core/combine/round_edge.h"
#include "core/mesh/disjoint_sets.h"
#include "core/mesh/primitives.h"

namespace anvil {
namespace {

/// One face at one pinch candidate: v -> to ... from -> v.
struct Corner {
    VertexId v, to, from;
    FaceId face;
};

/// The same, to be looked up: 3 * face + which of its corners.
struct CornerPlace {
    VertexId v;
    std::uint32_t place;
};

Corner corner_at(const Mesh& mesh, const CornerPlace& c) {
    const FaceId f(c.place / 3);
    const Triangle& t = mesh.faces[f];
    const std::size_t k = c.place % 3;
    return {t[k], t[(k + 1) % 3], t[(k + 2) % 3], f};
}

/// Point by point.
std::vector<CornerPlace> corners_at(const Mesh& mesh, const PinchCandidates& candidates) {
    std::vector<CornerPlace> all;
    all.reserve(3 * candidates.faces.size());
    for (const FaceId f : candidates.faces)
        for (std::uint32_t k = 0; k < 3; ++k)
            if (const VertexId v = mesh.faces[f][k]; candidates.points[v.value()])
                all.push_back({v, 3 * f.value() + k});
    sort_by_number(
        all, [](const CornerPlace& c) { return c.v.value(); },
        [](const CornerPlace& a, const CornerPlace& b) { return a.place < b.place; });
    return all;
}

/// Whether the faces at one point are a single ring, each behind the other: nearly all are, and then it is one skin.
bool is_one_ring(const Mesh& mesh, std::span<const CornerPlace> corners) {
    constexpr std::size_t most = 24;  // more are not worth the square
    if (corners.size() > most) return false;
    std::array<VertexId, most> to, from;
    for (std::size_t i = 0; i < corners.size(); ++i) {
        const Corner c = corner_at(mesh, corners[i]);
        to[i] = c.to;
        from[i] = c.from;
    }
    // The first that follows is taken, so a ring comes back after as many steps as it has faces only if all are in it.
    std::size_t i = 0;
    for (std::size_t step = 1; step <= corners.size(); ++step) {
        const auto end = to.begin() + static_cast<long>(corners.size());
        const auto next = std::find(to.begin(), end, from[i]);
        if (next == end) return false;
        i = static_cast<std::size_t>(next - to.begin());
        if (i == 0) return step == corners.size();
    }
    return false;
}

/// Where runs of corners at one point are no ring: from, to.
using Runs = std::vector<std::pair<std::size_t, std::size_t>>;
Runs find_no_rings(const Mesh& mesh, std::span<const CornerPlace> all, const Progress& progress) {
    constexpr std::size_t block = 4096;
    std::vector<Runs> per_block(all.size() / block + 1);
    tbb::parallel_for(std::size_t{0}, per_block.size(), [&](std::size_t b) {
        if (progress.cancelled()) return;
        // A run belongs to the block that it begins in.
        std::size_t from = b * block;
        while (from > 0 && from < all.size() && all[from].v == all[from - 1].v) ++from;
        for (std::size_t to; from < std::min(all.size(), (b + 1) * block); from = to) {
            for (to = from + 1; to < all.size() && all[to].v == all[from].v;) ++to;
            if (!is_one_ring(mesh, all.subspan(from, to - from))) per_block[b].emplace_back(from, to);
        }
    });
    Runs out;
    for (const Runs& runs : per_block) out.insert(out.end(), runs.begin(), runs.end());
    return out;
}

/// A face at an edge with more than two, and its fan at one of the edge's ends.
struct EdgeFan {
    VertexId low, high;
    FaceId face;
    bool at_low;
    std::uint32_t fan;
};

/// Joins the corners of one point that belong to the skin of one body, and numbers the skins.
std::uint32_t find_fans(const Mesh& mesh, std::span<const Corner> corners, std::vector<std::uint32_t>& fan_of,
                        std::vector<EdgeFan>& edge_fans) {
    struct Spoke {
        VertexId w;
        FaceAtEdge wing;
    };
    std::vector<Spoke> spokes;
    for (std::size_t i = 0; i < corners.size(); ++i) {
        spokes.push_back({corners[i].to, {i, true, corners[i].from}});
        spokes.push_back({corners[i].from, {i, false, corners[i].to}});
    }
    std::sort(spokes.begin(), spokes.end(),
              [](const Spoke& a, const Spoke& b) { return std::tie(a.w, a.wing.place) < std::tie(b.w, b.wing.place); });
    DisjointSets sets(corners.size());
    std::vector<FaceAtEdge> wings;
    std::vector<std::pair<VertexId, std::size_t>> at_edges;
    for (std::size_t i = 0; i < spokes.size();) {
        std::size_t end = i;
        wings.clear();
        for (; end < spokes.size() && spokes[end].w == spokes[i].w; ++end) wings.push_back(spokes[end].wing);
        if (wings.size() == 2) {
            sets.join(static_cast<std::uint32_t>(wings[0].place), static_cast<std::uint32_t>(wings[1].place));
        } else {
            const VertexId v = corners.front().v, w = spokes[i].w;
            for (const FaceAtEdge& wing : wings) at_edges.emplace_back(w, wing.place);
            sort_round_edge(mesh.points.raw(), v, w, wings);
            // Ahead of a face that runs w -> v lies its inside, up to the next face.
            for (std::size_t k = 0; k < wings.size(); ++k)
                if (!wings[k].leaves)
                    sets.join(static_cast<std::uint32_t>(wings[k].place),
                              static_cast<std::uint32_t>(wings[(k + 1) % wings.size()].place));
        }
        i = end;
    }
    const std::uint32_t fans = sets.number(fan_of);
    for (const auto& [w, corner] : at_edges) {
        const VertexId v = corners.front().v;
        edge_fans.push_back({std::min(v, w), std::max(v, w), corners[corner].face, v < w, fan_of[corner]});
    }
    return fans;
}

/// Edges with more than two faces, and those of them at which some two bodies are one fan at both ends.
void find_edges(std::vector<EdgeFan>& edge_fans, Pinches& out) {
    std::sort(edge_fans.begin(), edge_fans.end(), [](const EdgeFan& a, const EdgeFan& b) {
        return std::tie(a.low, a.high, a.face, a.at_low) < std::tie(b.low, b.high, b.face, b.at_low);
    });
    for (std::size_t i = 0; i < edge_fans.size();) {
        std::size_t end = i;
        std::vector<std::pair<std::uint32_t, std::uint32_t>> bodies;
        std::size_t faces = 0;
        for (; end < edge_fans.size() && edge_fans[end].low == edge_fans[i].low &&
               edge_fans[end].high == edge_fans[i].high;
             ++end) {
            if (end + 1 == edge_fans.size() || edge_fans[end + 1].face != edge_fans[end].face || edge_fans[end].at_low)
                continue;
            bodies.emplace_back(edge_fans[end].fan, edge_fans[end + 1].fan);
        }
        for (std::size_t k = i; k < end; ++k) faces += k == i || edge_fans[k].face != edge_fans[k - 1].face;
        std::sort(bodies.begin(), bodies.end());
        bodies.erase(std::unique(bodies.begin(), bodies.end()), bodies.end());
        out.edges.emplace_back(edge_fans[i].low, edge_fans[i].high);
        if (bodies.size() < faces / 2) out.closed_edges.emplace_back(edge_fans[i].low, edge_fans[i].high);
        i = end;
    }
}

}  // namespace

PinchCandidates PinchCandidates::all(const Mesh& mesh) {
    PinchCandidates out{std::vector<char>(mesh.points.size(), 1), {}};
    out.faces.reserve(mesh.faces.size());
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) out.faces.push_back(f);
    return out;
}

Pinches find_pinches(const Mesh& mesh, const PinchCandidates& candidates, const Progress& progress) {
    Pinches out;
    const std::vector<CornerPlace> all = corners_at(mesh, candidates);
    std::vector<std::uint32_t> fan_of;
    std::vector<EdgeFan> edge_fans;
    std::vector<Corner> here;
    for (const auto& [first, end] : find_no_rings(mesh, all, progress)) {
        here.clear();
        for (std::size_t i = first; i < end; ++i) here.push_back(corner_at(mesh, all[i]));
        if (progress.cancelled() || find_fans(mesh, here, fan_of, edge_fans) <= 1) continue;
        ++out.points;
        const std::size_t from = out.corners.size();
        for (std::size_t k = 0; k < here.size(); ++k) out.corners.push_back({here[k].v, here[k].face, fan_of[k]});
        std::sort(out.corners.begin() + static_cast<long>(from), out.corners.end(),
                  [](const auto& a, const auto& b) { return std::tie(a.fan, a.face) < std::tie(b.fan, b.face); });
    }
    find_edges(edge_fans, out);
    return out;
}

Pinches find_pinches(const Mesh& mesh, const Progress& progress) {
    return find_pinches(mesh, PinchCandidates::all(mesh), progress);
}

void split_edges(Mesh& mesh, std::span<const std::pair<VertexId, VertexId>> edges, Precision precision,
                 std::vector<FaceSource>& source) {
    std::map<std::pair<VertexId, VertexId>, VertexId> middle;
    for (const auto& [a, b] : edges) {
        Vec3 m = (mesh.points[a] + mesh.points[b]) * 0.5;
        if (precision == Precision::single_precision) m = in_single_precision(m);
        middle.emplace(std::minmax(a, b), mesh.points.push_back(m));
    }
    // A face that is added has edges of its own to look at; it comes behind the others.
    for (std::size_t f = 0; f < mesh.faces.size(); ++f)
        for (std::size_t k = 0; k < 3; ++k) {
            const Triangle t = mesh.faces[FaceId(f)];
            const auto at = middle.find(std::minmax(t[k], t[(k + 1) % 3]));
            if (at == middle.end()) continue;
            Triangle other = t;
            mesh.faces[FaceId(f)][(k + 1) % 3] = at->second;
            other[k] = at->second;
            mesh.faces.push_back(other);
            source.push_back(FaceSource(source[f]));
        }
}

std::vector<Vec3> fan_normals(const Mesh& mesh, const Pinches& pinches) {
    std::vector<Vec3> out;
    for (std::size_t i = 0; i < pinches.corners.size();) {
        const Pinches::Corner& first = pinches.corners[i];
        std::size_t end = i;
        Vec3 outward;
        for (; end < pinches.corners.size() && pinches.corners[end].point == first.point &&
               pinches.corners[end].fan == first.fan;
             ++end) {
            // Each face counts with its angle at the point, so that its triangulation does not matter.
            const Triangle& t = mesh.faces[pinches.corners[end].face];
            const std::size_t k = t[0] == first.point ? 0 : t[1] == first.point ? 1 : 2;
            const Vec3 u = normalized(mesh.points[t[(k + 1) % 3]] - mesh.points[t[k]]);
            const Vec3 w = normalized(mesh.points[t[(k + 2) % 3]] - mesh.points[t[k]]);
            const Vec3 n = cross(u, w);
            outward = outward + normalized(n) * std::atan2(norm(n), dot(u, w));
        }
        for (; i < end; ++i) out.push_back(normalized(outward));
    }
    return out;
}

Mesh bridges(const Mesh& mesh, const Pinches& pinches, double step) {
    Mesh out;
    // Slightly uneven, so that they are not flush with anything.
    auto add_round = [&](const Vec3& a, const Vec3& b) {
        const Vec3 along = normalized(b - a);
        const Vec3 side = normalized(std::fabs(along.x) < 0.6 ? cross(along, {1, 0, 0}) : cross(along, {0, 1, 0}));
        const Vec3 other = cross(along, side);
        Mesh part;
        std::vector<VertexId> low, high;
        constexpr int sides = 6;
        const Vec3 c = a - along * (1.1 * step), d = b + along * (1.3 * step);
        for (int k = 0; k < sides; ++k) {
            const double angle = 0.37 + k * 1.0471975511965976;
            const Vec3 r = (side * std::cos(angle) + other * std::sin(angle)) * step;
            low.push_back(part.points.push_back(c + r));
            high.push_back(part.points.push_back(d + r));
        }
        const VertexId bottom = part.points.push_back(c - along * (0.5 * step));
        const VertexId top = part.points.push_back(d + along * (0.5 * step));
        for (std::size_t k = 0; k < sides; ++k) {
            const std::size_t n = (k + 1) % sides;
            part.faces.push_back({low[k], low[n], high[n]});
            part.faces.push_back({low[k], high[n], high[k]});
            part.faces.push_back({bottom, low[n], low[k]});
            part.faces.push_back({top, high[k], high[n]});
        }
        append(out, part);
    };
    for (const auto& [a, b] : pinches.edges) add_round(mesh.points[a], mesh.points[b]);
    std::vector<char> on_edge(mesh.points.size(), 0);
    for (const auto& [a, b] : pinches.edges) on_edge[a.value()] = on_edge[b.value()] = 1;
    VertexId last;
    for (const Pinches::Corner& c : pinches.corners) {
        if (c.point == last || on_edge[c.point.value()]) continue;
        last = c.point;
        const Vec3 p = mesh.points[c.point];
        add_round(p, p + Vec3{0.2, 0.3, 0.9} * step);
    }
    return out;
}

}  // namespace anvil
