#pragma once

#include <optional>

#include "core/arrange/operand.h"

namespace anvil {

/// What a ragged surface encloses.
struct Enclosure {
    Mesh mesh;                   ///< closed; it may touch and cross itself
    std::vector<FaceId> origin;  ///< per face: the surface's face that it is a part of; not valid for a wall
    double walls = 0, own = 0;   ///< mm2 of what closes it, and of what was there before
};

/// Closes a surface in many parts, whose borders do not fit together, by the generalized winding number: what it is
/// wound around more than half is inside. Walls come from the smallest fill of each border and from the Delaunay
/// tetrahedra of the points on borders; which of them are used is told by the cells that they and the surface make.
/// `fill`: faces that together with the surface close it as a chain.
/// Nothing where it encloses nothing, where its borders lie in one plane or have more than `most_border_points` points,
/// or where it was stopped.
/// Based on: A. Jacobson, L. Kavan, O. Sorkine-Hornung, "Robust Inside-Outside Segmentation using Generalized Winding
/// Numbers" (2013). We depart from it in taking the cells of an exact arrangement in place of tetrahedra, so that the
/// surface itself stays as it is.
std::optional<Enclosure> enclose(const Mesh& surface, std::span<const Triangle> fill, Progress& progress);

inline constexpr std::size_t most_border_points = 20000;

}  // namespace anvil
