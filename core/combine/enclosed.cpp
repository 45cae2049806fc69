#include "core/combine/enclosed.h"

namespace anvil {

Result<std::optional<RoundedFaces>> enclosed_by(const RoundedFaces& faces, Precision precision, Progress& progress) {
    const Mesh mesh = as_mesh(faces);
    if (mesh.empty()) return std::optional(faces);
    const Mesh* operand = &mesh;
    const auto arrangement = arrange(std::span(&operand, 1), progress, Taken::as_proven);
    if (!arrangement && arrangement.error().is_cancel()) return arrangement.error();
    if (!arrangement) return std::optional<RoundedFaces>();
    Extraction all = taken_apart(*arrangement, extract(*arrangement, {}).front());
    for (FaceSource& s : all.source) {
        const bool reversed = s.reversed;
        s = faces.source[s.face.value()];
        s.reversed = s.reversed != reversed;
    }
    RoundedFaces out = round_points(arrangement->points, all, precision, progress);
    if (progress.cancelled()) return cancelled_error();
    out.largest_move = std::max(out.largest_move, faces.largest_move);
    return std::optional(std::move(out));
}

}  // namespace anvil
