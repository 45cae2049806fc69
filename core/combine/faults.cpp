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

/// Rounded faces with a corner that rounding moved.
std::vector<std::uint32_t> find_suspects(const RoundedFaces& rounded) {
    std::vector<std::uint32_t> suspects;
    for (std::uint32_t f = 0; f < rounded.faces.size(); ++f)
        if (rounded.is_moved(f)) suspects.push_back(f);
    return suspects;
}

}  // namespace

std::optional<Faults> find_faults(const RoundedFaces& rounded, Progress& progress) {
    const auto& points = rounded.points;
    const auto& faces = rounded.faces;
    const std::vector<std::uint32_t> suspects = find_suspects(rounded);
    Faults out;
    if (suspects.empty()) return out;
    std::vector<char> flat(faces.size(), 0), suspect(faces.size(), 0);
    for (std::uint32_t f : suspects) {
        suspect[f] = 1;
        if (!collinear(points[faces[f][0].value()], points[faces[f][1].value()], points[faces[f][2].value()])) continue;
        flat[f] = 1;
        out.flat.push_back(f);
    }
    if (progress.cancelled()) return std::nullopt;
    const BoxTree tree(points, faces);
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

PatchFit fit_to_patches(const Arrangement& a, const Extraction& extraction, const RoundedFaces& rounded) {
    const std::vector<std::uint32_t> suspects = find_suspects(rounded);
    std::vector<char> used(a.patches.size(), 0), operand_used(a.soup.size(), 0);
    for (const Extraction::Whole& w : extraction.patches) {
        used[w.patch] = 1;
        operand_used[a.patches.list[w.patch].operand] = 1;
    }
    std::vector<Triangle> suspect_faces;
    for (const std::uint32_t f : suspects) suspect_faces.push_back(rounded.faces[f]);
    const BoxTree tree(rounded.points, suspect_faces);
    tbb::concurrent_vector<PatchFit::Landing> landings;
    tbb::concurrent_vector<std::pair<std::uint32_t, FaceId>> misfits;
    tbb::parallel_for(std::uint32_t{0}, a.soup.size(), [&](std::uint32_t o) {
        if (!operand_used[o]) return;
        const Operand& operand = a.soup.operand(o);
        const std::uint32_t* active = &a.active.index_of[a.soup.global(o, FaceId(0)).value()];
        operand.tree.pairs(
            tree, [](std::size_t) {},
            [&](std::size_t, std::uint32_t f, std::uint32_t i) {
                if (active[f] != ActiveFaces::none || !used[a.patches.of(a.soup, o, FaceId(f))]) return;
                const Triangle &t = suspect_faces[i], &own = operand.mesh.faces[FaceId(f)];
                const CornerPoints corners = corner_points(rounded.points, t),
                                   other = corner_points(operand.mesh.points.raw(), own);
                if (triangle_contact(corners, other).beyond_shared())
                    misfits.emplace_back(suspects[i], a.soup.global(o, FaceId(f)));
                for (std::size_t j = 0; j < 3; ++j)
                    for (std::size_t k = 0; k < 3; ++k)
                        if (!rounded.input[t[j].value()].valid() && *corners[j] == *other[k])
                            landings.push_back({t[j].value(), a.points.same_as(a.soup.global(o, own[k]))});
            });
    });
    PatchFit out{{landings.begin(), landings.end()}, {misfits.begin(), misfits.end()}};
    std::sort(out.misfits.begin(), out.misfits.end());
    return out;
}

}  // namespace anvil
