#include "core/arrange/clusters.h"

#include "core/mesh/disjoint_sets.h"

namespace anvil {

Clusters find_clusters(const Soup& soup, const Crossings& crossings, const ActiveFaces& active) {
    DisjointSets sets(active.size());
    std::vector<char> touched(active.size(), 0);
    auto index = [&](FaceId f) { return active.index_of[f.value()]; };
    for (const auto& [a, b] : crossings.coplanar) {
        sets.join(index(a), index(b));
        touched[index(a)] = touched[index(b)] = 1;
    }
    for (const Crossing& c : crossings.segments) touched[index(c.a)] = touched[index(c.b)] = 1;
    Clusters out;
    out.of_active.assign(active.size(), Clusters::none);
    for (std::uint32_t i = 0; i < active.size(); ++i) {
        if (!touched[i]) continue;
        const std::uint32_t root = sets.find(i);  // the lowest member, so met first
        if (root == i) {
            out.of_active[i] = static_cast<std::uint32_t>(out.list.size());
            out.list.emplace_back();
        }
        out.of_active[i] = out.of_active[root];
        out.list[out.of_active[i]].faces.push_back(active.faces[i]);
    }
    for (std::uint32_t i = 0; i < crossings.segments.size(); ++i) {
        out.list[out.of(active, crossings.segments[i].a)].crossings.push_back(i);
        out.list[out.of(active, crossings.segments[i].b)].crossings.push_back(i);
    }
    for (const auto& [a, b] : crossings.coplanar)
        if (const std::uint32_t o = soup.operand_of(a); o == soup.operand_of(b)) {
            std::vector<std::uint32_t>& folded = out.list[out.of(active, a)].folded;
            if (std::ranges::find(folded, o) == folded.end()) folded.push_back(o);
        }
    return out;
}

}  // namespace anvil
