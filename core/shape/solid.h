#pragma once

#include <cstdint>

#include "core/base/result.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// A generated body: closed, outward wound, standing on z = 0 round the z axis unless its function says otherwise. Each
/// face knows on which side it lies: a number that stays the same whatever the measures are.
struct Solid {
    Mesh mesh;
    IdVector<FaceId, std::uint32_t> side;
};

/// How finely what is round is cut into flat faces. Corners lie on the round surface.
struct Facets {
    double chord = 0.02;  ///< mm that the surface may leave the faces by
    int around = 0;       ///< faces round a full turn; 0: as many as the chord needs
};

/// Faces round a full turn of that radius in mm: a multiple of four, at least eight; or just as many as were asked for.
int faces_around(double radius, const Facets& facets);

/// A shape has no more faces than this: more are refused, with what to change.
inline constexpr double most_faces = 4e6;
/// Fails: out_of_range where a shape would have more.
Result<void> check_face_count(double faces);

/// Takes away faces that have come down to an edge or a point, and makes equal points one.
Solid without_empty_faces(const Solid& solid);

}  // namespace anvil
