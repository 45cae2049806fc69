#include "core/shape/solid.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/number_text.h"

namespace anvil {

int faces_around(double radius, const Facets& facets) {
    if (facets.around > 0) return facets.around;
    if (!(radius > facets.chord)) return 8;
    // Between two points on the circle the chord leaves it by r (1 - cos(pi / n)).
    const double n = std::numbers::pi / std::acos(1 - facets.chord / radius);
    return 4 * static_cast<int>(std::clamp(std::ceil(n / 4), 2.0, 1e6));
}

Result<void> check_face_count(double faces) {
    if (faces <= most_faces) return {};
    return Error{ErrorCode::out_of_range,
                 "it would have " + short_text(faces / 1e6) +
                     " million faces; at most 4 million are made: allow a larger chord, or set the number of faces "
                     "round it",
                 ""};
}

Solid without_empty_faces(const Solid& solid) {
    Mesh mesh = welded(solid.mesh);
    Solid out;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        if (repeats_corner(mesh.faces[f])) continue;
        out.mesh.faces.push_back(mesh.faces[f]);
        out.side.push_back(solid.side[f]);
    }
    out.mesh.points = std::move(mesh.points);
    out.mesh = welded(out.mesh);  // points of faces that went
    return out;
}

}  // namespace anvil
