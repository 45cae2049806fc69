#include "core/combine/enclosed.h"

#include "core/combine/flakes.h"

namespace anvil {

Result<std::optional<RoundedFaces>> enclosed_by(const RoundedFaces& faces, Precision precision, Progress& progress) {
    const Mesh mesh = as_mesh(faces);
    if (mesh.empty()) return std::optional(faces);
    const Mesh* operand = &mesh;
    const auto arrangement = arrange(std::span(&operand, 1), progress, Taken::as_proven);
    if (!arrangement && arrangement.error().is_cancel()) return arrangement.error();
    if (!arrangement) return std::optional<RoundedFaces>();
    // Nothing crosses, so each face is there as a whole or not at all.
    const Extraction boundary = taken_apart(*arrangement, extract(*arrangement, {}).front());
    RoundedFaces out = faces;
    out.faces.clear();
    out.source.clear();
    out.origin.clear();
    for (const FaceSource& s : boundary.source) {
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
