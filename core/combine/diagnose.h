#pragma once

#include <string>

#include "core/combine/extract.h"

namespace anvil {

/// What is remarkable about a step in its place behind `before`: that it changes nothing, with the reason and the
/// distance where there is one, or that its operand swallows the body. A sentence about "it", the operand; empty where
/// there is nothing to say. Whether it changes anything is decided exactly, distances are in doubles, mm.
/// `base`: the operand that `before` starts from.
std::string diagnose_step(const Arrangement& arrangement, std::span<const CombineStep> before, const CombineStep& step,
                          std::uint32_t base = 0);
/// The same, where the pieces before the step and behind it are known.
std::string diagnose_step(const Arrangement& arrangement, std::span<const CombineStep> before, const CombineStep& step,
                          std::uint32_t base, const CellPieces& body, const CellPieces& behind);

}  // namespace anvil
