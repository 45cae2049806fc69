#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace anvil {

struct Cells;

/// What an operand does to the body that the steps before it have made. A body may be in several pieces; all but the
/// union act on each piece by itself. By a sheet, which encloses nothing, split and pieces part the body where the
/// sheet passes through it, and scribe draws; the others find nothing to work with.
enum class Operation {
    union_of,            ///< everything that is in either, in one piece
    difference,          ///< the body less the operand
    reverse_difference,  ///< the operand less the body
    intersection,        ///< what is in both
    split,               ///< the difference and the intersection, as separate pieces
    pieces,              ///< the difference, the intersection and the reverse difference, as separate pieces
    inlay,               ///< the body with a pocket, and the operand seated in it as a piece of its own
    scribe,              ///< the body as it is, with the crossing lines drawn into its faces
    trim_outside,        ///< the body's surface outside of the operand, open where it was cut
    trim_inside,         ///< the body's surface inside of the operand, and what lies on it
    gather,              ///< put together without computing: the operand's faces are added as they are
};
inline constexpr Operation all_operations[] = {
    Operation::union_of,     Operation::difference, Operation::reverse_difference,
    Operation::intersection, Operation::split,      Operation::pieces,
    Operation::inlay,        Operation::scribe,     Operation::trim_outside,
    Operation::trim_inside,  Operation::gather};

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

/// Of the base before any step, and of what one more step makes of it.
CellPieces pieces_at_first(const Cells& cells, std::uint32_t base = 0);
CellPieces pieces_after(const Cells& cells, const CellPieces& now, const CombineStep& step);

/// All steps, one after the other: a function of the winding numbers, and of what sheets part. What is wound at least
/// once is inside an operand. Steps are taken in order, starting from `base`; scribe, the trims and gather change no
/// cell. Pieces are numbered so that what remains of the base comes first.
CellPieces pieces_of(const Cells& cells, std::span<const CombineStep> steps, std::uint32_t base = 0);

inline bool is_trim(Operation op) { return op == Operation::trim_outside || op == Operation::trim_inside; }

/// Whether the base is wanted as a surface, not as a solid: its first change is a trim.
bool starts_as_surface(std::span<const CombineStep> steps);

/// Whether a step has no effect since it comes behind a trim, which leaves a surface without an inside.
bool comes_too_late(std::span<const CombineStep> before, Operation op);

}  // namespace anvil
