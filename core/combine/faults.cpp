#include "core/combine/faults.h"

#include <tbb/concurrent_vector.h>
#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/arrange/stars.h"
#include "core/exact/predicates.h"
#include "core/spatial/leaf_corners.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {
namespace {

/// Per rounded face, whether rounding moved a corner of it.
std::vector<char> find_suspects(const RoundedFaces& rounded) {
    std::vector<char> suspect(rounded.faces.size());
    for (std::uint32_t f = 0; f < rounded.faces.size(); ++f) suspect[f] = rounded.is_moved(f);
    return suspect;
}

}  // namespace

std::optional<Faults> find_faults(const RoundedFaces& rounded, const BoxTree& tree, Progress& progress) {
    const auto& points = rounded.points;
    const auto& faces = rounded.faces;
    const std::vector<char> suspect = find_suspects(rounded);
    Faults out;
    if (std::ranges::find(suspect, 1) == suspect.end()) return out;
    std::vector<char> flat(faces.size(), 0);
    for (std::uint32_t f = 0; f < faces.size(); ++f) {
        const auto [p, q, r] = corner_points(points, faces[f]);
        if (!suspect[f] || !collinear(*p, *q, *r)) continue;
        flat[f] = 1;
        out.flat.push_back(f);
    }
    if (progress.cancelled()) return std::nullopt;
    // Faces round a point that is sound answer for each other: a fan of thousands would have millions of pairs.
    const HalfEdges edges = find_half_edges(faces, points.size());
    if (progress.cancelled()) return std::nullopt;
    const std::vector<char> sound = find_sound_stars(points, faces, edges);
    if (progress.cancelled()) return std::nullopt;
    const LeafCorners corners(tree, faces, sound);
    std::vector<std::vector<std::pair<std::uint32_t, std::uint32_t>>> per_task;
    const bool complete = tree.self_pairs(
        [&](std::size_t tasks) { per_task.resize(tasks); },
        [&](std::size_t task, std::uint32_t f, std::uint32_t g) {
            if (!(suspect[f] || suspect[g]) || flat[f] || flat[g]) return;
            if (triangle_contact(corner_points(points, faces[f]), corner_points(points, faces[g])).beyond_shared())
                per_task[task].emplace_back(f, g);
        },
        &progress, [&](std::uint32_t a, std::uint32_t b) { return corners.sharing(a, b); });
    if (!complete) return std::nullopt;
    for (const auto& list : per_task) out.pairs.insert(out.pairs.end(), list.begin(), list.end());
    std::sort(out.pairs.begin(), out.pairs.end());
    return out;
}

PatchFit fit_to_patches(const Arrangement& a, const Extraction& extraction, const RoundedFaces& rounded,
                        const BoxTree& tree, Progress& progress) {
    const std::vector<char> suspect = find_suspects(rounded);
    std::vector<char> used(a.patches.size(), 0), operand_used(a.soup.size(), 0);
    for (const Extraction::Whole& w : extraction.patches) {
        used[w.patch] = 1;
        operand_used[a.patches.list[w.patch].operand] = 1;
    }
    tbb::concurrent_vector<PatchFit::Landing> landings;
    tbb::concurrent_vector<std::pair<std::uint32_t, FaceId>> misfits;
    tbb::parallel_for(std::uint32_t{0}, a.soup.size(), [&](std::uint32_t o) {
        if (!operand_used[o]) return;
        const Operand& operand = a.soup.operand(o);
        const std::uint32_t* active = &a.active.index_of[a.soup.global(o, FaceId(0)).value()];
        auto is_kept = [&](std::uint32_t f) {
            return active[f] == ActiveFaces::none && used[a.patches.of(a.soup, o, FaceId(f))];
        };
        // Where many were split, it is worth not to go down to those.
        std::vector<char> marks;
        const std::size_t count = operand.mesh.faces.size();
        const auto first = std::ranges::lower_bound(a.active.faces, a.soup.global(o, FaceId(0)));
        const auto end =
            std::lower_bound(first, a.active.faces.end(), FaceId(a.soup.global(o, FaceId(0)).value() + count));
        if (32 * static_cast<std::size_t>(end - first) > count) marks = operand.tree.holding(is_kept);
        operand.tree.pairs(
            tree, [](std::size_t) {},
            [&](std::size_t, std::uint32_t f, std::uint32_t i) {
                if (!suspect[i] || !is_kept(f)) return;
                const Triangle &t = rounded.faces[i], &own = operand.mesh.faces[FaceId(f)];
                const CornerPoints corners = corner_points(rounded.points, t),
                                   other = corner_points(operand.mesh.points.raw(), own);
                if (triangle_contact(corners, other).beyond_shared())
                    misfits.emplace_back(i, a.soup.global(o, FaceId(f)));
                for (std::size_t j = 0; j < 3; ++j)
                    for (std::size_t k = 0; k < 3; ++k)
                        if (!rounded.input[t[j].value()].valid() && *corners[j] == *other[k])
                            landings.push_back({t[j].value(), a.points.same_as(a.soup.global(o, own[k]))});
            },
            &progress, marks);
    });
    PatchFit out{{landings.begin(), landings.end()}, {misfits.begin(), misfits.end()}};
    std::sort(out.misfits.begin(), out.misfits.end());
    return out;
}

}  // namespace anvil
