#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace anvil {

/// What an operand does to the body that the steps before it have made.
enum class Operation {
    union_of,      ///< everything that is in either
    difference,    ///< the body less the operand
    intersection,  ///< what is in both
};

/// The fixed word for files and the command line: "union", "difference", "intersection".
std::string_view word(Operation op);
std::optional<Operation> operation_from(std::string_view word);

/// One operation by one operand; operands are numbered as they were given to `arrange`, 0 being the base.
struct CombineStep {
    Operation operation = Operation::union_of;
    std::uint32_t operand = 1;
};

/// Whether a cell is inside the result, given how often each operand is wound around it. What is wound at least once
/// is inside an operand. Steps are taken in order, starting from operand 0.
bool inside_result(std::span<const std::int32_t> winding, std::span<const CombineStep> steps);

}  // namespace anvil
