#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/mesh/mesh.h"
#include "core/recast/lattice.h"

namespace anvil {

/// Where a surface passes between two points, and the plane that it lies in there.
struct SurfacePassage {
    Vec3 place;   ///< on the line between them
    Vec3 normal;  ///< of length 1, to either side; 0 where it is not known
    Vec3 on;      ///< some point of the plane
};

/// What a surface that is put anew is like. Called from any thread.
class ContourSource {
  public:
    virtual ~ContourSource() = default;
    /// Where it passes between two places of which the first one is inside.
    virtual SurfacePassage passage(const Vec3& inner, const Vec3& outer) const = 0;
    /// Planes that it lies in within a box, each once; none where they are many, as on a round.
    virtual std::vector<SurfacePassage> planes_in(const Box& box) const = 0;
    /// How far a place is from it, mm.
    virtual double distance(const Vec3& p) const = 0;
};

/// A closed surface between the inner points of a lattice and the outer ones. A cell has a point for each part of the
/// surface that passes through it, placed where the planes of the part's passages meet: flat faces come out flat, edges
/// and corners sharp. Faces look outward. It may cross itself where cells are large for what it shows.
/// `inside`: per point of the lattice.
/// Precondition: no outermost point is inside. Fails only where it was stopped.
///
/// Based on: T. Ju et al., "Dual Contouring of Hermite Data" (2002), for where the points are; S. Schaefer, T. Ju,
/// J. Warren, "Manifold Dual Contouring" (2007), for several of them in a cell. We depart from them in a regular
/// lattice; in looking for planes that pass no edge of the cell, as those of a corner that only just reaches into the
/// next one; and in taking fewer directions into account, rather than a point in a cell that is another's.
Result<Mesh> dual_contour(const Lattice& lattice, const std::vector<char>& inside, const ContourSource& source,
                          Progress& progress);

}  // namespace anvil
