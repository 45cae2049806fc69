#pragma once

#include <span>

#include "core/inspect/inspect.h"
#include "core/mend/hand_edit.h"
#include "core/mend/repairs.h"

namespace anvil {

/// A mended mesh, and what was done to it.
struct Mended {
    Mesh mesh;
    Inspection before, after;
    std::vector<Repaired> repairs;  ///< those that were run, in order
    std::vector<HandDone> by_hand;  ///< or what became of edits by hand
    bool sheet = false;             ///< an open surface that encloses nothing, and was left one
    double largest_move = 0;        ///< mm, no more than the moves of all repairs together
    double seconds = 0;             ///< of mending and inspecting
    std::string too_far_off;        ///< a sentence where the file's numbers hardly hold it, see rounding.h

    /// Why it is not print-ready, in a sentence or two; empty where it is.
    std::string remains() const;
    /// Whether it is a sheet that closing would not help, since it is flat.
    bool is_flat() const;
    /// Whether a repair had something to do and could not.
    bool refused() const;
};

/// All repairs, in the order of the plan.
std::span<const Repair> whole_plan();

/// The repairs that do something about a kind of finding, in the order of the plan; none for what has no repair.
std::vector<Repair> repairs_for(FindingKind kind);

/// The points that limit those repairs to one finding (`MendOptions::places`). `numbered`: the mesh that was inspected,
/// or one with the same points in the same order, as a copy of it that stands elsewhere.
std::vector<Vec3> places_of(const Finding& finding, const Mesh& numbered);

/// Runs repairs of the plan in its order, each on what the one before left. Nothing is touched where the mesh is
/// print-ready from the start, unless a distance to weld or the size of shells to drop is given. With the whole plan
/// the result of anything but a sheet is closed, manifold, looks outward and has no crossing, degenerate or duplicate
/// face, unless holes were left open on request. Preconditions: coordinates are finite. Fails: where a repair does (an
/// operand's errors), out_of_memory, cancelled.
Result<Mended> mend(const Mesh& mesh, std::span<const Repair> plan, const MendOptions& options, Progress& progress);

}  // namespace anvil
