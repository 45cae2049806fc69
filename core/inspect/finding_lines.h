#pragma once

#include "core/inspect/inspect.h"
#include "core/mesh/selection.h"

namespace anvil {

/// Lines that show findings of a kind on the surface: open and other edges themselves, holes as closed lines round
/// their rims, crossing faces by the pieces of line in which they meet (the outlines of faces that lie on each other),
/// other faces by their outlines. For showing: in doubles. Closed lines end where they began.
std::vector<std::vector<Vec3>> lines_of(const Inspection& inspection, FindingKind kind);

/// The elements that findings of a kind name, to be chosen in place of being mended: of edges and rims their own edges
/// and points, and the faces beside them; of faces the faces, their edges and corners. In the numbers of
/// `inspection.mesh`.
Selection selection_of(const Inspection& inspection, FindingKind finding, ElementKind kind);

}  // namespace anvil
