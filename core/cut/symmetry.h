#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/combine/settle.h"
#include "core/mesh/mesh.h"

namespace anvil {

struct Symmetry {
    Vec3 origin, normal{1, 0, 0};  ///< of the plane
    bool keep_front = true;        ///< the half that the normal points to; else the other one
    double weld = 0;               ///< mm: points no farther from the plane are put onto it first
};

/// A half with its mirror image, made one at the plane.
struct Symmetric {
    Mesh mesh;
    std::size_t met = 0;    ///< points of the two halves that meet in the plane
    std::size_t moved = 0;  ///< points that were put onto it
    double largest_move = 0;
    bool was_symmetric = false;  ///< to the bit: the mesh is what was given
};

/// Cuts a body at a plane, keeps one half, and welds that to its mirror image point by point: no face is left inside,
/// loops run across the seam, and what is mirrored is so to the bit. Square to an axis the mirror image of a coordinate
/// x is 2 c - x, rounded once. Mesh: welded. Fails: out_of_range, where that side is empty or does not reach the plane;
/// as `combine` does.
Result<Symmetric> made_symmetric(const Mesh& body, const Symmetry& symmetry, const SettleOptions& settle,
                                 Progress& progress);

}  // namespace anvil
