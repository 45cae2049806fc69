#include "core/combine/extract.h"

namespace anvil {

std::vector<Extraction> extract(const Arrangement& arrangement, std::span<const CombineStep> steps) {
    const CellPieces pieces = pieces_of(arrangement.cells, steps);
    std::vector<Extraction> out(std::max(1u, pieces.count));
    const SubFaces& faces = arrangement.faces;
    auto add = [&](std::uint32_t piece, std::size_t f, bool turn) {
        Triangle t = faces.corners[f];
        if (turn) std::swap(t[1], t[2]);
        // Of several flush sources, the one that faces the same way speaks for the face.
        const auto sources = faces.sources[faces.source[f]];
        FaceSource source = sources.front();
        for (const FaceSource& s : sources)
            if (s.reversed == turn) {
                source = s;
                break;
            }
        source.reversed = source.reversed != turn;
        out[piece - 1].corners.push_back(t);
        out[piece - 1].source.push_back(source);
    };
    for (std::size_t f = 0; f < faces.corners.size(); ++f) {
        const auto [front, back] = arrangement.cells.of_face[f];
        const std::uint32_t before = pieces.of_cell[front], behind = pieces.of_cell[back];
        if (before == behind) continue;
        if (behind > 0) add(behind, f, false);
        if (before > 0) add(before, f, true);
    }
    return out;
}

}  // namespace anvil
