#include <algorithm>

#include "core/arrange/stars.h"
#include "core/inspect/checks.h"
#include "core/spatial/leaf_corners.h"
#include "core/spatial/triangle_contact.h"

namespace anvil::inspect_detail {

void check_crossings(CheckContext& context) {
    const Mesh& mesh = context.mesh;
    const auto& points = mesh.points.raw();
    const auto& faces = mesh.faces.raw();
    using Pair = std::pair<FaceId, FaceId>;
    const std::vector<PlaneFilter> planes = face_planes(points, faces);
    const std::vector<char> sound = find_sound_stars(points, faces, find_half_edges(faces, points.size()));
    const LeafCorners corners(*context.tree, faces, sound);
    std::vector<std::vector<Pair>> per_task;
    context.tree->self_pairs([&](std::size_t tasks) { per_task.resize(tasks); },
                             [&](std::size_t task, std::uint32_t i, std::uint32_t j) {
                                 if (context.clean_face[i] && context.clean_face[j] &&
                                     triangle_contact(corner_points(points, faces[i]), corner_points(points, faces[j]),
                                                      &planes[i], &planes[j])
                                         .beyond_shared())
                                     per_task[task].emplace_back(FaceId(i), FaceId(j));
                             },
                             &context.progress,
                             [&](std::uint32_t a, std::uint32_t b) { return corners.sharing(a, b); });
    std::vector<Pair> pairs;
    for (const auto& list : per_task) pairs.insert(pairs.end(), list.begin(), list.end());
    std::sort(pairs.begin(), pairs.end());
    for (const auto& [a, b] : pairs) {
        // Somewhere in both boxes: near enough to look at.
        Box common;
        for (int k = 0; k < 3; ++k) {
            auto range = [&](FaceId f) {
                return std::minmax({mesh.corner(f, 0)[k], mesh.corner(f, 1)[k], mesh.corner(f, 2)[k]});
            };
            common.low[k] = std::max(range(a).first, range(b).first);
            common.high[k] = std::min(range(a).second, range(b).second);
        }
        context.findings.push_back({FindingKind::self_intersections, common.center(), {}, {a, b}});
    }
}

}  // namespace anvil::inspect_detail
