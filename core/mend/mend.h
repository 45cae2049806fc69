#pragma once

#include <span>

#include "core/inspect/inspect.h"
#include "core/mend/repairs.h"

namespace anvil {

/// A mended mesh, and what was done to it.
struct Mended {
    Mesh mesh;
    Inspection before, after;
    std::vector<Repaired> repairs;  ///< those that were run, in order
    bool sheet = false;             ///< an open surface that encloses nothing, and was left one
    double largest_move = 0;        ///< mm, no more than the moves of all repairs together
    double seconds = 0;             ///< of mending and inspecting

    /// Why it is not print-ready, in a sentence or two; empty where it is.
    std::string remains() const;
    /// Whether a repair had something to do and could not.
    bool refused() const;
};

/// All repairs, in the order of the plan.
std::span<const Repair> whole_plan();

/// Runs repairs of the plan in its order, each on what the one before left. Nothing is touched where the mesh is
/// print-ready from the start. With the whole plan the result of anything but a sheet is closed, manifold, looks
/// outward and has no crossing, degenerate or duplicate face, unless holes were left open on request.
/// Preconditions: coordinates are finite.
/// Fails: where a repair does (an operand's errors), out_of_memory, cancelled.
Result<Mended> mend(const Mesh& mesh, std::span<const Repair> plan, const MendOptions& options, Progress& progress);

}  // namespace anvil
