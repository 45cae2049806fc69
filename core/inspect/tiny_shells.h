#pragma once

#include "core/mesh/measures.h"

namespace anvil {

/// Which shells are closed and enclose less than `below` mm3, whichever way they look; per shell.
std::vector<char> find_tiny_shells(const Mesh& mesh, const EdgeTable& edges, const Shells& shells, double below);

}  // namespace anvil
