#pragma once

#include <cstdint>
#include <span>

#include "core/arrange/few.h"

namespace anvil {

/// A point of a plane that waits to be inserted, by a number of the caller's.
struct PlanePoint {
    double u, v;
    std::uint32_t id;
};

/// Puts points into an order that makes an incremental triangulation quick wherever they crowd: rounds drawn by chance,
/// each about twice as large as all before it, so that no triangle waits for many points at once; within a round along
/// a Hilbert curve that halves the points themselves, so that each lies near the one before. The chance is a hash of
/// the ids: the same points, in any order, come out the same. Returns where each round ends.
Few<std::size_t> put_in_insertion_order(std::span<PlanePoint> points);

/// The numbers below `count` in an order drawn by chance, always the same. Segments go in so: in the order of their
/// places each would cross the long edges that the one before it left, and their number grows with the square.
Few<std::uint32_t> by_chance(std::size_t count);

}  // namespace anvil
