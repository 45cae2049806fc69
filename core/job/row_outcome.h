#pragma once

#include <map>
#include <memory>
#include <optional>
#include <string>

#include "core/base/result.h"
#include "core/job/kinds/kind.h"
#include "core/job/tags.h"

namespace anvil {

/// What became of a row.
struct RowOutcome {
    bool counted = false;        ///< it is on, above the stop line, so is what it lies in
    std::optional<Error> error;  ///< why it was left out
    std::string note;            ///< what is remarkable
    double seconds = 0;          ///< that it took when it was worked out; of combining steps, with those side by side
    // Of a combining step:
    double volume_before = 0, volume_after = 0;  ///< mm3, of the body that it acts on: in a bundle, of the operand
    std::size_t pieces_before = 1, pieces_after = 1;
    std::shared_ptr<const Cut> cut{};  ///< of a cut: what it made
    // Of a treatment that was done, or a group of them; of a combining step whose copies go by the body:
    std::shared_ptr<const Mesh> from;        ///< the body before it; null where that was too large to be kept
    std::shared_ptr<Lineage> lineage{};      ///< how that came about; of such copies and what holds on to elements
    std::shared_ptr<const Treated> treated;  ///< without a mesh where that was too large to be kept
};
using RowOutcomes = std::map<std::string, RowOutcome, std::less<>>;  ///< by step id

inline void note_error(RowOutcome& row, const std::string& id, const Error& error) {
    row.error = error;
    row.error->row = id;
    row.error->operand = -1;
}

}  // namespace anvil
