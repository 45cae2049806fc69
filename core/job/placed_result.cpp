#include "core/job/placed_result.h"

#include <algorithm>

#include "core/arrange/arrangement.h"
#include "core/inspect/inspect.h"

namespace anvil {
namespace {

std::span<const FaceSource> source_of(const Combined& whole, std::size_t piece) {
    return std::span(whole.source)
        .subspan(whole.piece_start[piece], whole.piece_start[piece + 1] - whole.piece_start[piece]);
}

/// What is told of the result beside its faces.
Combined told_at(const Combined& result, const Transform& stands) {
    Combined out = result;
    out.mesh = {};
    out.source.clear();
    out.piece_start = {0};
    out.proven.clear();
    auto place = [&](Vec3& p) { p = apply(stands, p); };
    for (CrossingCurve& curve : out.curves) std::ranges::for_each(curve.points, place);
    for (ClosedHole& hole : out.closed_holes) std::ranges::for_each(hole.rim, place);
    for (FlushArea& flush : out.flush) place(flush.place);
    return out;
}

/// A sound body, as the engine settles it by itself.
Result<void> add_settled(Combined& out, const Mesh& placed, std::span<const FaceSource> source,
                         const SettleOptions& settle, Progress& progress) {
    const Mesh* given[] = {&placed};
    const auto arranged = prepare(given, progress);
    if (!arranged) return arranged.error();
    auto solid = combine(*arranged, {}, progress, settle);
    if (!solid) return solid.error();
    solid->take_materials(given);
    for (FaceSource& s : solid->source) {
        // A bridge between parts that touch, or what closes a hole, is of no face.
        const bool turned = s.reversed, of_none = s.operand != 0 || s.face.value() >= source.size();
        s = of_none ? FaceSource{} : source[s.face.value()];
        s.reversed = s.reversed != turned;
    }
    out.largest_move = std::max(out.largest_move, solid->largest_move);
    out.contact_step = std::max(out.contact_step, solid->contact_step);
    out.set_back = out.set_back || solid->set_back;
    out.pinched_edges += solid->pinched_edges;
    out.pinched_points += solid->pinched_points;
    for (const std::string& message : solid->messages)
        if (std::ranges::find(out.messages, message) == out.messages.end()) out.messages.push_back(message);
    for (std::size_t k = 0; k < solid->pieces(); ++k) {
        const auto of = source_of(*solid, k);
        out.add_piece(solid->piece(k), {of.begin(), of.end()});
    }
    return {};
}

/// Whether a piece is a solid that may be settled, and does not only come out as it came in.
Result<bool> is_sound(const SegmentResult& result, std::size_t piece, Progress& progress) {
    const Combined& whole = *result.combined;
    if (whole.surface || whole.piece_start[piece] == whole.piece_start[piece + 1]) return false;
    if (piece < result.settled_pieces) return true;
    const Mesh mesh = whole.piece(piece);
    const auto found = inspect(mesh, progress, usual_options(mesh));
    if (!found) return found.error();
    return found->print_ready;
}

}  // namespace

Result<Combined> placed_result(const SegmentResult& result, const Transform& stands, const SettleOptions& settle,
                               Progress& progress) {
    const Combined& whole = *result.combined;
    Combined out = told_at(whole, stands);
    for (std::size_t k = 0; k < whole.pieces(); ++k) {
        Mesh placed = transformed(whole.piece(k), stands);
        const auto source = source_of(whole, k);
        auto sound = is_sound(result, k, progress);
        if (!sound) return sound.error();
        if (*sound) {
            if (auto added = add_settled(out, placed, source, settle, progress); !added) return added.error();
            continue;
        }
        // What has faults keeps them: they are told, not mended here.
        if (settle.precision == Precision::single_precision)
            for (Vec3& p : placed.points.raw()) p = in_single_precision(p);
        out.add_piece(std::move(placed), {source.begin(), source.end()});
    }
    out.empty = out.mesh.empty();
    if (out.empty && !whole.empty) out.reason = "Rounding left nothing of it.";
    if (out.piece_start.size() == 1) out.piece_start = {0, 0};
    return out;
}

}  // namespace anvil
