#pragma once

#include <span>
#include <vector>

#include "core/combine/extract.h"
#include "core/job/evaluate.h"

namespace anvil {

/// Which rows count: on, above the stop line, their heads too, and of a kind that does something where they are.
std::vector<StepOutcome> counted_rows(const Job& job, std::size_t stop_after);

/// The steps that count, as the engine takes them, bundles within them. `operand`: per row, the number of its operand.
std::vector<CombineStep> engine_steps(const Job& job, std::span<const StepOutcome> rows,
                                      std::span<const std::uint32_t> operand);

/// What a row does to its body, and the rows of its bundle to its operand.
struct RowFacts {
    double volume_before = 0, volume_after = 0;  ///< mm3
    std::size_t pieces_before = 1, pieces_after = 1;
    std::string note;
};
std::vector<RowFacts> row_facts(const Job& job, const Arrangement& arrangement, std::span<const StepOutcome> rows,
                                std::span<const std::uint32_t> operand);

}  // namespace anvil
