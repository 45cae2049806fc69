#include "core/combine/operation.h"

#include <algorithm>

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
        case Operation::gather: return piece;
    }
    return piece;
}

/// Numbers the pieces that are left from 1 without gaps, in their order.
CellPieces numbered(const std::vector<std::uint64_t>& of_cell) {
    std::vector<std::uint64_t> present(of_cell);
    std::sort(present.begin(), present.end());
    present.erase(std::unique(present.begin(), present.end()), present.end());
    std::erase(present, 0);
    CellPieces out;
    out.count = static_cast<std::uint32_t>(present.size());
    out.of_cell.reserve(of_cell.size());
    for (std::uint64_t piece : of_cell) {
        const auto at = std::lower_bound(present.begin(), present.end(), piece);
        out.of_cell.push_back(piece == 0 ? 0 : static_cast<std::uint32_t>(at - present.begin()) + 1);
    }
    return out;
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
        case Operation::gather: return "gather";
    }
    return "";
}

std::optional<Operation> operation_from(std::string_view w) {
    for (Operation op : all_operations)
        if (word(op) == w) return op;
    return std::nullopt;
}

CellPieces pieces_of(const Cells& cells, std::span<const CombineStep> steps, std::uint32_t base) {
    CellPieces now;
    now.count = 1;
    now.of_cell.resize(cells.count);
    for (std::uint32_t c = 0; c < cells.count; ++c) now.of_cell[c] = cells.winding_of(c)[base] >= 1;
    std::vector<std::uint64_t> next(cells.count);
    for (const CombineStep& step : steps) {
        const CellPieces there = pieces_of(cells, step.bundle, step.operand);
        for (std::uint32_t c = 0; c < cells.count; ++c)
            next[c] = after_step(step.operation, now.of_cell[c], now.count, there.of_cell[c] > 0);
        now = numbered(next);
    }
    return now;
}

}  // namespace anvil
