#include "core/combine/prove.h"

#include <tbb/parallel_invoke.h>

#include <algorithm>

#include "core/combine/assemble.h"
#include "core/combine/faults.h"

namespace anvil {
namespace {

constexpr int growing_rounds = 8, arranging_rounds = 10;

/// Whether patches can stay as they are: no point of theirs needs rounding.
bool patches_fit(const Arrangement& a, const Extraction& extraction, Precision precision) {
    return precision == Precision::double_precision ||
           std::ranges::all_of(extraction.patches, [&](const Extraction::Whole& w) {
               return a.soup.operand(a.patches.list[w.patch].operand).single_precision;
           });
}

Proven assembled(const Arrangement& arrangement, const Extraction& extraction, const RoundedFaces& rounded) {
    Assembled all = assemble(arrangement, extraction, rounded);
    Proven out;
    if (!extraction.surface) out.pinches = find_pinches(all.mesh, all.may_pinch);
    out.settled.mesh = std::move(all.mesh);
    out.settled.source = std::move(all.source);
    out.settled.largest_move = rounded.largest_move;
    return out;
}

/// Makes rounded points the input points that they fall on: the lowest, so that the order does not matter.
void land(std::span<const Landing> landings, RoundedFaces& rounded) {
    for (const Landing& landing : landings) {
        VertexId& input = rounded.input[landing.point];
        if (!input.valid() || landing.input < input) input = landing.input;
    }
}

}  // namespace

std::span<const int> grid_bits(Precision precision) {
    static constexpr int single[] = {0, 22, 20, 18}, twice[] = {0, 36, 28, 20};
    return precision == Precision::single_precision ? single : twice;
}

double grid_for(double reach, int bits) {
    return bits > 0 && reach > 0 ? std::ldexp(1.0, std::ilogb(reach) + 1 - bits) : 0;
}

Result<ArrangedAgain> arrange_again(const Mesh& mesh, std::span<const FaceSource> source, std::span<const char> marks,
                                    bool surface, Progress& progress) {
    const Mesh* operand = &mesh;
    auto arrangement = arrange(std::span(&operand, 1), progress, surface ? Taken::as_surface : Taken::as_wound);
    if (!arrangement) return arrangement.error();
    Extraction all = taken_apart(*arrangement, extract(*arrangement, {}).front());
    std::vector<char> marked;
    for (FaceSource& s : all.source) {
        marked.push_back(marks[s.face.value()]);
        const bool reversed = s.reversed;
        s = source[s.face.value()];
        s.reversed = s.reversed != reversed;
    }
    return ArrangedAgain{std::move(*arrangement), std::move(all), std::move(marked)};
}

Result<Attempt> attempt(const Arrangement& arrangement, const Extraction& all, std::vector<char> coarse, int bits,
                        Precision precision, Effort effort, Progress& progress) {
    Attempt now;
    coarse.resize(all.corners.size(), 0);
    now.rounded = round_points(arrangement.points, all, coarse, 0, precision);
    const double grid = grid_for(reach_of(now.rounded.points), bits);
    if (std::ranges::find(coarse, 1) != coarse.end())
        now.rounded = round_points(arrangement.points, all, coarse, grid, precision);
    now.faulty = find_faults(now.rounded);
    if (effort == Effort::plain) return now;
    for (int round = 0; round < growing_rounds && grid > 0 && !now.faulty.empty(); ++round) {
        if (progress.cancelled()) return cancelled_error();
        bool grown = false;
        for (std::size_t f = 0; f < now.faulty.size(); ++f) {
            char& c = coarse[now.rounded.origin[f]];
            if (now.faulty[f] && !c) c = 1, grown = true;
        }
        if (!grown) break;
        now.rounded = round_points(arrangement.points, all, coarse, grid, precision);
        now.faulty = find_faults(now.rounded);
    }
    const std::size_t enough = 3 * now.rounded.faces.size() / 2 + 100;
    while (!now.faulty.empty() && now.rounds < arranging_rounds && now.rounded.faces.size() < enough) {
        ++now.rounds;
        const auto again = arrange_again(as_mesh(now.rounded), now.rounded.source, now.faulty, all.surface, progress);
        if (!again) return again.error();
        const double before = now.rounded.largest_move;
        now.rounded = round_points(again->arrangement.points, again->all, again->marked, grid, precision);
        now.rounded.largest_move += before;
        now.faulty = find_faults(now.rounded);
    }
    return now;
}

Result<Proven> round_and_prove(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                               Effort effort, Progress& progress) {
    if (patches_fit(arrangement, extraction, precision)) {
        RoundedFaces rounded = round_points(arrangement.points, extraction, {}, 0, precision);
        // The proof nearly always holds as it is, so the result is put together beside it.
        std::optional<std::vector<Landing>> landings;
        Proven out;
        tbb::parallel_invoke(
            [&] {
                if (find_faults(rounded).empty()) landings = fit_to_patches(arrangement, extraction, rounded);
            },
            [&] { out = assembled(arrangement, extraction, rounded); });
        if (landings && !landings->empty()) {
            land(*landings, rounded);
            out = assembled(arrangement, extraction, rounded);
        }
        if (landings) return out;
    }
    const Extraction all = taken_apart(arrangement, extraction);
    Attempt best;
    std::size_t fewest = 0;
    for (const int bits : grid_bits(precision)) {
        auto now = attempt(arrangement, all, {}, bits, precision, effort, progress);
        if (!now) return now.error();
        const auto faults = static_cast<std::size_t>(std::count(now->faulty.begin(), now->faulty.end(), 1));
        if (bits == 0 || faults < fewest) {
            best = std::move(*now);
            fewest = faults;
        }
        if (fewest == 0 || effort == Effort::plain) break;
    }
    Proven out;
    out.settled.mesh = as_mesh(best.rounded);
    out.settled.source = std::move(best.rounded.source);
    out.settled.largest_move = best.rounded.largest_move;
    out.settled.rounds = best.rounds;
    out.settled.clean = fewest == 0;
    if (out.settled.clean && !extraction.surface)
        out.pinches = find_pinches(out.settled.mesh, PinchCandidates::all(out.settled.mesh));
    return out;
}

}  // namespace anvil
