#include "core/combine/surface_edges.h"

namespace anvil {
namespace {

/// Of thousands of pieces each has a few of the edges: a list of all edges for each would grow with the square.
bool is_good_part(const Arrangement& arrangement, const Extraction& extraction) {
    return extraction.has_sub_faces() && arrangement.edges.count <= 16 * extraction.corners.size();
}

}  // namespace

SurfaceEdges::SurfaceEdges(const Arrangement& arrangement, const Extraction& extraction, const Progress& progress)
    : corners_(extraction.corners), by_number_(is_good_part(arrangement, extraction)) {
    if (!by_number_) {
        sorted_ = edge_uses(extraction.corners);
        return;
    }
    const SubEdges& edges = arrangement.edges;
    first_two_.assign(edges.count, {none, none});
    for (std::uint32_t f = 0; f < corners_.size(); ++f) {
        if (f % 65536 == 0 && progress.cancelled()) return;
        const auto& own = edges.of_face[extraction.sub_face[f]];
        for (std::uint32_t k = 0; k < 3; ++k) {
            // Turned over, a face runs along its edges in the other order.
            const std::uint32_t edge = own[extraction.against_plane[f] ? 2 - k : k], place = 4 * f + k;
            auto& [first, second] = first_two_[edge];
            if (first == none)
                first = place;
            else if (second == none)
                second = place;
            else
                further_.push_back({edge, place});
        }
    }
    std::ranges::stable_sort(further_, {}, &Further::edge);
}

}  // namespace anvil
