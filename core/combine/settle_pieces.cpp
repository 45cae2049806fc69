#include "core/combine/settle_pieces.h"

#include <algorithm>

#include "core/combine/clean.h"
#include "core/combine/prove.h"

namespace anvil {
namespace {

Result<SettledPieces> settle_each(const Arrangement& arrangement, std::span<const Extraction> pieces,
                                  std::span<const std::uint32_t> drawn, const SettleOptions& options, Effort effort,
                                  Progress& progress) {
    SettledPieces out;
    for (const Extraction& piece : pieces) {
        auto settled =
            settle(arrangement, cleaned(arrangement, piece, options.merge_flush, drawn), options, effort, progress);
        if (!settled) return settled.error();
        out.pieces.push_back(std::move(*settled));
        out.surface = piece.surface;
    }
    return out;
}

/// An operand with its points rounded, and where its faces come from.
struct Snapped {
    Mesh mesh;
    std::vector<FaceId> origin;
    double largest_move = 0;  ///< mm
};

/// grid 0: to single precision.
Snapped snapped(const Operand& operand, double grid) {
    Operand::Whole whole = operand.whole();
    Snapped out{std::move(whole.mesh), std::move(whole.origin), 0};
    for (Vec3& p : out.mesh.points) {
        const Vec3 q = grid > 0 ? on_grid(p, grid) : in_single_precision(p);
        out.largest_move = std::max(out.largest_move, norm(q - p));
        p = q;
    }
    return out;
}

/// What is settled anew for a result that could not be settled as it was.
class SnappedSettler {
  public:
    SnappedSettler(const Arrangement& arrangement, std::span<const CombineStep> steps,
                   std::span<const std::uint32_t> drawn, const SettleOptions& options, Progress& progress)
        : soup_(arrangement.soup), steps_(steps), drawn_(drawn), options_(options), progress_(progress) {}

    /// The pieces that come of snapped operands; nothing where those cannot be arranged, or settled.
    Result<std::optional<SettledPieces>> settle(double grid) const {
        std::vector<Snapped> operands;
        for (const auto& operand : soup_.operands()) operands.push_back(snapped(*operand, grid));
        auto again = arranged(operands);
        if (!again && again.error().is_cancel()) return again.error();
        if (!again) return std::optional<SettledPieces>();
        auto settled = settle_each(*again, extract(*again, steps_), drawn_, options_, Effort::full, progress_);
        if (!settled) return settled.error();
        if (!settled->clean()) return std::optional<SettledPieces>();
        for (Settled& piece : settled->pieces) trace_back(operands, piece);
        return std::optional(std::move(*settled));
    }
    double grid_of(int bits) const {
        double reach = 0;
        for (const auto& operand : soup_.operands()) reach = std::max(reach, reach_of(operand->mesh.points.raw()));
        return grid_for(reach, bits);
    }

  private:
    Result<Arrangement> arranged(std::span<const Snapped> operands) const {
        std::vector<std::shared_ptr<const Operand>> ready;
        for (std::uint32_t o = 0; o < operands.size(); ++o) {
            const Taken taken = soup_.operand(o).sheet ? Taken::as_surface : Taken::repaired;
            auto made = make_operand(operands[o].mesh, taken, progress_);
            if (!made) return made.error();
            ready.push_back(std::move(*made));
        }
        return arrange(std::move(ready), progress_);
    }
    void trace_back(std::span<const Snapped> operands, Settled& piece) const {
        double moved = 0;
        for (const Snapped& own : operands) moved = std::max(moved, own.largest_move);
        piece.largest_move += moved;
        for (FaceSource& s : piece.source)
            if (s.operand < soup_.size() && s.face.valid()) s.face = operands[s.operand].origin[s.face.value()];
    }

    const Soup& soup_;
    std::span<const CombineStep> steps_;
    std::span<const std::uint32_t> drawn_;
    const SettleOptions& options_;
    Progress& progress_;
};

bool rounds_operands(const Soup& soup, Precision precision) {
    return precision == Precision::single_precision &&
           std::ranges::any_of(soup.operands(), [](const auto& o) { return !o->single_precision; });
}

}  // namespace

bool SettledPieces::clean() const {
    return std::ranges::all_of(pieces, [](const Settled& s) { return s.clean; });
}

Result<SettledPieces> settle_pieces(const Arrangement& arrangement, std::span<const Extraction> pieces,
                                    std::span<const CombineStep> steps, std::span<const std::uint32_t> drawn,
                                    const SettleOptions& options, Progress& progress) {
    const SnappedSettler snapped_settler(arrangement, steps, drawn, options, progress);
    const bool operands_first = rounds_operands(arrangement.soup, options.precision);
    auto settled =
        settle_each(arrangement, pieces, drawn, options, operands_first ? Effort::plain : Effort::full, progress);
    if (!settled || settled->clean()) return settled;
    if (operands_first) {
        auto rounded = snapped_settler.settle(0);
        if (!rounded) return rounded.error();
        if (*rounded) return std::move(**rounded);
        settled = settle_each(arrangement, pieces, drawn, options, Effort::full, progress);
        if (!settled || settled->clean()) return settled;
    }
    for (const int bits : grid_bits(options.precision)) {
        const double grid = snapped_settler.grid_of(bits);
        if (!(grid > 0)) continue;
        auto coarser = snapped_settler.settle(grid);
        if (!coarser) return coarser.error();
        if (*coarser) return std::move(**coarser);
    }
    return settled;
}

}  // namespace anvil
