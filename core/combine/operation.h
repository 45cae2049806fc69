#pragma once

#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

#include "core/arrange/cells.h"

namespace anvil {

/// What an operand does to the body that the steps before it have made. A body may be in several pieces; all but the
/// union act on each piece by itself.
enum class Operation {
    union_of,            ///< everything that is in either, in one piece
    difference,          ///< the body less the operand
    reverse_difference,  ///< the operand less the body
    intersection,        ///< what is in both
    split,               ///< the difference and the intersection, as separate pieces
    pieces,              ///< the difference, the intersection and the reverse difference, as separate pieces
    inlay,               ///< the body with a pocket, and the operand seated in it as a piece of its own
    scribe,              ///< the body as it is, with the crossing lines drawn into its faces
    gather,              ///< put together without computing: the operand's faces are added as they are
};
inline constexpr Operation all_operations[] = {
    Operation::union_of,     Operation::difference, Operation::reverse_difference,
    Operation::intersection, Operation::split,      Operation::pieces,
    Operation::inlay,        Operation::scribe,     Operation::gather};

/// The fixed word for files and the command line: "union", "reverse-difference" and so on.
std::string_view word(Operation op);
std::optional<Operation> operation_from(std::string_view word);

/// One operation by one operand, or by a bundle: the operand together with what the bundle's steps make of it. Operands
/// are numbered as they were given to `arrange`, 0 being the base.
struct CombineStep {
    Operation operation = Operation::union_of;
    std::uint32_t operand = 1;
    std::vector<CombineStep> bundle{};
};

/// Which piece of the result each cell belongs to.
struct CellPieces {
    std::vector<std::uint32_t> of_cell;  ///< 0 outside, else the piece's number from 1
    std::uint32_t count = 0;
};

/// A function of the winding numbers alone. What is wound at least once is inside an operand. Steps are taken in order,
/// starting from `base`; gather changes no cell. Pieces are numbered so that what remains of the base comes first.
CellPieces pieces_of(const Cells& cells, std::span<const CombineStep> steps, std::uint32_t base = 0);

}  // namespace anvil
