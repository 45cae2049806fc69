#include "core/combine/operation.h"

#include <algorithm>

#include "core/arrange/cells.h"
#include "core/mesh/disjoint_sets.h"

namespace anvil {
namespace {

/// The piece of a cell after a step. `piece` is the one before it, `most` the largest of all, `there` whether the
/// operand is there. Numbers may have gaps; their order is that of the pieces.
std::uint64_t after_step(Operation operation, std::uint64_t piece, std::uint64_t most, bool there) {
    switch (operation) {
        case Operation::union_of: return piece > 0 || there ? 1 : 0;
        case Operation::difference: return there ? 0 : piece;
        case Operation::reverse_difference: return there && piece == 0 ? 1 : 0;
        case Operation::intersection: return there ? piece : 0;
        case Operation::split: return piece == 0 ? 0 : there ? most + piece : piece;
        case Operation::pieces: return piece == 0 ? (there ? 2 * most + 1 : 0) : there ? most + piece : piece;
        case Operation::inlay: return there ? most + 1 : piece;
        case Operation::scribe:
        case Operation::trim_outside:
        case Operation::trim_inside:
        case Operation::gather: return piece;
    }
    return piece;
}

/// Numbers the pieces that are left from 1 without gaps, in their order. The numbers given are not much larger than
/// there are cells.
CellPieces numbered(const std::vector<std::uint64_t>& of_cell) {
    const std::uint64_t most = of_cell.empty() ? 0 : *std::ranges::max_element(of_cell);
    std::vector<std::uint32_t> number(most + 1, 0);
    for (const std::uint64_t piece : of_cell) number[piece] = 1;
    CellPieces out;
    number[0] = 0;
    for (std::uint32_t& n : number)
        if (n > 0) n = ++out.count;
    out.of_cell.reserve(of_cell.size());
    for (const std::uint64_t piece : of_cell) out.of_cell.push_back(number[piece]);
    return out;
}

/// Parts the pieces by a sheet: what hangs together only through it becomes a piece of its own, behind the others. What
/// the sheet does not part stays one piece, be it in several bodies.
std::vector<std::uint64_t> parted_by_sheet(const Cells& cells, std::uint32_t sheet, const CellPieces& now) {
    DisjointSets whole(cells.count), parts(cells.count);
    for (const Cells::Wall& w : cells.walls) {
        if (now.of_cell[w.a] == 0 || now.of_cell[w.a] != now.of_cell[w.b]) continue;
        whole.join(w.a, w.b);
        if (!std::ranges::binary_search(cells.sheets[w.sheets], sheet)) parts.join(w.a, w.b);
    }
    // Of each body the part with the first cell keeps the piece's number.
    std::vector<std::uint64_t> next(now.of_cell.begin(), now.of_cell.end());
    for (std::uint32_t c = 0; c < cells.count; ++c)
        if (now.of_cell[c] > 0 && parts.find(c) != whole.find(c))
            next[c] = std::uint64_t{now.count} + 1 + parts.find(c);
    return next;
}

}  // namespace

std::string_view word(Operation op) {
    switch (op) {
        case Operation::union_of: return "union";
        case Operation::difference: return "difference";
        case Operation::reverse_difference: return "reverse-difference";
        case Operation::intersection: return "intersection";
        case Operation::split: return "split";
        case Operation::pieces: return "pieces";
        case Operation::inlay: return "inlay";
        case Operation::scribe: return "scribe";
        case Operation::trim_outside: return "trim-outside";
        case Operation::trim_inside: return "trim-inside";
        case Operation::gather: return "gather";
    }
    return "";
}

std::optional<Operation> operation_from(std::string_view w) {
    for (Operation op : all_operations)
        if (word(op) == w) return op;
    return std::nullopt;
}

CellPieces pieces_at_first(const Cells& cells, std::uint32_t base) {
    CellPieces now;
    now.count = 1;
    now.of_cell.resize(cells.count);
    for (std::uint32_t c = 0; c < cells.count; ++c) now.of_cell[c] = cells.winding_of(c)[base] >= 1;
    return now;
}

CellPieces pieces_after(const Cells& cells, const CellPieces& now, const CombineStep& step) {
    if (cells.sheet(step.operand) && (step.operation == Operation::split || step.operation == Operation::pieces))
        return numbered(parted_by_sheet(cells, step.operand, now));
    const CellPieces there = pieces_of(cells, step.bundle, step.operand);
    std::vector<std::uint64_t> next(cells.count);
    for (std::uint32_t c = 0; c < cells.count; ++c)
        next[c] = after_step(step.operation, now.of_cell[c], now.count, there.of_cell[c] > 0);
    return numbered(next);
}

CellPieces pieces_of(const Cells& cells, std::span<const CombineStep> steps, std::uint32_t base) {
    CellPieces now = pieces_at_first(cells, base);
    for (const CombineStep& step : steps) now = pieces_after(cells, now, step);
    return now;
}

bool starts_as_surface(std::span<const CombineStep> steps) {
    for (const CombineStep& step : steps)
        if (step.operation != Operation::scribe && step.operation != Operation::gather) return is_trim(step.operation);
    return false;
}

bool comes_too_late(std::span<const CombineStep> before, Operation op) {
    if (is_trim(op) || op == Operation::scribe || op == Operation::gather) return false;
    return std::ranges::any_of(before, [](const CombineStep& s) { return is_trim(s.operation); });
}

}  // namespace anvil
