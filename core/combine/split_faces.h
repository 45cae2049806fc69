#pragma once

#include <memory>

#include "core/arrange/subdivide.h"

namespace anvil {

/// Faces of one mesh, split exactly along their crossings: sub-faces that meet in common corners and edges only.
/// Sources of the sub-faces are numbers of faces of that mesh. Never copied: the points know the soup.
struct SplitFaces {
    Soup soup;
    PointTable points{soup};
    ActiveFaces active{};  ///< every face, so that there are no patches
    SubFaces parts{};

    explicit SplitFaces(std::shared_ptr<const Operand> operand) : soup({std::move(operand)}) {}
    SplitFaces(const SplitFaces&) = delete;
    const Operand& operand() const { return soup.operand(0); }
};

/// Nothing where they are no operand. Fails only where it was stopped.
Result<std::unique_ptr<SplitFaces>> split_faces(const Mesh& mesh, Progress& progress);

}  // namespace anvil
