#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/combine/operation.h"
#include "core/shape/solid.h"

namespace anvil {

/// An operand that a cut makes, where it stands, and what it does to the body.
struct Cutter {
    Operation operation = Operation::difference;
    Solid solid{};                 ///< closed, or a sheet. No two cutters of a cut have sides of one number
    std::vector<Cutter> bundle{};  ///< what acts on it before
    bool ends = true;              ///< false: it stands for something that has no end
};

/// What a cut does, one cutter after the other.
struct Cut {
    std::vector<Cutter> cutters;
    Mesh shown{};                ///< what stands for it in the view; need not close
    std::string said{};          ///< in one sentence
    std::vector<Vec3> places{};  ///< that this is about, marked in the view
    /// Of one that lies on a face: a point of its plane as it is now, and where that looks, of length 1.
    std::optional<std::pair<Vec3, Vec3>> on{};
};

}  // namespace anvil
