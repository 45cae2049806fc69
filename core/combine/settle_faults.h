#pragma once

#include "core/combine/faults.h"

namespace anvil {

/// Where plain rounding cannot be made to work, points near the faults go to a grid of this many bits relative to the
/// largest coordinate, coarser from try to try: layers too thin for the numbers to keep apart fall onto each other
/// there and vanish.
std::span<const int> grid_bits(Precision precision);
/// The grid of so many bits for coordinates up to `reach`, a power of two in mm.
double grid_for(double reach, int bits);

struct SettlingOptions {
    Precision precision = Precision::double_precision;
    bool surface = false;  ///< it need not close
    /// Faces to put on a grid at once, whether they are faulty or not, and which grid.
    std::vector<std::uint32_t> on_grid{};
    int first_grid = 0;
    /// Pairs of faces that may be layers to lay together at once, and how far apart they may be: see below.
    std::vector<std::pair<std::uint32_t, std::uint32_t>> layers{};
    int first_flattening = 0;
    /// How often layers are laid together where they lie on each other but for a few digits (see flat_layers.h): twice,
    /// then twice where they are up to 16 times as far apart, then up to 128 times.
    int flattenings = 0;
    /// Goes on where faces pile up, or only coarse grids would help; else it is given up there.
    bool stubborn = false;
};

/// Rounded faces that were settled; `faulty` where some still meet where they should not.
struct SettledFaces {
    RoundedFaces rounded;
    bool faulty = false;
    int rounds = 0;
};

/// Settles faults where they are. Faces that meet where they should not, and what shares a point with them, form
/// clusters; layers that slid along each other are laid together; else, round by round, each cluster is split along its
/// crossings, exactly, and rounded; and where that makes new ones its points are put on a grid, coarser the longer it
/// lasts. Only what a round has changed is looked at again. In the end what rounding turned inside out is taken out.
///
/// The rule for what is thinner than rounding can be: closed shells thinner than a few places of the last digit, or a
/// few times the grid where they lie on one altogether, vanish; layers that fall onto each other cancel. How thick they
/// were counts in `largest_move`.
///
/// Based on: S. Lazard, L. Valque, "Removing self-intersections in 3D meshes while preserving floating-point
/// coordinates" (2025): subdivide and round, again and again. We depart from it in working on clusters, with grids of
/// their own, in chains that cancel, and in proving by what changed.
/// Fails only where it was stopped.
Result<SettledFaces> settle_faults(RoundedFaces rounded, const Faults& faults, const SettlingOptions& options,
                                   Progress& progress);

}  // namespace anvil
