#pragma once

#include <array>

#include "core/base/index.h"
#include "core/base/vec3.h"

namespace anvil {

/// The three corners of a face, counter-clockwise seen from outside.
using Triangle = std::array<VertexId, 3>;

/// A triangle mesh as two plain arrays; the edges, neighbours and shells of it are computed where they are needed.
///
///        c            faces[f] = {a, b, c}
///       / \           corner k of face f is number 3 * f + k
///      / f \          half-edge k of face f runs from corner k to corner (k + 1) % 3
///     a --- b         normal: (b - a) x (c - a), pointing outward on a sound solid
///
/// Nothing is promised about the faces but that their corners are indices into `points`: they may be open,
/// degenerate, doubled or crossing. Lengths are millimetres.
struct Mesh {
    IdVector<VertexId, Vec3> points;
    IdVector<FaceId, Triangle> faces;

    bool empty() const { return faces.empty(); }
    const Vec3& corner(FaceId f, int k) const { return points[faces[f][k]]; }
    bool operator==(const Mesh&) const = default;
};

/// Makes bit-equal points one (and 0 and -0 equal) and drops points that no face uses. Faces keep their number and
/// order. This is what a format without shared corners, such as STL, makes of a mesh.
Mesh welded(const Mesh& mesh);

/// Turns every face over.
void turn_over(Mesh& mesh);

/// Puts `other` beside what is there, sharing nothing.
void append(Mesh& mesh, const Mesh& other);

}  // namespace anvil
