#include "core/combine/surface_edges.h"

namespace anvil {

SurfaceEdges::SurfaceEdges(const Arrangement& arrangement, const Extraction& extraction, const Progress& progress)
    : corners_(extraction.corners), by_number_(has_edge_numbers(arrangement, extraction)) {
    if (!by_number_) {
        sorted_ = edge_uses(extraction.corners);
        return;
    }
    first_two_.assign(arrangement.edges.count, {none, none});
    for (std::uint32_t f = 0; f < corners_.size(); ++f) {
        if (f % 65536 == 0 && progress.cancelled()) return;
        for (std::uint32_t k = 0; k < 3; ++k) {
            const std::uint32_t edge = edge_number(arrangement, extraction, f, k), place = 4 * f + k;
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
