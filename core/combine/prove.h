#pragma once

#include "core/combine/rounding.h"
#include "core/combine/settle.h"

namespace anvil {

/// Where plain rounding cannot be made to work, points near the faults go to a grid of this many bits relative to the
/// largest coordinate, coarser from try to try: layers too thin for the numbers to keep apart fall onto each other
/// there and vanish. 0 bits stands for plain numbers.
std::span<const int> grid_bits(Precision precision);
/// The grid of so many bits for coordinates up to `reach`, a power of two in mm; 0 for 0 bits.
double grid_for(double reach, int bits);

/// One try: rounded faces, and which of them are faulty (empty where none is).
struct Attempt {
    RoundedFaces rounded;
    std::vector<char> faulty;
    int rounds = 0;
};

/// Rounds the exact faces, those near faults to the grid, until no further face becomes faulty; then arranges what
/// still crosses, and rounds again. `all`: without patches. `coarse`: per face, whether it goes to the grid at once.
/// Fails only where it was stopped, as all of these.
Result<Attempt> attempt(const Arrangement& arrangement, const Extraction& all, std::vector<char> coarse, int bits,
                        Precision precision, Effort effort, Progress& progress);

/// Rounded faces arranged once more.
struct ArrangedAgain {
    Arrangement arrangement;
    Extraction all;            ///< without patches; sources are those of the faces before
    std::vector<char> marked;  ///< per face: the mark of the face that it is a part of
};
/// `surface`: they need not close.
Result<ArrangedAgain> arrange_again(const Mesh& mesh, std::span<const FaceSource> source, std::span<const char> marks,
                                    bool surface, Progress& progress);

/// A result that is rounded and proven, or as nearly so as could be reached.
struct Proven {
    Settled settled;
    Pinches pinches;  ///< where it touches itself; none are looked for where it crosses itself, or on surfaces
};
Result<Proven> round_and_prove(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                               Effort effort, Progress& progress);

}  // namespace anvil
