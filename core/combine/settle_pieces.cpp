#include "core/combine/settle_pieces.h"

#include <algorithm>
#include <cmath>
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

/// Each piece is proven by itself, so those that one try settled stand beside those of another. `most`: mm, how far it
/// may have moved them.
void take_clean(SettledPieces& from, SettledPieces& into, double most) {
    auto is_good = [&](const Settled& piece) { return is_clean(piece) && piece.largest_move <= most; };
    if (std::ranges::all_of(from.pieces, is_good)) {
        into = std::move(from);
        return;
    }
    if (from.pieces.size() != into.pieces.size()) return;
    for (std::size_t k = 0; k < into.pieces.size(); ++k)
        if (!is_clean(into.pieces[k]) && is_good(from.pieces[k])) into.pieces[k] = std::move(from.pieces[k]);
}

/// Of a piece: so few are worth to be settled on a fine grid before the operands' points are made one.
constexpr std::size_t few_faults = 64;

}  // namespace

bool SettledPieces::clean() const { return std::ranges::all_of(pieces, is_clean); }

Result<SettledPieces> settle_pieces(const Arrangement& arrangement, std::span<const Extraction> pieces,
                                    std::span<const CombineStep> steps, std::span<const std::uint32_t> drawn,
                                    const SettleOptions& options, const std::function<void()>& beside,
                                    Progress& progress) {
    SnappedSettler snapped(arrangement, steps, drawn, options, progress);
    if (options.precision == Precision::single_precision && snapped.reach() > double{std::numeric_limits<float>::max()})
        return Error{ErrorCode::out_of_range,
                     "its coordinates go beyond 3.4e38 mm, where numbers of single precision end; scale it down, or "
                     "take a format of double precision",
                     ""};
    auto as_it_is = [&](const Attempt& attempt, const std::function<void()>& more = {}) {
        return settle_each(arrangement, pieces, drawn, options, attempt, progress, more);
    };
    auto slid = [&](std::span<const FaceSource> faces) { return !snapped.are_near_at(faces); };
    auto best = as_it_is({Effort::full,
                          [&](std::span<const FaceSource> faces, std::size_t faults) {
                              return snapped.nearly_coincide_at(faces, faults);
                          },
                          slid},
                         beside);
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

    // The cheapest way first that is likely to help, and moves little. Where points would have to go far to be one, and
    // whole skins with them, the finest grid comes before, if it moves less.
    auto tried = [](Result<SettledPieces> settled) { return settled ? Tried(std::move(*settled)) : settled.error(); };
    struct Way {
        std::function<Tried()> run;
        double most = HUGE_VAL;  // mm, how far it may move
    };
    std::vector<Way> ways;
    if (rounds_operands(arrangement.soup, options.precision)) ways.push_back({[&] { return snapped.rounded(); }});
    const std::span<const int> grids = operand_grid_bits(options.precision);
    for (const int bits : grids) ways.push_back({[&, bits] { return snapped.on_grid(bits); }});
    const double merging = snapped.merge_distance();
    const bool few = std::ranges::all_of(best->pieces, [](const auto& p) { return p.faulty.size() <= few_faults; });
    auto merged_at = ways.begin();
    if (few && merging > 4 * snapped.grid_step(grids.front())) merged_at = ways.end() - std::ssize(grids) + 1;
    for (auto before = ways.begin(); before != merged_at; ++before) before->most = merging;
    ways.insert(merged_at, {[&] { return snapped.merged(); }});
    ways.push_back({[&] { return tried(as_it_is({Effort::last, {}, slid})); }});
    for (const Way& way : ways) {
        auto settled = way.run();
        if (!settled) return settled.error();
        if (!*settled) continue;
        snapped.note_faults(**settled);
        take_clean(**settled, *best, way.most);
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
