#include <algorithm>
#include <optional>

#include "core/arrange/stars.h"
#include "core/inspect/checks.h"
#include "core/inspect/same_faces.h"
#include "core/spatial/leaf_corners.h"
#include "core/spatial/triangle_contact.h"

namespace anvil::inspect_detail {
void check_crossings(CheckContext& context) {
    const Mesh& mesh = context.mesh;
    const auto& points = mesh.points.raw();
    struct Pair {
        std::uint32_t a, b;
        std::size_t count;
        auto operator<=>(const Pair&) const = default;
    };
    // Only where there are copies is another tree worth while.
    const bool copies = has_copies(context);
    SameFaces same;
    std::optional<BoxTree> own_tree;
    if (copies) {
        same = find_same(mesh.faces.raw());
        own_tree.emplace(points, same.faces);
    }
    const std::span<const Triangle> faces = copies ? same.faces : mesh.faces.raw();
    const BoxTree& tree = copies ? *own_tree : *context.tree;
    auto number = [&](std::uint32_t f) { return copies ? same.number[f] : f; };
    auto times = [&](std::uint32_t f) { return copies ? same.times[same.number[f]] : std::size_t{1}; };

    const std::vector<PlaneFilter> planes = face_planes(points, faces);
    const std::vector<char> sound =
        find_sound_stars(points, faces, find_half_edges(faces, points.size()), Fans::open_too);
    const LeafCorners corners(tree, faces, sound);
    std::vector<std::vector<Pair>> per_task;
    tree.self_pairs([&](std::size_t tasks) { per_task.resize(tasks); },
                    [&](std::size_t task, std::uint32_t i, std::uint32_t j) {
                        const std::uint32_t f = number(i), g = number(j);
                        if (context.clean_face[f] && context.clean_face[g] &&
                            triangle_contact(corner_points(points, faces[i]), corner_points(points, faces[j]),
                                             &planes[i], &planes[j])
                                .beyond_shared())
                            per_task[task].push_back({std::min(f, g), std::max(f, g), times(i) * times(j)});
                    },
                    &context.progress,
                    [&](std::uint32_t a, std::uint32_t b, unsigned) { return corners.sharing(a, b); });
    std::vector<Pair> pairs;
    for (const auto& list : per_task) pairs.insert(pairs.end(), list.begin(), list.end());
    for (const std::uint32_t f : same.number)
        if (const std::size_t k = same.times[f]; k > 1 && context.clean_face[f])
            pairs.push_back({f, same.another[f], k * (k - 1) / 2});
    std::sort(pairs.begin(), pairs.end());
    for (const auto& [a, b, count] : pairs) {
        // Somewhere in both boxes: near enough to look at.
        Box common;
        for (int k = 0; k < 3; ++k) {
            auto range = [&](std::uint32_t f) {
                return std::minmax(
                    {mesh.corner(FaceId(f), 0)[k], mesh.corner(FaceId(f), 1)[k], mesh.corner(FaceId(f), 2)[k]});
            };
            common.low[k] = std::max(range(a).first, range(b).first);
            common.high[k] = std::min(range(a).second, range(b).second);
        }
        Finding finding{FindingKind::self_intersections, common.center(), {}, {FaceId(a), FaceId(b)}};
        finding.count = count;
        context.findings.push_back(std::move(finding));
    }
}

}  // namespace anvil::inspect_detail
