#include "core/combine/combine.h"

#include <chrono>
#include <cstdio>

#include "core/arrange/operands.h"
#include "core/base/memory.h"
#include "core/combine/diagnose.h"
#include "core/combine/near_operands.h"
#include "core/combine/rounding.h"
#include "core/combine/settle_pieces.h"

namespace anvil {
namespace {

std::string reason_for_nothing(const Cells& cells, std::span<const CombineStep> steps) {
    if (steps.empty()) return "The base encloses nothing.";
    if (cells.sheet(0) && !is_trim(steps.back().operation)) return "The base is a sheet and encloses nothing.";
    switch (steps.back().operation) {
        case Operation::union_of: return "None of the operands encloses anything.";
        case Operation::difference: return "The base lies wholly inside what is taken away.";
        case Operation::reverse_difference: return "The operand lies wholly inside the base.";
        case Operation::intersection: return "The operands have no volume in common.";
        case Operation::trim_outside: return "The whole surface lies inside the operand.";
        case Operation::trim_inside: return "The whole surface lies outside of the operand.";
        case Operation::split:
        case Operation::pieces:
        case Operation::inlay:
        case Operation::scribe:
        case Operation::gather: return "The steps before leave nothing.";
    }
    return "";
}

std::string contact_message(const Combined& c, ContactRule rule, bool touching) {
    std::string where;
    if (c.pinched_edges > 0)
        where = "along " + std::to_string(c.pinched_edges) + (c.pinched_edges == 1 ? " edge" : " edges");
    else
        where = "in " + std::to_string(c.pinched_points) + (c.pinched_points == 1 ? " point" : " points");
    if (touching && c.contact_step == 0) return "The result touches itself " + where + "; it could not be resolved.";
    char step[32];
    std::snprintf(step, sizeof step, "%.2g mm", c.contact_step);
    const std::string how = rule == ContactRule::separate ? "; the parts were set back by "
                            : c.set_back ? "; no bridge would have been sound everywhere, so parts were set back by "
                                         : "; they were joined by bridges of ";
    return "The result touched itself " + where + how + step + "." +
           (touching ? " In some places that could not be resolved." : "");
}

/// mm; how far points of the steps' operands went to be one with those of others.
double moved_to_be_one(const Soup& soup, std::span<const CombineStep> steps) {
    double out = 0;
    for (const CombineStep& step : steps)
        out = std::max({out, soup.operand(step.operand).moved, moved_to_be_one(soup, step.bundle)});
    return out;
}

std::string made_one_message(double moved) {
    char text[32];
    std::snprintf(text, sizeof text, "%.2g mm", moved);
    return "Surfaces lie within " + std::string(text) +
           " of each other nearly everywhere: they are taken as one. Skins between them are too thin for the numbers "
           "that they would be kept in.";
}

/// What is said of a skin that is left out. `moved`: mm, as far as points moved until it was gone.
std::string skin_text(const Arrangement& arrangement, Precision precision, double moved, bool one) {
    if (moved <= a_few_digits(reach_of(arrangement.soup), precision))
        return std::string("too thin for the numbers that ") + (one ? "it" : "they") + " would be kept in";
    char text[32];
    std::snprintf(text, sizeof text, "%.2g mm", moved);
    return "no thicker than " + std::string(text) + " that " + (one ? "meets itself" : "meet themselves") +
           " in too many places to be kept";
}

std::string why_vanished(const Arrangement& arrangement, Precision precision, double moved) {
    for (const auto& operand : arrangement.soup.operands())
        if (std::string far = too_far_off(operand->mesh.points.raw(), precision); !far.empty()) return far;
    return "What is left is a skin " + skin_text(arrangement, precision, moved, true) + ".";
}

std::string vanished_message(std::size_t pieces, const Arrangement& arrangement, Precision precision, double moved) {
    const std::string text = skin_text(arrangement, precision, moved, pieces == 1);
    return pieces == 1 ? "One piece is a skin " + text + "; it is left out."
                       : std::to_string(pieces) + " pieces are skins " + text + "; they are left out.";
}

Result<Combined> combine_timed(const Arrangement& arrangement, std::span<const CombineStep> steps,
                               const SettleOptions& options, Progress& progress,
                               std::chrono::steady_clock::time_point start) {
    progress.stage("settling the result", 0.95, 1.0);
    Combined out;
    out.piece_start = {0};
    std::vector<std::uint32_t> drawn;
    for (const CombineStep& step : steps)
        if (step.operation == Operation::scribe) drawn.push_back(step.operand);
    const std::vector<Extraction> pieces = extract(arrangement, steps, 0, progress);
    if (progress.cancelled()) return cancelled_error();
    struct Meeting {
        std::vector<CrossingCurve> curves;
        std::vector<FlushArea> flush;
    };
    Result<Meeting> meeting = cancelled_error();
    auto tell_meeting = [&] {
        meeting = with_memory_checked([&]() -> Result<Meeting> {
            return Meeting{crossing_curves(arrangement, pieces, drawn, progress), flush_areas(arrangement, progress)};
        });
    };
    auto settled = settle_pieces(arrangement, pieces, steps, drawn, options, tell_meeting, progress);
    if (!settled) return settled.error();
    if (progress.cancelled()) return cancelled_error();
    if (!meeting) return meeting.error();
    out.curves = std::move(meeting->curves);
    out.flush = std::move(meeting->flush);
    for (std::uint32_t o = 0; o < arrangement.soup.size(); ++o)
        for (const auto& rim : arrangement.soup.operand(o).closed_holes) out.closed_holes.push_back({o, rim});
    out.surface = settled->surface;
    // A piece that rounding left nothing of is none; where it was the only one, the result is empty.
    // Where operands' points were made one, it is not among those that were settled either.
    std::size_t vanished = 0;
    if (pieces.size() > 1) {
        std::erase_if(settled->pieces, [](const Settled& piece) { return piece.mesh.empty(); });
        vanished = pieces.size() - std::min(pieces.size(), settled->pieces.size());
    }
    for (Settled& piece : settled->pieces) {
        out.largest_move = std::max(out.largest_move, piece.largest_move);
        out.pinched_edges += piece.pinched_edges;
        out.pinched_points += piece.pinched_points;
        out.contact_step = std::max(out.contact_step, piece.contact_step);
        out.set_back = out.set_back || (piece.contact_step > 0 && !piece.bridged);
        if (options.tells_proven) out.proven.push_back(std::move(piece.proven));
        out.add_piece(std::move(piece.mesh), std::move(piece.source));
    }
    if (settled->pieces.empty()) out.piece_start = {0, 0};
    const double made_one = moved_to_be_one(arrangement.soup, steps);
    out.largest_move += made_one;
    const bool had_faces = made_one > 0 || std::ranges::any_of(pieces, [](const Extraction& piece) {
                               return !piece.corners.empty() || !piece.patches.empty();
                           });
    out.crossing_pairs = arrangement.crossing_pairs();
    out.coplanar_pairs = arrangement.coplanar_pairs();
    out.empty = out.mesh.empty();
    if (out.empty)
        out.reason = had_faces ? why_vanished(arrangement, options.precision, out.largest_move)
                               : reason_for_nothing(arrangement.cells, steps);
    if (made_one > 0 && !out.empty) out.messages.push_back(made_one_message(made_one));
    if (vanished > 0 && !out.empty)
        out.messages.push_back(vanished_message(vanished, arrangement, options.precision, out.largest_move));
    const bool clean = std::ranges::all_of(settled->pieces, &Settled::clean);
    const bool touching = std::ranges::any_of(settled->pieces, &Settled::touching);
    if (!clean) out.messages.push_back("Some faces still cross after rounding; inspect the result.");
    if (out.pinched_points + out.pinched_edges > 0)
        out.messages.push_back(contact_message(out, options.contact, touching));
    out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return out;
}

}  // namespace

Mesh Combined::piece(std::size_t k) const {
    if (pieces() == 1) return mesh;
    Mesh part;
    part.points = mesh.points;
    for (std::size_t f = piece_start[k]; f < piece_start[k + 1]; ++f) part.faces.push_back(mesh.faces[FaceId(f)]);
    if (!mesh.material.empty()) {
        part.materials = mesh.materials;
        const auto& all = mesh.material.raw();
        part.material.raw().assign(all.begin() + static_cast<long>(piece_start[k]),
                                   all.begin() + static_cast<long>(piece_start[k + 1]));
    }
    return welded(part);
}

void Combined::take_materials(std::span<const Mesh* const> given) {
    mesh.materials.clear();
    mesh.material.raw().clear();
    if (std::ranges::all_of(given, [](const Mesh* m) { return m->material.empty(); })) return;
    MaterialNumbers numbers(mesh.materials);
    std::vector<std::vector<std::uint32_t>> number(given.size());
    for (std::size_t o = 0; o < given.size(); ++o)
        for (const Material& m : given[o]->materials) number[o].push_back(numbers.number(m));
    mesh.material.raw().assign(mesh.faces.size(), no_material);
    for (std::size_t f = 0; f < source.size(); ++f) {
        const FaceSource& s = source[f];
        if (s.operand >= given.size() || !s.face.valid()) continue;  // a bridge, or what closes a hole
        if (const std::uint32_t m = given[s.operand]->material_of(s.face); m != no_material)
            mesh.material[FaceId(f)] = number[s.operand][m];
    }
}

void Combined::add_piece(Mesh part, std::vector<FaceSource> part_source) {
    if (mesh.points.empty()) {
        mesh = std::move(part);
        source = std::move(part_source);
    } else {
        append(mesh, part);
        source.insert(source.end(), part_source.begin(), part_source.end());
    }
    piece_start.push_back(mesh.faces.size());
}

void gather_into(Combined& combined, const Mesh& operand, std::uint32_t number) {
    std::vector<FaceSource> source;
    source.reserve(operand.faces.size());
    for (FaceId f : ids<FaceId>(operand.faces.size())) source.push_back({number, f, false});
    combined.add_piece(operand, std::move(source));
    combined.empty = combined.mesh.empty();
}

Result<Arrangement> prepare(std::span<const Mesh* const> operands, Progress& progress, Taken base, Taken others) {
    if (operands.empty()) return Error{ErrorCode::too_few_operands, "there is nothing to combine", ""};
    progress.stage("making the parts ready", 0.0, 0.3);
    auto ready = all_of(make_operands(
        operands.size(), [&](std::size_t i) { return make_operand(*operands[i], i == 0 ? base : others, progress); }));
    if (!ready) {
        Error error = ready.error();
        if (error.operand >= 0) error.place = "operand " + std::to_string(error.operand + 1);
        return error;
    }
    return arrange(with_near_points_one(std::move(*ready), progress), progress);
}

Result<Combined> combine(const Arrangement& arrangement, std::span<const CombineStep> steps, Progress& progress,
                         const SettleOptions& options) {
    return with_memory_checked(
        [&] { return combine_timed(arrangement, steps, options, progress, std::chrono::steady_clock::now()); });
}

namespace {

Result<Combined> combine_meshes(Operation operation, std::span<const Mesh* const> operands, Progress& progress,
                                const SettleOptions& options, Taken taken) {
    const auto start = std::chrono::steady_clock::now();
    if (operands.size() < 2)
        return Error{ErrorCode::too_few_operands, std::string(word(operation)) + " needs two operands or more", ""};
    if (operation == Operation::gather) {
        Combined out;
        out.piece_start = {0};
        for (std::uint32_t i = 0; i < operands.size(); ++i) gather_into(out, welded(*operands[i]), i);
        out.take_materials(operands);
        if (out.empty) out.reason = "None of the operands has a face.";
        out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        return out;
    }
    auto prepared = prepare(operands, progress, is_trim(operation) ? Taken::as_surface : taken, taken);
    if (!prepared) return prepared.error();
    auto named = [](std::uint32_t operand, const std::string& text) {
        return "Operand " + std::to_string(operand + 1) + ": " + text;
    };
    std::vector<std::string> messages;
    for (std::uint32_t i = 0; i < operands.size(); ++i)
        for (const std::string& note : prepared->soup.operand(i).notes) messages.push_back(named(i, note));
    std::vector<CombineStep> steps;
    for (std::uint32_t i = 1; i < operands.size(); ++i) {
        const CombineStep step{operation, i, {}};
        if (const std::string text = diagnose_step(*prepared, steps, step); !text.empty())
            messages.push_back(named(i, text));
        steps.push_back(step);
    }
    auto combined = combine_timed(*prepared, steps, options, progress, start);
    if (combined) combined->take_materials(operands);
    if (combined) combined->messages.insert(combined->messages.begin(), messages.begin(), messages.end());
    return combined;
}

}  // namespace

Result<Combined> combine(Operation operation, std::span<const Mesh* const> operands, Progress& progress,
                         const SettleOptions& options, Taken taken) {
    return with_memory_checked([&] { return combine_meshes(operation, operands, progress, options, taken); });
}

}  // namespace anvil
