#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/mesh/measures.h"

namespace anvil {

/// The separate bodies of a mesh: each shell with the hollows in it. A hollow lies within a shell, looks the other way,
/// and no solid is between the two.
struct Pieces {
    struct Piece {
        Vec3 middle;        ///< of the box round it
        double volume = 0;  ///< mm3, its hollows taken off
    };
    std::vector<Piece> pieces;  ///< in the order of their first faces
    IdVector<FaceId, std::uint32_t> of;
};
/// Precondition: `mesh` is welded where its faces meet. Where it was cancelled, hollows may be pieces of their own.
Pieces find_pieces(const Mesh& mesh, const Progress& progress);

/// One of them by itself, with its materials.
Mesh piece_of(const Mesh& mesh, const Pieces& pieces, std::uint32_t number);

}  // namespace anvil
