#include "core/combine/contacts.h"

#include <algorithm>

#include "core/combine/faults.h"
#include "core/combine/flakes.h"
#include "core/combine/prove.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

/// Whether there is a step by which touching parts can be moved apart; then it is done.
bool separate(Settled& settled, Pinches pinches, Precision precision) {
    const std::size_t given_points = settled.mesh.points.size();
    Mesh mesh = settled.mesh;
    std::vector<FaceSource> source = settled.source;
    if (!pinches.closed_edges.empty()) {
        split_edges(mesh, pinches.closed_edges, precision, source);
        pinches = find_pinches(mesh, PinchCandidates::all(mesh));
    }
    const double reach = reach_of(settled.mesh.points.raw());
    for (double step = (precision == Precision::single_precision ? 2 : 4) * last_digit(reach, precision);
         step < reach * 0x1p-9; step *= 4) {
        const Mesh apart = moved_apart(mesh, pinches, step, precision);
        RoundedFaces check;
        check.points = apart.points.raw();
        check.faces = apart.faces.raw();
        check.source = source;
        check.origin.resize(check.faces.size());
        check.moved.assign(apart.points.size(), 0);
        for (const Pinches::Corner& c : pinches.corners)
            for (VertexId v : apart.faces[c.face]) check.moved[v.value()] = 1;
        for (FaceId f : ids<FaceId>(mesh.faces.size()))
            if (std::ranges::any_of(mesh.faces[f], [&](VertexId v) { return v.value() >= given_points; }))
                for (VertexId v : apart.faces[f]) check.moved[v.value()] = 1;
        const auto& faces = apart.faces;
        if (std::ranges::any_of(faces, repeats_corner)) continue;
        // What is thinner than the step may have been turned inside out by it.
        const bool dropped = drop_flakes(check, precision, step) > 0;
        if (!find_faults(check).empty()) continue;
        const Mesh left = as_mesh(check);
        // Crumbs may go, a thin body may not: it needs another way than so large a step.
        if (dropped && surface_area(left) < 0.99 * surface_area(apart)) continue;
        if (!find_pinches(left, PinchCandidates::all(left)).empty()) continue;
        settled.mesh = left;
        settled.source = std::move(check.source);
        settled.contact_step = step;
        return true;
    }
    return false;
}

/// Puts skins too thin to be moved apart on coarser grids first.
Result<void> separate_on_grids(Settled& settled, Precision precision, Progress& progress) {
    Settled now = settled;
    for (const int bits : grid_bits(precision)) {
        if (bits == 0) continue;
        const Pinches pinches = find_pinches(now.mesh, PinchCandidates::all(now.mesh));
        std::vector<char> near(now.mesh.faces.size(), 0);
        for (const Pinches::Corner& c : pinches.corners) near[c.face.value()] = 1;
        for (FaceId f : ids<FaceId>(now.mesh.faces.size()))
            for (const auto& edge : pinches.edges)
                if (std::ranges::count_if(now.mesh.faces[f],
                                          [&](VertexId v) { return v == edge.first || v == edge.second; }) == 2)
                    near[f.value()] = 1;
        const auto again = arrange_again(now.mesh, now.source, near, false, progress);
        if (!again) return again.error();
        auto tried = attempt(again->arrangement, again->all, again->marked, bits, precision, Effort::full, progress);
        if (!tried) return tried.error();
        if (!tried->faulty.empty()) continue;
        now.mesh = as_mesh(tried->rounded);
        now.source = std::move(tried->rounded.source);
        now.largest_move += tried->rounded.largest_move;
        const Pinches left = find_pinches(now.mesh, PinchCandidates::all(now.mesh));
        if (left.empty() || separate(now, left, precision)) {
            if (left.empty()) now.contact_step = now.largest_move;
            settled = std::move(now);
            return {};
        }
    }
    return {};
}

/// Adds small bodies where it touches itself, or takes them away there.
Result<void> with_small_bodies(Settled& settled, const Pinches& pinches, Operation operation, Precision precision,
                               Progress& progress) {
    const double reach = reach_of(settled.mesh.points.raw());
    for (double step = reach * 0x1p-18; step < reach * 0x1p-8; step *= 4) {
        const Mesh bodies = bridges(settled.mesh, pinches, step);
        const Mesh* operands[] = {&settled.mesh, &bodies};
        auto arrangement = arrange(operands, progress);
        if (!arrangement) return arrangement.error();
        const CombineStep apply{operation, 1, {}};
        auto again = round_and_prove(*arrangement, extract(*arrangement, std::span(&apply, 1)).front(), precision,
                                     Effort::full, progress);
        if (!again) return again.error();
        if (!again->settled.clean || !again->pinches.empty()) continue;
        for (FaceSource& s : again->settled.source) s = s.operand == 0 ? settled.source[s.face.value()] : FaceSource{};
        const double before = settled.largest_move;
        const std::size_t edges = settled.pinched_edges, points = settled.pinched_points;
        settled = std::move(again->settled);
        settled.largest_move += before;
        settled.pinched_edges = edges;
        settled.pinched_points = points;
        settled.contact_step = step;
        return {};
    }
    return {};
}

}  // namespace

Result<void> separate_contacts(Settled& settled, const Pinches& pinches, Precision precision, Progress& progress) {
    if (separate(settled, pinches, precision)) return {};
    if (auto done = separate_on_grids(settled, precision, progress); !done || settled.contact_step > 0) return done;
    // A fan so twisted that no way back is free of crossings: the contact is cut out.
    return with_small_bodies(settled, pinches, Operation::difference, precision, progress);
}

Result<void> join_contacts(Settled& settled, const Pinches& pinches, Precision precision, Progress& progress) {
    auto done = with_small_bodies(settled, pinches, Operation::union_of, precision, progress);
    settled.bridged = settled.contact_step > 0;
    if (!done || settled.bridged) return done;
    return separate_contacts(settled, pinches, precision, progress);
}

}  // namespace anvil
