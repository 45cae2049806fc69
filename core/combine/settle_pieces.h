#pragma once

#include <functional>

#include "core/combine/extract.h"
#include "core/combine/settle.h"

namespace anvil {

/// Every piece of a result, settled.
struct SettledPieces {
    std::vector<Settled> pieces;
    bool surface = false;

    bool clean() const;
};

/// Settles the pieces that `steps` make, cleaned before. Where faces of the result cross after rounding and that cannot
/// be resolved, the operands' points are rounded first and arranged anew: skins that lie on each other but for their
/// last digits become one then. Operands that are no single-precision numbers go to such ones before anything else is
/// tried; what then still crosses goes to a grid, ever coarser. The moves count in `largest_move`; sources are those of
/// the operands as they were given.
/// `drawn`: operands whose lines stay (see clean.h). `beside`: work of its own, done once, as soon as a thread has no
/// piece to begin with; it must not throw. Not done where settling fails before anything is tried. Fails: out_of_range
/// where coordinates go beyond the precision, or are so small that a result cannot be proven; cancelled.
Result<SettledPieces> settle_pieces(const Arrangement& arrangement, std::span<const Extraction> pieces,
                                    std::span<const CombineStep> steps, std::span<const std::uint32_t> drawn,
                                    const SettleOptions& options, const std::function<void()>& beside,
                                    Progress& progress);

}  // namespace anvil
