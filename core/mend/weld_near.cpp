#include <algorithm>

#include "core/mend/chosen.h"
#include "core/mend/edit_faces.h"
#include "core/mend/repairs.h"
#include "core/mesh/disjoint_sets.h"
#include "core/spatial/box_tree.h"

namespace anvil {
namespace {

/// Points that hang together by steps of no more than `distance`. Nothing where it was stopped.
std::optional<DisjointSets> near_sets(const Mesh& mesh, double distance, Progress* progress) {
    std::vector<Box> boxes;
    boxes.reserve(mesh.points.size());
    const Vec3 half{distance / 2, distance / 2, distance / 2};
    for (const Vec3& p : mesh.points) boxes.push_back({p - half, p + half});
    std::vector<std::vector<std::pair<std::uint32_t, std::uint32_t>>> near;
    const bool complete =
        BoxTree(boxes).self_pairs([&](std::size_t tasks) { near.resize(tasks); },
                                  [&](std::size_t task, std::uint32_t i, std::uint32_t j) {
                                      if (norm(mesh.points[VertexId(i)] - mesh.points[VertexId(j)]) <= distance)
                                          near[task].emplace_back(i, j);
                                  },
                                  progress);
    if (!complete) return std::nullopt;
    DisjointSets sets(mesh.points.size());
    for (const auto& list : near)
        for (const auto& [i, j] : list) sets.join(i, j);
    return sets;
}

}  // namespace

std::size_t count_weldable(const Mesh& mesh, double distance) {
    auto sets = near_sets(mesh, distance, nullptr);
    std::size_t count = 0;
    for (std::uint32_t v = 0; v < mesh.points.size(); ++v) count += sets->find(v) != v;
    return count;
}

Result<Repaired> weld_near(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::weld};
    Mesh own = welded(mesh);
    if (options.weld_distance > 0) {
        auto sets = near_sets(own, options.weld_distance, &progress);
        if (!sets) return cancelled_error();
        const Chosen chosen(options);
        std::vector<char> taken(own.points.size(), 0);  // per set, at its root
        for (const VertexId v : ids<VertexId>(own.points.size()))
            if (chosen.has(own.points[v])) taken[sets->find(v.value())] = 1;
        for (const VertexId v : ids<VertexId>(own.points.size())) {
            const VertexId root(sets->find(v.value()));
            if (root == v || !taken[root.value()]) continue;
            ++out.changed;
            out.largest_move = std::max(out.largest_move, norm(own.points[root] - own.points[v]));
            if (out.places.size() < most_places) out.places.push_back(own.points[root]);
        }
        if (out.changed > 0) {
            for (Triangle& t : own.faces)
                for (VertexId& v : t)
                    if (const std::uint32_t root = sets->find(v.value()); taken[root]) v = VertexId(root);
            drop_repeating(own);
            own = welded(own);
            out.said = count_text(out.changed, "point was", "points were") + " welded to others up to " +
                       short_text(out.largest_move) + " mm away.";
        }
    }
    mesh = std::move(own);
    return out;
}

}  // namespace anvil
