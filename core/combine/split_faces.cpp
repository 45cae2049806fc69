#include "core/combine/split_faces.h"

namespace anvil {

Result<std::unique_ptr<SplitFaces>> split_faces(const Mesh& mesh, Progress& progress) {
    auto operand = make_operand(mesh, Taken::as_surface, progress);
    if (!operand && operand.error().is_cancel()) return operand.error();
    if (!operand) return std::unique_ptr<SplitFaces>();
    auto out = std::make_unique<SplitFaces>(std::move(*operand));
    const ContactList contacts{0, 0, &out->operand().contacts};
    const auto crossings = find_crossings(out->soup, std::span(&contacts, 1), out->points, nullptr, progress);
    if (!crossings) return crossings.error();
    for (const FaceId f : ids<FaceId>(out->soup.face_count())) {
        out->active.index_of.push_back(f.value());
        out->active.faces.push_back(f);
    }
    const Clusters clusters = find_clusters(out->soup, *crossings, out->active);
    auto parts = subdivide(out->soup, *crossings, out->active, clusters, out->points, nullptr, progress);
    if (!parts) return parts.error();
    out->parts = std::move(*parts);
    return out;
}

}  // namespace anvil
