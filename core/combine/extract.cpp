#include "core/combine/extract.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>

namespace anvil {
namespace {

Triangle turned(Triangle t) {
    std::swap(t[1], t[2]);
    return t;
}

/// A sub-face of a piece, and whether it is turned over.
struct Chosen {
    std::uint32_t face;
    bool turn;
};

/// Adds sub-faces. Of several flush sources, the one that faces the same way speaks for it.
void add_faces(const Arrangement& arrangement, std::span<const Chosen> chosen, Extraction& out,
               const Progress& progress) {
    if (progress.cancelled()) return;
    const SubFaces& faces = arrangement.faces;
    out.corners.resize(chosen.size());
    out.source.resize(chosen.size());
    out.plane.resize(chosen.size());
    out.against_plane.resize(chosen.size());
    out.cells.resize(chosen.size());
    out.sub_face.resize(chosen.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, chosen.size(), 4096), [&](const auto& range) {
        if (progress.cancelled()) return;
        for (std::size_t i = range.begin(); i < range.end(); ++i) {
            const std::uint32_t f = chosen[i].face;
            const bool turn = chosen[i].turn;
            const auto sources = faces.sources[faces.source[f]];
            FaceSource source = sources.front();
            for (const FaceSource& s : sources)
                if (s.reversed == turn) {
                    source = s;
                    break;
                }
            source.reversed = source.reversed != turn;
            out.corners[i] = turn ? turned(faces.corners[f]) : faces.corners[f];
            out.source[i] = source;
            out.plane[i] = faces.plane[f];
            out.against_plane[i] = turn;
            out.cells[i] = arrangement.cells.of_face[f];
            out.sub_face[i] = f;
        }
    });
}

/// Whether the steps make a surface and no body: behind a trim, or where a sheet is all there is.
bool leaves_surface(const Cells& cells, std::span<const CombineStep> steps, std::uint32_t base) {
    if (std::ranges::any_of(steps, [](const CombineStep& s) { return is_trim(s.operation); })) return true;
    return cells.sheet(base) && std::ranges::all_of(steps, [](const CombineStep& s) {
               return s.operation == Operation::scribe || s.operation == Operation::gather;
           });
}

/// What the trims keep. A face that lies on the operand's boundary counts as inside.
class Trims {
  public:
    Trims(const Cells& cells, std::span<const CombineStep> steps) {
        for (const CombineStep& step : steps)
            if (is_trim(step.operation))
                list_.push_back(
                    {pieces_of(cells, step.bundle, step.operand), step.operation == Operation::trim_inside});
    }
    bool keep(const Cells::Sides& sides) const {
        return std::ranges::all_of(list_, [&](const Trim& t) {
            return (t.there.of_cell[sides[0]] > 0 || t.there.of_cell[sides[1]] > 0) == t.inside;
        });
    }

  private:
    struct Trim {
        CellPieces there;
        bool inside;
    };
    std::vector<Trim> list_;
};

Extraction extract_surface(const Arrangement& a, std::span<const CombineStep> steps, std::uint32_t base,
                           const Progress& progress) {
    Extraction out;
    out.surface = true;
    const Trims trims(a.cells, steps);
    std::vector<Chosen> chosen;
    if (a.cells.sheet(base)) {
        for (std::uint32_t f = 0; f < a.faces.size(); ++f)
            for (const FaceSource& s : a.faces.sources[a.faces.source[f]]) {
                if (s.operand != base) continue;
                if (trims.keep(a.cells.of_face[f])) chosen.push_back({f, s.reversed});
                break;
            }
        add_faces(a, chosen, out, progress);
        for (std::uint32_t p = 0; p < a.patches.size(); ++p)
            if (a.patches.list[p].operand == base && trims.keep(a.cells.of_patch[p])) out.patches.push_back({p, false});
        return out;
    }
    const auto first = std::ranges::find_if(steps, [](const CombineStep& s) { return is_trim(s.operation); });
    const CellPieces body = pieces_of(a.cells, steps.first(static_cast<std::size_t>(first - steps.begin())), base);
    auto add_side = [&](const Cells::Sides& sides, const auto& add) {
        const bool before = body.of_cell[sides[0]] > 0, behind = body.of_cell[sides[1]] > 0;
        if (before != behind && trims.keep(sides)) add(before);
    };
    for (std::uint32_t f = 0; f < a.faces.size(); ++f)
        add_side(a.cells.of_face[f], [&](bool turn) { chosen.push_back({f, turn}); });
    add_faces(a, chosen, out, progress);
    for (std::uint32_t p = 0; p < a.patches.size(); ++p)
        add_side(a.cells.of_patch[p], [&](bool turn) { out.patches.push_back({p, turn}); });
    return out;
}

}  // namespace

std::vector<Extraction> extract(const Arrangement& arrangement, std::span<const CombineStep> steps, std::uint32_t base,
                                const Progress& progress) {
    if (leaves_surface(arrangement.cells, steps, base)) return {extract_surface(arrangement, steps, base, progress)};
    const CellPieces pieces = pieces_of(arrangement.cells, steps, base);
    std::vector<Extraction> out(std::max(1u, pieces.count));
    // Calls add(piece, turn) for each piece that has a wall between these cells as a part of its boundary.
    auto for_each_side = [&](const Cells::Sides& sides, const auto& add) {
        const std::uint32_t before = pieces.of_cell[sides[0]], behind = pieces.of_cell[sides[1]];
        if (before == behind) return;
        if (behind > 0) add(behind - 1, false);
        if (before > 0) add(before - 1, true);
    };
    std::vector<std::vector<Chosen>> chosen(out.size());
    for (std::uint32_t f = 0; f < arrangement.faces.size(); ++f) {
        if (f % 4096 == 0 && progress.cancelled()) return out;
        for_each_side(arrangement.cells.of_face[f], [&](std::uint32_t piece, bool turn) {
            chosen[piece].push_back({f, turn});
        });
    }
    tbb::parallel_for(std::size_t{0}, out.size(),
                      [&](std::size_t k) { add_faces(arrangement, chosen[k], out[k], progress); });
    for (std::uint32_t p = 0; p < arrangement.patches.size(); ++p)
        for_each_side(arrangement.cells.of_patch[p], [&](std::uint32_t piece, bool turn) {
            out[piece].patches.push_back({p, turn});
        });
    return out;
}

Extraction taken_apart(const Arrangement& arrangement, const Extraction& extraction, const Progress& progress) {
    Extraction out = extraction;
    out.patches.clear();
    const Soup& soup = arrangement.soup;
    std::vector<char> use(arrangement.patches.size(), 0);
    for (const Extraction::Whole& w : extraction.patches) use[w.patch] = w.turned ? 2 : 1;
    for (std::uint32_t o = 0; o < soup.size(); ++o)
        for (FaceId own : ids<FaceId>(soup.operand(o).mesh.faces.size())) {
            if (own.value() % 4096 == 0 && progress.cancelled()) return out;
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
