#include "core/combine/settle_pieces.h"

#include <algorithm>
#include <functional>
#include <limits>

#include "core/combine/snapped_settler.h"

namespace anvil {
namespace {

/// The grids for operands, coarser from try to try. What the finest leaves of the digits keeps new points apart.
std::span<const int> operand_grid_bits(Precision precision) {
    static constexpr int single[] = {20, 18, 16}, twice[] = {36, 30, 24, 18};
    return precision == Precision::single_precision ? std::span<const int>(single) : std::span<const int>(twice);
}

bool rounds_operands(const Soup& soup, Precision precision) {
    return precision == Precision::single_precision &&
           std::ranges::any_of(soup.operands(), [](const auto& o) { return !o->single_precision; });
}

bool is_clean(const Settled& piece) { return piece.clean && !piece.touching; }

/// Each piece is proven by itself, so those that one try settled stand beside those of another.
void take_clean(SettledPieces& from, SettledPieces& into) {
    if (from.clean()) {
        into = std::move(from);
        return;
    }
    if (from.pieces.size() != into.pieces.size()) return;
    for (std::size_t k = 0; k < into.pieces.size(); ++k)
        if (!is_clean(into.pieces[k]) && is_clean(from.pieces[k])) into.pieces[k] = std::move(from.pieces[k]);
}

}  // namespace

bool SettledPieces::clean() const { return std::ranges::all_of(pieces, is_clean); }

Result<SettledPieces> settle_pieces(const Arrangement& arrangement, std::span<const Extraction> pieces,
                                    std::span<const CombineStep> steps, std::span<const std::uint32_t> drawn,
                                    const SettleOptions& options, Progress& progress) {
    SnappedSettler snapped(arrangement, steps, drawn, options, progress);
    if (options.precision == Precision::single_precision && snapped.reach() > double{std::numeric_limits<float>::max()})
        return Error{ErrorCode::out_of_range,
                     "its coordinates go beyond 3.4e38 mm, where numbers of single precision end; scale it down, or "
                     "take a format of double precision",
                     ""};
    auto as_it_is = [&](const Attempt& attempt) {
        return settle_each(arrangement, pieces, drawn, options, attempt, progress);
    };
    auto slid = [&](std::span<const FaceSource> faces) { return !snapped.are_near_at(faces); };
    auto best = as_it_is({Effort::full,
                          [&](std::span<const FaceSource> faces, std::size_t faults) {
                              return snapped.nearly_coincide_at(faces, faults);
                          },
                          slid});
    if (!best || best->clean()) return best;
    snapped.note_faults(*best);
    using Tried = SnappedSettler::Tried;
    if (best->pieces.back().given_up) {
        for (int times = 0; times < 2; ++times) {
            auto settled = snapped.merged();
            if (!settled) return settled.error();
            if (!*settled) break;
            if ((*settled)->clean()) return std::move(**settled);
            snapped.note_faults(**settled);
        }
        best = as_it_is({Effort::full, {}, slid});
        if (!best || best->clean()) return best;
        snapped.note_faults(*best);
    }

    // The cheapest way first that is likely to help, and moves little: where points would have to go far to be one, and
    // whole skins with them, the finest grid comes before.
    auto tried = [](Result<SettledPieces> settled) { return settled ? Tried(std::move(*settled)) : settled.error(); };
    std::vector<std::function<Tried()>> ways;
    if (rounds_operands(arrangement.soup, options.precision)) ways.emplace_back([&] { return snapped.rounded(); });
    const std::span<const int> grids = operand_grid_bits(options.precision);
    for (const int bits : grids) ways.emplace_back([&, bits] { return snapped.on_grid(bits); });
    const bool merging_moves_more = snapped.merge_distance() > 4 * snapped.grid_step(grids.front());
    ways.insert(merging_moves_more ? ways.end() - static_cast<long>(grids.size() - 1) : ways.begin(),
                [&] { return snapped.merged(); });
    ways.emplace_back([&] { return tried(as_it_is({Effort::last, {}, slid})); });
    for (const auto& way : ways) {
        auto settled = way();
        if (!settled) return settled.error();
        if (!*settled) continue;
        snapped.note_faults(**settled);
        take_clean(**settled, *best);
        if (best->clean()) return best;
    }
    // So small, products of coordinates are no numbers any more: never half a proof.
    if (snapped.reach() < 1e-100)
        return Error{ErrorCode::out_of_range,
                     "its coordinates are under 1e-100 mm, where products of them are no numbers any more; scale it up",
                     ""};
    return best;
}

}  // namespace anvil
