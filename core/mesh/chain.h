#pragma once

#include "core/base/result.h"
#include "core/mesh/selection.h"

namespace anvil {

/// Edges one behind the other, as a line with the surface's normal beside it.
struct Chain {
    std::vector<Vec3> points{};   ///< where it is closed the first one is not repeated
    std::vector<Vec3> normals{};  ///< per edge, of length 1: the mean of its faces' normals
    bool closed = false;

    std::size_t edges() const { return normals.size(); }
    double length() const;  ///< mm
};

/// A place on a chain.
struct ChainPlace {
    Vec3 point, along, normal;  ///< directions of length 1; `along` is square to neither where the surface is bent
};

/// Puts edges into one line. A closed one runs counterclockwise as seen from where its surface looks, and begins at its
/// point that is first by x, then y, then z; an open one begins at the end that is first so. Preconditions: `edges` are
/// edges of the welded mesh. Fails: lost where there is none; out_of_range where they branch or are apart.
Result<Chain> chain_of(const Mesh& mesh, const Selection& edges);

/// At so many mm from its beginning; on a closed one it goes on round, else it is held to the ends.
ChainPlace place_on(const Chain& chain, double at);

/// All creases: edges at which the surface turns by more than `crease_angle` degrees, ends or branches.
Selection creases_of(const Mesh& mesh, double crease_angle);
/// The one of some edges that comes nearest to a point. Precondition: there is one.
Element nearest_edge(const Mesh& mesh, const Selection& edges, const Vec3& at);

/// The chosen edges with all that go on from them along creases, until those branch or end.
Selection along_creases(const Selection& edges, const Selection& creases);

}  // namespace anvil
