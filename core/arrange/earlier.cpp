#include "core/arrange/earlier.h"

#include <algorithm>
#include <unordered_map>

namespace anvil {

EarlierArrangement::EarlierArrangement(const Arrangement& before, const Soup& now)
    : before_(before),
      soup_(now),
      input_count_(before.points.input_count()),
      clusters_(find_clusters(before.soup, before.crossings, before.active)) {
    const Soup& old = before.soup;
    for (std::uint32_t o = 0; o < std::min(old.size(), now.size()); ++o)
        same_.push_back(old.operands()[o] == now.operands()[o] &&
                        old.global(o, VertexId(0)) == now.global(o, VertexId(0)) &&
                        old.global(o, FaceId(0)) == now.global(o, FaceId(0)));
}

bool EarlierArrangement::same(const PointDefinition& d) const {
    if (!same(soup_.operand_of(VertexId(d.n[0])))) return false;
    return same(d.n[3] == PointDefinition::no_edge ? soup_.operand_of(FaceId(d.n[2]))
                                                   : soup_.operand_of(VertexId(d.n[2])));
}

void EarlierArrangement::match(std::span<const PointDefinition> definitions) {
    const auto& old = before_.crossings.definitions;
    added_before_.assign(definitions.size(), none);
    added_now_.assign(before_.points.size() - input_count_, none);
    auto take = [&](std::size_t i, std::uint32_t j) {
        added_before_[i] = j;
        added_now_[j] = static_cast<std::uint32_t>(soup_.point_count() + i);
    };
    std::vector<std::uint32_t> moved;  // those that have another number now, or are new
    for (std::uint32_t i = 0; i < definitions.size(); ++i) {
        if (!same(definitions[i])) continue;
        if (i < old.size() && old[i] == definitions[i])
            take(i, i);
        else
            moved.push_back(i);
    }
    if (moved.empty()) return;
    std::unordered_map<PointDefinition, std::uint32_t, DefinitionHash> number;
    for (std::uint32_t j = 0; j < old.size(); ++j)
        if (added_now_[j] == none) number.emplace(old[j], j);
    for (const std::uint32_t i : moved)
        if (const auto at = number.find(definitions[i]); at != number.end()) take(i, at->second);
}

const ExactPoint* EarlierArrangement::point(std::size_t number, Vec3& approx) const {
    if (added_before_[number] == none) return nullptr;
    const PointView view = before_.points.view(VertexId(input_count_ + added_before_[number]));
    approx = view.approx;
    return view.exact;
}

const SubFaces::OfCluster* EarlierArrangement::find(const Cluster& cluster, const Clusters& clusters,
                                                    const ActiveFaces& active, const Crossings& crossings,
                                                    const PointTable& points) const {
    const FaceId first = cluster.faces.front();
    if (!same(soup_.operand_of(first)) || !before_.active.contains(first)) return nullptr;
    const std::uint32_t number = clusters_.of(before_.active, first);
    if (number == Clusters::none) return nullptr;
    const Cluster& old = clusters_.list[number];
    const SubFaces::OfCluster& made = before_.faces.of_cluster[number];
    if (made.has_own_points || !std::ranges::equal(old.faces, cluster.faces) || old.folded != cluster.folded ||
        old.crossings.size() != cluster.crossings.size())
        return nullptr;

    // What decides ties and the order of insertion is the order of the points' numbers: it has to be as it was.
    std::vector<std::pair<VertexId, VertexId>> added;
    auto is_same = [&](VertexId before, VertexId v) {
        if (!before.valid() || !v.valid()) return before == v;
        if (is_input(before)) return before == v && same(soup_.operand_of(v));
        added.emplace_back(before, v);
        return now(before) == v;
    };
    for (const FaceId f : cluster.faces) {
        if (!same(soup_.operand_of(f))) return nullptr;
        for (const VertexId v : soup_.face(f))
            if (!is_same(before_.points.same_as(v), points.same_as(v))) return nullptr;
    }
    for (std::size_t i = 0; i < cluster.crossings.size(); ++i) {
        const Crossing &a = before_.crossings.segments[old.crossings[i]], &b = crossings.segments[cluster.crossings[i]];
        if (a.a != b.a || a.b != b.b || !is_same(a.p, b.p) || !is_same(a.q, b.q)) return nullptr;
        const FaceId other = std::ranges::binary_search(cluster.faces, b.a) ? b.b : b.a;
        if (!same(soup_.operand_of(other))) return nullptr;
        // Faces that lie on each other leave one line together.
        const Cluster &there = clusters.list[clusters.of(active, other)],
                      &was = clusters_.list[clusters_.of(before_.active, other)];
        if (there.faces.front() != was.faces.front()) return nullptr;
    }
    std::ranges::sort(added);
    const bool in_order =
        std::ranges::is_sorted(added, {}, [](const std::pair<VertexId, VertexId>& p) { return p.second; });
    return in_order ? &made : nullptr;
}

}  // namespace anvil
