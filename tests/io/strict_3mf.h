#pragma once

#include <filesystem>

#include "core/mesh/mesh.h"

namespace anvil::test {

/// What the 3MF Consortium's library (lib3mf) makes of a file in its strict mode.
struct StrictlyRead {
    std::string refused;  ///< why it is not taken; empty where it is
    std::size_t warnings = 0;
    std::vector<Mesh> meshes;    ///< in single precision, as the library holds them
    std::vector<bool> manifold;  ///< closed, manifold and consistently wound, by the library
};
StrictlyRead read_strictly(const std::filesystem::path& file);

}  // namespace anvil::test
