#pragma once

#include <functional>
#include <vector>

#include "core/arrange/operand.h"

namespace anvil {

using MadeOperand = Result<std::shared_ptr<const Operand>>;

/// Makes so many operands ready at the same time, each by `make` of its number, in their order.
std::vector<MadeOperand> make_operands(std::size_t count, const std::function<MadeOperand(std::size_t)>& make);

/// All of them. Fails: as the first that failed, with its number unless it was stopped or had no memory.
Result<std::vector<std::shared_ptr<const Operand>>> all_of(std::vector<MadeOperand> made);

}  // namespace anvil
