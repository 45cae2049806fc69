#include "core/combine/prove.h"

#include <tbb/parallel_invoke.h>

#include <algorithm>

#include "core/combine/assemble.h"
#include "core/combine/faults.h"
#include "core/combine/settle_faults.h"

namespace anvil {
namespace {

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

std::vector<FaceSource> sources_of(const Faults& faults, const RoundedFaces& rounded) {
    std::vector<std::uint32_t> faces = faults.flat;
    for (const auto& [f, g] : faults.pairs) faces.insert(faces.end(), {f, g});
    std::sort(faces.begin(), faces.end());
    faces.erase(std::unique(faces.begin(), faces.end()), faces.end());
    std::vector<FaceSource> out;
    for (const std::uint32_t f : faces) out.push_back(rounded.source[f]);
    return out;
}

}  // namespace

Result<Proven> round_and_prove(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                               Effort effort, Progress& progress) {
    if (patches_fit(arrangement, extraction, precision)) {
        RoundedFaces rounded = round_points(arrangement.points, extraction, precision);
        // The proof nearly always holds as it is, so the result is put together beside it.
        std::optional<std::vector<Landing>> landings;
        Proven out;
        tbb::parallel_invoke(
            [&] {
                const auto faults = find_faults(rounded, progress);
                if (faults && faults->empty()) landings = fit_to_patches(arrangement, extraction, rounded);
            },
            [&] { out = assembled(arrangement, extraction, rounded); });
        if (progress.cancelled()) return cancelled_error();
        if (landings && !landings->empty()) {
            land(*landings, rounded);
            out = assembled(arrangement, extraction, rounded);
        }
        if (landings) return out;
    }
    const Extraction all = taken_apart(arrangement, extraction);
    SettledFaces settled{round_points(arrangement.points, all, precision)};
    const auto faults = find_faults(settled.rounded, progress);
    if (!faults) return cancelled_error();
    settled.faulty = !faults->empty();
    std::vector<FaceSource> faulty = sources_of(*faults, settled.rounded);
    if (settled.faulty && effort != Effort::plain) {
        auto done = settle_faults(
            std::move(settled.rounded), *faults,
            {.precision = precision, .surface = extraction.surface, .stubborn = effort == Effort::last}, progress);
        if (!done) return done.error();
        settled = std::move(*done);
    }
    Proven out;
    out.settled.mesh = as_mesh(settled.rounded);
    out.settled.source = std::move(settled.rounded.source);
    out.settled.largest_move = settled.rounded.largest_move;
    out.settled.rounds = settled.rounds;
    out.settled.clean = !settled.faulty;
    if (settled.faulty) out.settled.faulty = std::move(faulty);
    if (out.settled.clean && !extraction.surface)
        out.pinches = find_pinches(out.settled.mesh, PinchCandidates::all(out.settled.mesh));
    return out;
}

}  // namespace anvil
