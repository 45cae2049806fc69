#include "core/combine/extract.h"

namespace anvil {
namespace {

Triangle turned(Triangle t) {
    std::swap(t[1], t[2]);
    return t;
}

}  // namespace

std::vector<Extraction> extract(const Arrangement& arrangement, std::span<const CombineStep> steps) {
    const CellPieces pieces = pieces_of(arrangement.cells, steps);
    std::vector<Extraction> out(std::max(1u, pieces.count));
    // Calls add(piece, turn) for each piece that has a wall between these cells as a part of its boundary.
    auto for_each_side = [&](const Cells::Sides& sides, const auto& add) {
        const std::uint32_t before = pieces.of_cell[sides[0]], behind = pieces.of_cell[sides[1]];
        if (before == behind) return;
        if (behind > 0) add(behind - 1, false);
        if (before > 0) add(before - 1, true);
    };
    const SubFaces& faces = arrangement.faces;
    for (std::size_t f = 0; f < faces.size(); ++f)
        for_each_side(arrangement.cells.of_face[f], [&](std::uint32_t piece, bool turn) {
            // Of several flush sources, the one that faces the same way speaks for the face.
            const auto sources = faces.sources[faces.source[f]];
            FaceSource source = sources.front();
            for (const FaceSource& s : sources)
                if (s.reversed == turn) {
                    source = s;
                    break;
                }
            source.reversed = source.reversed != turn;
            out[piece].corners.push_back(turn ? turned(faces.corners[f]) : faces.corners[f]);
            out[piece].source.push_back(source);
            out[piece].plane.push_back(faces.plane[f]);
            out[piece].against_plane.push_back(turn);
            out[piece].cells.push_back(arrangement.cells.of_face[f]);
        });
    for (std::uint32_t p = 0; p < arrangement.patches.size(); ++p)
        for_each_side(arrangement.cells.of_patch[p], [&](std::uint32_t piece, bool turn) {
            out[piece].patches.push_back({p, turn});
        });
    return out;
}

Extraction taken_apart(const Arrangement& arrangement, const Extraction& extraction) {
    Extraction out = extraction;
    out.patches.clear();
    const Soup& soup = arrangement.soup;
    std::vector<char> use(arrangement.patches.size(), 0);
    for (const Extraction::Whole& w : extraction.patches) use[w.patch] = w.turned ? 2 : 1;
    for (std::uint32_t o = 0; o < soup.size(); ++o)
        for (FaceId own : ids<FaceId>(soup.operand(o).mesh.faces.size())) {
            const FaceId f = soup.global(o, own);
            if (arrangement.active.contains(f)) continue;
            const std::uint32_t patch = arrangement.patches.of(soup, o, own);
            const char how = use[patch];
            if (how == 0) continue;
            Triangle t = soup.face(f);
            for (VertexId& v : t) v = arrangement.points.same_as(v);
            FaceSource source = soup.source(f);
            source.reversed = how == 2;
            out.corners.push_back(how == 2 ? turned(t) : t);
            out.source.push_back(source);
            out.plane.push_back(f);
            out.against_plane.push_back(how == 2);
            out.cells.push_back(arrangement.cells.of_patch[patch]);
        }
    return out;
}

}  // namespace anvil
