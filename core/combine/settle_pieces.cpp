#include "core/combine/settle_pieces.h"

#include <algorithm>
#include <limits>
#include <set>

#include "core/arrange/half_edges.h"
#include "core/combine/clean.h"
#include "core/combine/settle_faults.h"

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

/// An operand with some of its points rounded, and where its faces come from.
struct Snapped {
    Mesh mesh;
    std::vector<FaceId> origin;
    double largest_move = 0;  ///< mm
};

Snapped to_single_precision(const Operand& operand) {
    Operand::Whole whole = operand.whole();
    Snapped out{std::move(whole.mesh), std::move(whole.origin), 0};
    for (Vec3& p : out.mesh.points) {
        const Vec3 q = in_single_precision(p);
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
        : soup_(arrangement.soup), steps_(steps), drawn_(drawn), options_(options), progress_(progress) {
        for (const auto& operand : soup_.operands()) near_.emplace_back(operand->mesh.points.size(), 0);
    }

    /// Takes note of where a result was faulty: the flat regions there, and what touches them, have to go to a grid.
    void note_faults(const SettledPieces& pieces) {
        std::vector<std::set<FaceId>> faulty(soup_.size());
        for (const Settled& piece : pieces.pieces)
            for (const FaceSource& s : piece.faulty)
                if (s.operand < soup_.size() && s.face.valid()) faulty[s.operand].insert(s.face);
        for (std::uint32_t o = 0; o < soup_.size(); ++o) {
            const Operand& operand = soup_.operand(o);
            std::vector<FaceId> seeds;
            for (const FaceId f : ids<FaceId>(operand.mesh.faces.size()))
                if (faulty[o].contains(operand.origin[f.value()])) seeds.push_back(f);
            for (const Operand::Copy& copy : operand.copies)
                if (faulty[o].contains(copy.origin)) seeds.push_back(copy.of);
            std::vector<char>& near = near_[o];
            std::vector<char> at_seed(near.size(), 0);
            for (const FaceId f : seeds)
                for (const VertexId v : operand.mesh.faces[f]) at_seed[v.value()] = 1;
            for (const Triangle& t : operand.mesh.faces)
                if (std::ranges::any_of(t, [&](VertexId v) { return at_seed[v.value()] != 0; }))
                    for (const VertexId v : t) near[v.value()] = 1;
            for (const FaceId f : flat_regions(operand, std::move(seeds)))
                for (const VertexId v : operand.mesh.faces[f]) near[v.value()] = 1;
        }
    }

    /// The pieces that come of snapped operands; nothing where those cannot be arranged. grid 0: to single precision.
    Result<std::optional<SettledPieces>> settle(double grid) const {
        std::vector<Snapped> operands;
        for (std::uint32_t o = 0; o < soup_.size(); ++o)
            operands.push_back(grid > 0 ? to_grid(o, grid) : to_single_precision(soup_.operand(o)));
        auto again = arranged(operands);
        if (!again && again.error().is_cancel()) return again.error();
        if (!again) return std::optional<SettledPieces>();
        // Single precision has no digits to spare for coarser grids: what does not settle here hardly will there.
        const Effort effort = options_.precision == Precision::single_precision ? Effort::last : Effort::full;
        auto settled = settle_each(*again, extract(*again, steps_), drawn_, options_, effort, progress_);
        if (!settled) return settled.error();
        for (Settled& piece : settled->pieces) trace_back(operands, piece);
        return std::optional(std::move(*settled));
    }
    double reach() const {
        double reach = 0;
        for (const auto& operand : soup_.operands()) reach = std::max(reach, reach_of(operand->mesh.points.raw()));
        return reach;
    }

  private:
    /// The faces that can be reached from others across edges that hardly bend.
    static std::vector<FaceId> flat_regions(const Operand& operand, std::vector<FaceId> faces) {
        const auto& mesh = operand.mesh;
        auto normal = [&](FaceId f) {
            const Vec3 u = normalized(mesh.corner(f, 1) - mesh.corner(f, 0));
            return normalized(cross(u, normalized(mesh.corner(f, 2) - mesh.corner(f, 0))));
        };
        std::vector<char> reached(mesh.faces.size(), 0);
        for (const FaceId f : faces) reached[f.value()] = 1;
        for (std::size_t i = 0; i < faces.size(); ++i) {
            const FaceId f = faces[i];
            for (std::size_t h = 3 * std::size_t{f.value()}, end = h + 3; h < end; ++h) {
                if (operand.twin[h] == HalfEdges::none) continue;
                const FaceId g(operand.twin[h] / 3);
                if (reached[g.value()] || norm(cross(normal(f), normal(g))) > hardly_bent) continue;
                reached[g.value()] = 1;
                faces.push_back(g);
            }
        }
        return faces;
    }
    Snapped to_grid(std::uint32_t o, double grid) const {
        Operand::Whole whole = soup_.operand(o).whole();
        Snapped out{std::move(whole.mesh), std::move(whole.origin), 0};
        for (const VertexId v : ids<VertexId>(out.mesh.points.size())) {
            Vec3& p = out.mesh.points[v];
            Vec3 q = near_[o][v.value()] ? on_grid(p, grid) : p;
            if (options_.precision == Precision::single_precision) q = in_single_precision(q);
            out.largest_move = std::max(out.largest_move, norm(q - p));
            p = q;
        }
        return out;
    }
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
        for (auto* list : {&piece.source, &piece.faulty})
            for (FaceSource& s : *list)
                if (s.operand < soup_.size() && s.face.valid()) s.face = operands[s.operand].origin[s.face.value()];
    }

    static constexpr double hardly_bent = 1e-6;  // radians
    const Soup& soup_;
    std::span<const CombineStep> steps_;
    std::span<const std::uint32_t> drawn_;
    const SettleOptions& options_;
    Progress& progress_;
    std::vector<std::vector<char>> near_;  // per operand and point: whether it goes to the grid
};

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
    const bool operands_first = rounds_operands(arrangement.soup, options.precision);
    auto best =
        settle_each(arrangement, pieces, drawn, options, operands_first ? Effort::plain : Effort::full, progress);
    if (!best || best->clean()) return best;
    if (operands_first) {
        auto rounded = snapped.settle(0);
        if (!rounded) return rounded.error();
        if (*rounded && (*rounded)->clean()) return std::move(**rounded);
    }
    snapped.note_faults(*best);
    for (const int bits : operand_grid_bits(options.precision)) {
        const double grid = grid_for(snapped.reach(), bits);
        if (!(grid > 0)) continue;
        auto coarser = snapped.settle(grid);
        if (!coarser) return coarser.error();
        if (!*coarser) continue;
        if ((*coarser)->clean()) return std::move(**coarser);
        snapped.note_faults(**coarser);
        take_clean(**coarser, *best);
        if (best->clean()) return best;
    }
    auto last = settle_each(arrangement, pieces, drawn, options, Effort::last, progress);
    if (!last) return last;
    take_clean(*last, *best);
    // So small, products of coordinates are no numbers any more: never half a proof.
    if (!best->clean() && snapped.reach() < 1e-100)
        return Error{ErrorCode::out_of_range,
                     "its coordinates are under 1e-100 mm, where products of them are no numbers any more; scale it up",
                     ""};
    return best;
}

}  // namespace anvil
