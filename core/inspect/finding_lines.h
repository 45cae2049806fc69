#pragma once

#include "core/inspect/inspect.h"

namespace anvil {

/// Lines that show findings of a kind on the surface: open and other edges themselves, holes as closed lines round their
/// rims, crossing faces by the pieces of line in which they meet (the outlines of faces that lie on each other), other
/// faces by their outlines. For showing: in doubles. Closed lines end where they began.
std::vector<std::vector<Vec3>> lines_of(const Inspection& inspection, FindingKind kind);

}  // namespace anvil
