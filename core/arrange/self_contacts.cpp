#include "core/arrange/self_contacts.h"

#include <algorithm>
#include <tuple>

namespace anvil {

std::optional<std::vector<FaceContact>> find_self_contacts(const Mesh& mesh, const std::vector<char>& sound,
                                                           const BoxTree& tree, Progress& progress) {
    const auto& points = mesh.points.raw();
    const auto& faces = mesh.faces.raw();
    // Of the pairs that the boxes give, nine in ten are neighbours; stars that are sound as a whole answer for them.
    std::vector<std::vector<FaceContact>> per_task;
    const bool complete = tree.self_pairs([&](std::size_t tasks) { per_task.resize(tasks); },
                                          [&](std::size_t task, std::uint32_t i, std::uint32_t j) {
                                              const Triangle &a = faces[i], &b = faces[j];
                                              for (VertexId v : a)
                                                  if ((v == b[0] || v == b[1] || v == b[2]) && sound[v.value()]) return;
                                              const Contact c =
                                                  triangle_contact(corner_points(points, a), corner_points(points, b));
                                              if (c.beyond_shared())
                                                  per_task[task].push_back({FaceId(i), FaceId(j), c});
                                          },
                                          &progress);
    if (!complete) return std::nullopt;
    std::vector<FaceContact> all;
    for (const auto& list : per_task) all.insert(all.end(), list.begin(), list.end());
    std::sort(all.begin(), all.end(),
              [](const FaceContact& x, const FaceContact& y) { return std::tie(x.a, x.b) < std::tie(y.a, y.b); });
    return all;
}

}  // namespace anvil
