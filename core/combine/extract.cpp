#include "core/combine/extract.h"

namespace anvil {

Extraction extract(const Arrangement& arrangement, std::span<const CombineStep> steps) {
    const Cells& cells = arrangement.cells;
    std::vector<char> inside(cells.count);
    for (std::uint32_t c = 0; c < cells.count; ++c) inside[c] = inside_result(cells.winding_of(c), steps);

    Extraction out;
    const SubFaces& faces = arrangement.faces;
    for (std::size_t f = 0; f < faces.corners.size(); ++f) {
        const auto [front, back] = cells.of_face[f];
        if (inside[front] == inside[back]) continue;
        const bool turn = inside[front];
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
        out.corners.push_back(t);
        out.source.push_back(source);
    }
    return out;
}

}  // namespace anvil
