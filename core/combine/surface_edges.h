#pragma once

#include <array>

#include "core/combine/extract.h"
#include "core/mesh/edge_uses.h"

namespace anvil {

/// Whether the edges of an extraction's sub-faces are a good part of the arrangement's, and known by their numbers
/// there. Of thousands of pieces each has a few of them: a list of all edges for each would grow with the square.
inline bool has_edge_numbers(const Arrangement& arrangement, const Extraction& extraction) {
    return extraction.has_sub_faces() && arrangement.edges.count <= 16 * extraction.corners.size();
}
/// The number of the edge behind a corner of a sub-face. Precondition: it has_edge_numbers.
inline std::uint32_t edge_number(const Arrangement& arrangement, const Extraction& extraction, std::uint32_t face,
                                 std::uint32_t corner) {
    // Turned over, a face runs along its edges in the other order.
    return arrangement.edges.of_face[extraction.sub_face[face]][extraction.against_plane[face] ? 2 - corner : corner];
}

/// The edges of an extraction's sub-faces, each with the faces that use it. Where they have numbers, nothing is sorted.
class SurfaceEdges {
  public:
    /// Of no use where it was stopped.
    SurfaceEdges(const Arrangement& arrangement, const Extraction& extraction, const Progress& progress);

    /// Calls visit(uses) for every edge, in the order of `edge_uses`.
    template <class Visit>
    void for_each(const Visit& visit) const {
        if (!by_number_) return for_each_run(std::span(sorted_), same_edge, visit);
        for (std::uint32_t edge = 0; edge < first_two_.size(); ++edge) at(edge, visit);
    }

  private:
    static constexpr std::uint32_t none = 0xffffffffu;
    struct Further {
        std::uint32_t edge, place;
    };
    template <class Visit>
    void at(std::uint32_t edge, const Visit& visit) const {
        const auto [first, second] = first_two_[edge];
        if (first == none) return;
        const Triangle& t = corners_[first >> 2];
        const VertexId p = t[first & 3], q = t[next_corner[first & 3]];
        auto use = [&, low = std::min(p, q), high = std::max(p, q)](std::uint32_t place) {
            return EdgeUse{low, high, place >> 2, corners_[place >> 2][place & 3] == low};
        };
        std::array<EdgeUse, 2> two{use(first), {}};
        if (second == none) return visit(std::span<const EdgeUse>(two).first(1));
        two[1] = use(second);
        if (further_.empty()) return visit(std::span<const EdgeUse>(two));
        const auto more = std::ranges::equal_range(further_, edge, {}, &Further::edge);
        if (more.empty()) return visit(std::span<const EdgeUse>(two));
        std::vector<EdgeUse> all(two.begin(), two.end());
        for (const Further& f : more) all.push_back(use(f.place));
        visit(std::span<const EdgeUse>(all));
    }
    static constexpr std::array<std::uint32_t, 3> next_corner{1, 2, 0};

    std::span<const Triangle> corners_;
    bool by_number_;
    std::vector<std::array<std::uint32_t, 2>> first_two_;  // per edge of the arrangement: 4 * face + corner
    std::vector<Further> further_;                         // those of edges with more than two, sorted
    std::vector<EdgeUse> sorted_;                          // else
};

}  // namespace anvil
