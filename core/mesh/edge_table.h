#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "core/mesh/mesh.h"

namespace anvil {

using EdgeId = Index<struct EdgeTag>;

/// Every undirected edge of a list of triangles, with the half-edges that run along it.
/// A half-edge is 3 * face + k and runs from corner k to corner (k + 1) % 3. Half-edges whose two corners are the
/// same vertex are left out. Edges come sorted by (low, high) vertex, their half-edges by number, so equal input
/// gives equal tables.
class EdgeTable {
  public:
    struct Edge {
        VertexId low, high;
        std::uint32_t first, count;
    };

    EdgeTable(std::span<const Triangle> faces, std::size_t vertices);

    std::size_t size() const { return edges_.size(); }
    const Edge& edge(EdgeId e) const { return edges_[e.value()]; }
    /// The half-edges along e.
    std::span<const std::uint32_t> uses(EdgeId e) const {
        return std::span(uses_).subspan(edge(e).first, edge(e).count);
    }
    /// Whether exactly two faces meet there, one running along it each way.
    bool is_regular(EdgeId e) const {
        const auto two = uses(e);
        return two.size() == 2 && forward(two[0]) != forward(two[1]);
    }
    /// The edge of a half-edge; not valid for a half-edge of zero length.
    EdgeId edge_of(std::uint32_t half_edge) const { return edge_of_[half_edge]; }
    /// Whether the half-edge runs from the lower to the higher vertex.
    bool forward(std::uint32_t half_edge) const {
        return faces_[half_edge / 3][half_edge % 3] == edges_[edge_of_[half_edge].value()].low;
    }

  private:
    std::span<const Triangle> faces_;
    std::vector<Edge> edges_;
    std::vector<std::uint32_t> uses_;
    std::vector<EdgeId> edge_of_;
};

}  // namespace anvil
