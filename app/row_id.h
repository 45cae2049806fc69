#pragma once

#include <string>

namespace anvil::app {

/// A row of the job sheet: a step with its operand, a mending of a part, or else the part itself, as the base or on the
/// bench. All empty: no row.
struct RowId {
    std::string part, step{}, mending{};  ///< their ids
    bool operator==(const RowId&) const = default;
};

}  // namespace anvil::app
