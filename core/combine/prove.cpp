#include "core/combine/prove.h"

#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <map>

#include "core/combine/assemble.h"
#include "core/combine/faults.h"
#include "core/combine/flakes.h"
#include "core/combine/settle_faults.h"
#include "core/combine/turned.h"

namespace anvil {
namespace {

/// Whether patches can stay as they are: no point of theirs needs rounding.
bool patches_fit(const Arrangement& a, const Extraction& extraction, Precision precision) {
    return precision == Precision::double_precision ||
           std::ranges::all_of(extraction.patches, [&](const Extraction::Whole& w) {
               return a.soup.operand(a.patches.list[w.patch].operand).single_precision;
           });
}

Proven assembled(const Arrangement& arrangement, const Extraction& extraction, const RoundedSurface& rounded,
                 const Progress& progress) {
    Assembled all = assemble(arrangement, extraction, rounded);
    Proven out;
    if (!extraction.surface) out.pinches = find_pinches(all.mesh, all.may_pinch, progress);
    out.settled.mesh = std::move(all.mesh);
    out.settled.source = std::move(all.source);
    out.settled.largest_move = rounded.faces.largest_move;
    return out;
}

/// Makes rounded points the input points that they fall on: the lowest, so that the order does not matter.
void land(std::span<const PatchFit::Landing> landings, RoundedFaces& rounded) {
    for (const PatchFit::Landing& landing : landings) {
        VertexId& input = rounded.input[landing.point];
        if (!input.valid() || landing.input < input) input = landing.input;
    }
}

std::vector<FaceSource> sources_of(const Faults& faults, const RoundedFaces& rounded, const PatchFit& fit = {}) {
    std::vector<std::uint32_t> faces = faults.flat;
    for (const auto& [f, g] : faults.pairs) faces.insert(faces.end(), {f, g});
    for (const auto& [f, g] : fit.misfits) faces.push_back(f);
    std::sort(faces.begin(), faces.end());
    faces.erase(std::unique(faces.begin(), faces.end()), faces.end());
    std::vector<FaceSource> out;
    for (const std::uint32_t f : faces) out.push_back(rounded.source[f]);
    return out;
}

/// Rounded sub-faces and, behind them, the faces of patches, which stay as they are. `apart`: all of them. Points that
/// both have are input points.
RoundedFaces with_patches(const Arrangement& arrangement, const Extraction& apart, std::size_t sub_faces,
                          RoundedFaces rounded, Precision precision, const Progress& progress) {
    std::vector<VertexId> of_input(arrangement.soup.point_count());
    for (std::size_t v = 0; v < rounded.points.size(); ++v)
        if (rounded.input[v].valid()) of_input[rounded.input[v].value()] = VertexId(v);
    for (std::size_t i = sub_faces; i < apart.corners.size(); ++i) {
        Triangle t = apart.corners[i];
        for (VertexId& v : t) {
            VertexId& known = of_input[v.value()];
            if (!known.valid()) {
                known = VertexId(rounded.points.size());
                rounded.points.push_back(arrangement.points.approx(v));
                rounded.input.push_back(v);
                rounded.moved.push_back(0);
            }
            v = known;
        }
        rounded.faces.push_back(t);
        rounded.source.push_back(apart.source[i]);
        rounded.origin.push_back(static_cast<std::uint32_t>(i));
    }
    drop_flakes(rounded, precision, progress);
    return rounded;
}

/// The faults of all faces, patches taken apart, from those that its sub-faces have. Patches stay as they are, so there
/// are no others. `origin`: of the sub-faces, as RoundedFaces has it.
Faults told_of_all(const Faults& faults, const PatchFit& fit, std::span<const std::uint32_t> origin,
                   const Extraction& apart, std::size_t sub_faces, const RoundedFaces& all) {
    constexpr std::uint32_t no_place = 0xffffffffu;
    std::vector<std::uint32_t> place(apart.corners.size(), no_place);  // among all, per face of the extraction
    for (std::uint32_t f = 0; f < all.origin.size(); ++f) place[all.origin[f]] = f;
    std::map<FaceId, std::uint32_t> of_patches;
    for (const auto& misfit : fit.misfits) of_patches.emplace(misfit.second, no_place);
    for (std::size_t i = sub_faces; i < apart.corners.size() && !of_patches.empty(); ++i)
        if (const auto at = of_patches.find(apart.plane[i]); at != of_patches.end()) at->second = place[i];
    Faults out;
    auto add = [&](std::uint32_t f, std::uint32_t g) {
        if (f != no_place && g != no_place) out.pairs.emplace_back(std::minmax(f, g));
    };
    for (const auto& [f, g] : faults.pairs) add(place[origin[f]], place[origin[g]]);
    for (const auto& [f, g] : fit.misfits) add(place[origin[f]], of_patches.at(g));
    for (const std::uint32_t f : faults.flat)
        if (place[origin[f]] != no_place) out.flat.push_back(place[origin[f]]);
    std::sort(out.pairs.begin(), out.pairs.end());
    std::sort(out.flat.begin(), out.flat.end());
    return out;
}

Proven given_up(std::vector<FaceSource> faulty) { return {Settled::given_up_at(std::move(faulty)), {}}; }

/// Sub-faces; fewer are proven again sooner than looked up.
constexpr std::size_t worth_telling = 20000;

/// Faults of rounded sub-faces, among each other and with patches. Nothing where it was stopped.
std::optional<FreshFaults> prove_rounded(const Arrangement& arrangement, const Extraction& extraction,
                                         RoundedSurface& surface, const ProvenFaces* before, Progress& progress) {
    const RoundedFaces& rounded = surface.faces;
    if (before) {
        if (const auto fresh = find_fresh(arrangement, extraction, rounded, *before))
            return prove_fresh(arrangement, extraction, rounded, *fresh, progress);
        surface.find_tree();
    }
    if (progress.cancelled()) return std::nullopt;
    std::optional<Faults> faults;
    FreshFaults out;
    tbb::parallel_invoke([&] { faults = find_faults(surface, progress); },
                         [&] { out.fit = fit_to_patches(arrangement, extraction, rounded, surface.tree, progress); });
    if (!faults) return std::nullopt;
    out.faults = std::move(*faults);
    return out;
}

/// What the sub-faces' proof has found: a result, or the faults.
struct FirstProof {
    std::optional<Proven> proven;
    RoundedFaces rounded;
    Faults faults;
    PatchFit fit;
};
Result<FirstProof> prove_sub_faces(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                                   const Attempt& attempt, Progress& progress) {
    FirstProof out;
    std::vector<FaceSource> turned;
    if (!attempt.none_turned) turned = turned_over(arrangement, extraction, precision, most_turned);
    const bool will_hold = turned.empty();
    if (!will_hold && attempt.gives_up && attempt.gives_up(turned, faults_at_turned(extraction, turned.size()))) {
        out.proven = given_up(std::move(turned));
        return out;
    }
    RoundedSurface surface = round_points(arrangement, extraction, precision, !attempt.before, progress);
    RoundedFaces& rounded = surface.faces;
    if (progress.cancelled()) return cancelled_error();
    // The proof nearly always holds as it is, so the result is put together beside it.
    std::optional<FreshFaults> found;
    Proven proven;
    auto assemble_all = [&] { proven = assembled(arrangement, extraction, surface, progress); };
    tbb::parallel_invoke([&] { found = prove_rounded(arrangement, extraction, surface, attempt.before, progress); },
                         [&] {
                             if (will_hold) assemble_all();
                         });
    if (!found || progress.cancelled()) return cancelled_error();
    out.faults = std::move(found->faults);
    out.fit = std::move(found->fit);
    if (!out.faults.empty() || !out.fit.misfits.empty()) {
        out.rounded = std::move(rounded);
        return out;
    }
    if (!out.fit.landings.empty()) land(out.fit.landings, rounded);
    if (!out.fit.landings.empty() || !will_hold) assemble_all();
    if (attempt.tells_proven && out.fit.landings.empty() && rounded.faces.size() >= worth_telling)
        proven.settled.proven = std::make_shared<const ProvenFaces>(arrangement, extraction, rounded);
    out.proven = std::move(proven);
    return out;
}

/// Rounded faces, patches taken apart, and their faults. `first`: what is known of the sub-faces; it is used up, which
/// makes room.
struct AllFaces {
    RoundedFaces rounded;
    Faults faults;
};
Result<AllFaces> prove_all(const Arrangement& arrangement, const Extraction& extraction,
                           std::optional<FirstProof> first, Precision precision, Progress& progress) {
    const Extraction all = taken_apart(arrangement, extraction, progress);
    if (progress.cancelled()) return cancelled_error();
    AllFaces out;
    if (first) {
        const std::size_t sub_faces = extraction.corners.size();
        const std::vector<std::uint32_t> origin = first->rounded.origin;
        land(first->fit.landings, first->rounded);
        out.rounded = with_patches(arrangement, all, sub_faces, std::move(first->rounded), precision, progress);
        out.faults = told_of_all(first->faults, first->fit, origin, all, sub_faces, out.rounded);
    } else {
        RoundedSurface surface = round_points(arrangement, all, precision, true, progress);
        if (progress.cancelled()) return cancelled_error();
        auto faults = find_faults(surface, progress);
        if (faults) out.faults = std::move(*faults);
        out.rounded = std::move(surface.faces);
    }
    if (progress.cancelled()) return cancelled_error();
    return out;
}

}  // namespace

Result<Proven> round_and_prove(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                               const Attempt& attempt, Progress& progress) {
    std::optional<FirstProof> first;
    if (patches_fit(arrangement, extraction, precision)) {
        auto done = prove_sub_faces(arrangement, extraction, precision, attempt, progress);
        if (!done) return done.error();
        if (done->proven) return std::move(*done->proven);
        std::vector<FaceSource> faulty = sources_of(done->faults, done->rounded, done->fit);
        if (attempt.gives_up && attempt.gives_up(faulty, faulty.size())) return given_up(std::move(faulty));
        first = std::move(*done);
    }
    const bool had_sub_faces = first.has_value();
    auto all = prove_all(arrangement, extraction, std::move(first), precision, progress);
    if (!all) return all.error();
    SettledFaces settled{std::move(all->rounded), !all->faults.empty()};
    std::vector<FaceSource> faulty = sources_of(all->faults, settled.rounded);
    if (settled.faulty && !had_sub_faces && attempt.gives_up && attempt.gives_up(faulty, faulty.size()))
        return given_up(std::move(faulty));
    if (settled.faulty) {
        auto done = settle_faults(std::move(settled.rounded), all->faults,
                                  {.precision = precision,
                                   .surface = extraction.surface,
                                   .flattenings = attempt.flattenings(faulty),
                                   .stubborn = attempt.effort == Effort::last},
                                  progress);
        if (!done) return done.error();
        settled = std::move(*done);
    }
    if (progress.cancelled()) return cancelled_error();
    Proven out;
    out.settled.mesh = as_mesh(settled.rounded);
    out.settled.thickness = std::move(settled.rounded.thickness);
    out.settled.source = std::move(settled.rounded.source);
    out.settled.largest_move = settled.rounded.largest_move;
    out.settled.rounds = settled.rounds;
    out.settled.clean = !settled.faulty;
    if (settled.faulty) out.settled.faulty = std::move(faulty);
    if (out.settled.clean && !extraction.surface) out.pinches = find_pinches(out.settled.mesh, progress);
    if (progress.cancelled()) return cancelled_error();
    return out;
}

}  // namespace anvil
