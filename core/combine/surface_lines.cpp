#include "core/combine/surface_lines.h"

#include <algorithm>
#include <tuple>

namespace anvil {

SurfaceLines::SurfaceLines(const Arrangement& arrangement, std::span<const std::uint32_t> operands) {
    if (operands.empty()) return;
    const SubFaces& faces = arrangement.faces;
    for (std::uint32_t f = 0; f < faces.size(); ++f) {
        auto wanted = [&](const FaceSource& s) { return std::ranges::find(operands, s.operand) != operands.end(); };
        if (std::ranges::none_of(faces.sources[faces.source[f]], wanted)) continue;
        for (std::size_t k = 0; k < 3; ++k) {
            const VertexId p = faces.corners[f][k], q = faces.corners[f][(k + 1) % 3];
            lines_.push_back({std::min(p, q), std::max(p, q), faces.plane[f]});
        }
    }
    std::sort(lines_.begin(), lines_.end(),
              [](const Line& a, const Line& b) { return std::tie(a.low, a.high) < std::tie(b.low, b.high); });
}

bool SurfaceLines::at(VertexId low, VertexId high, FaceId plane) const {
    auto line = std::ranges::lower_bound(lines_, std::pair(low, high), {},
                                         [](const Line& l) { return std::pair(l.low, l.high); });
    std::size_t flush = 0, others = 0;
    for (; line != lines_.end() && line->low == low && line->high == high; ++line)
        ++(line->plane == plane ? flush : others);
    // A surface that goes on in the plane on both sides draws no line.
    return flush == 1 || others > 0;
}

}  // namespace anvil
