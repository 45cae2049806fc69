#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/cut/plane_section.h"
#include "core/shape/solid.h"

namespace anvil {

/// Pegs on one side of a cut and sockets in the other, by which printed pieces find each other.
struct Joints {
    enum class Form { none, round, square, dovetail } form = Form::none;
    int count = 2;
    double size = 6;         ///< mm: diameter, side, or the width of a dovetail at its neck
    double depth = 6;        ///< mm that pegs stand out
    double clearance = 0.2;  ///< mm between peg and socket, all round and at the tip
    double rim = 2;          ///< mm at least between a socket and the rim of the cut face, and behind it
    double turn = 0;         ///< degrees that square ones are turned by, and dovetails run at, in the cut face
};

/// A line in the cut face that joints keep off as they do off its rim: u * a + v * b = c, a and b of length 1.
struct KeepOff {
    double a, b, c;
};

/// Where joints go in a cut face, in the coordinates of the frame: so that all keep off the rim and the body holds
/// them, far apart from each other. Frame: z looks at the side that keeps the pegs. `by_hand`: where they are wanted;
/// empty: anywhere. Fails: out_of_range, with how many fit; cancelled.
Result<std::vector<Point2>> joint_places(const Mesh& body, const PlaneSection& section, const Transform& frame,
                                         const Joints& joints, std::span<const Point2> by_hand,
                                         std::span<const KeepOff> off, Progress& progress);

/// Pegs at those places, in the coordinates of the body, or the sockets for them. They go as far into the side that
/// keeps them as they stand out of it. Sides begin with `first_side`: the flank, then the tip of each.
Solid joint_bodies(std::span<const Point2> places, const PlaneSection& section, const Transform& frame,
                   const Joints& joints, bool sockets, std::uint32_t first_side);

}  // namespace anvil
