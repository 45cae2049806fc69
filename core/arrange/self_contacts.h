#pragma once

#include <optional>

#include "core/arrange/operand.h"

namespace anvil {

/// Every pair of faces of one mesh that meet in more than the corners and edges they share, sorted; nothing where it
/// was stopped. Precondition: no face is degenerate. `tree`: over the boxes of the faces. `sound_stars`: see stars.h.
std::optional<std::vector<FaceContact>> find_self_contacts(const Mesh& mesh, const std::vector<char>& sound_stars,
                                                           const BoxTree& tree, Progress& progress);

}  // namespace anvil
