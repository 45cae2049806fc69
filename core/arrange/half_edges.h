#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "core/mesh/edge_uses.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// What lies across each half-edge of a list of faces. Half-edge 3 * f + k runs from corner k of face f to the next.
/// An edge is regular where exactly two faces meet, one running along it each way.
struct HalfEdges {
    static constexpr std::uint32_t none = 0xffffffffu;
    struct Out {
        VertexId to;
        std::uint32_t half;
    };

    std::vector<std::uint32_t> twin;   ///< per half-edge: the one that runs back; none at irregular edges
    std::vector<std::uint32_t> start;  ///< per point, and one more: its part of `out`
    std::vector<Out> out;              ///< the half-edges that leave each point

    std::span<const Out> leaving(std::size_t v) const {
        return std::span(out).subspan(start[v], start[v + 1] - start[v]);
    }
    /// Calls visit(f, g) for the two faces at every regular edge.
    template <class Visit>
    void for_each_neighbours(const Visit& visit) const {
        for (std::uint32_t h = 0; h < twin.size(); ++h)
            if (twin[h] != none && h < twin[h]) visit(h / 3, twin[h] / 3);
    }
    /// Whether the faces round a point are one closed ring, and there are no others.
    bool is_ring(std::size_t v) const;
};

/// The half-edge before another one in its face: it arrives at the point that the other one leaves.
inline std::uint32_t before_in_face(std::uint32_t half) { return half % 3 == 0 ? half + 2 : half - 1; }

/// A face with the same corner twice is taken as it is: what runs along its other two sides may be their twins.
HalfEdges find_half_edges(std::span<const Triangle> faces, std::size_t points);
/// The same where edges are known by numbers under `edges`: `number[h]` is that of half-edge h.
HalfEdges find_half_edges(std::span<const Triangle> faces, std::size_t points, std::span<const std::uint32_t> number,
                          std::size_t edges);

/// The uses of edges that are not regular, in the order of `edge_uses`.
std::vector<EdgeUse> irregular_uses(std::span<const Triangle> faces, const HalfEdges& edges);

/// An edge that is run along more often one way than the other: the boundary of the surface as a chain.
struct UnbalancedEdge {
    VertexId from, to;  ///< the way it is run along too seldom
    int missing;        ///< how often
};
std::vector<UnbalancedEdge> find_unbalanced(std::span<const Triangle> faces, const HalfEdges& edges);

}  // namespace anvil
