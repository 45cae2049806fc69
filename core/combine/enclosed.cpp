#include "core/combine/enclosed.h"

#include "core/combine/flakes.h"

namespace anvil {
namespace {

/// Its faces that bound what they are wound around, turned over where they have to be. Nothing crosses, so each is
/// there as a whole or not at all.
Result<std::vector<FaceSource>> boundary_of(const Mesh& mesh, Progress& progress) {
    const Mesh* operand = &mesh;
    const auto arrangement = arrange(std::span(&operand, 1), progress, Taken::as_proven);
    if (!arrangement) return arrangement.error();
    return taken_apart(*arrangement, extract(*arrangement, {}).front()).source;
}

}  // namespace

Result<std::optional<RoundedFaces>> enclosed_by(const RoundedFaces& faces, Precision precision, Progress& progress) {
    if (faces.faces.empty()) return std::optional(faces);
    auto sources = boundary_of(as_mesh(faces), progress);
    if (!sources && sources.error().is_cancel()) return sources.error();
    if (!sources) return std::optional<RoundedFaces>();
    RoundedFaces out;
    out.points = faces.points;
    out.input = faces.input;
    out.moved = faces.moved;
    out.largest_move = faces.largest_move;
    for (const FaceSource& s : *sources) {
        const std::uint32_t f = s.face.value();
        out.faces.push_back(faces.faces[f]);
        if (s.reversed) std::swap(out.faces.back()[1], out.faces.back()[2]);
        out.source.push_back(faces.source[f]);
        out.source.back().reversed = faces.source[f].reversed != s.reversed;
        out.origin.push_back(faces.origin[f]);
    }
    drop_flakes(out, precision, progress);
    if (progress.cancelled()) return cancelled_error();
    return std::optional(std::move(out));
}

}  // namespace anvil
