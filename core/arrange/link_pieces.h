#pragma once

#include "core/arrange/elements.h"
#include "core/base/progress.h"
#include "core/mesh/disjoint_sets.h"

namespace anvil {

/// Joins the sides that look into one region of space though the surfaces they are on do not hang together: each such
/// surface lies in a region of another one, or in the space outside of everything.
/// `surfaces`: the elements, joined where they meet at edges; they are linked in the end. `sides`: the elements' sides,
/// joined round edges. Behind either, one more stands for the outside.
/// Returns whether it was done and not stopped.
bool link_pieces(const Soup& soup, const Elements& elements, DisjointSets& surfaces, DisjointSets& sides,
                 Progress& progress);

}  // namespace anvil
