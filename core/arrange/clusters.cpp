#include "core/arrange/clusters.h"

#include <numeric>
#include <utility>

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
    std::vector<std::uint32_t> faces_to, crossings_to;  // per cluster: how many, and then where the next one goes
    for (std::uint32_t i = 0; i < active.size(); ++i) {
        if (!touched[i]) continue;
        const std::uint32_t root = sets.find(i);  // the lowest member, so met first
        if (root == i) {
            out.of_active[i] = static_cast<std::uint32_t>(faces_to.size());
            faces_to.push_back(0);
        }
        out.of_active[i] = out.of_active[root];
        ++faces_to[out.of_active[i]];
    }
    crossings_to.assign(faces_to.size(), 0);
    auto for_each_end = [&](const auto& visit) {
        for (std::uint32_t i = 0; i < crossings.segments.size(); ++i) {
            visit(out.of(active, crossings.segments[i].a), i);
            visit(out.of(active, crossings.segments[i].b), i);
        }
    };
    for_each_end([&](std::uint32_t cluster, std::uint32_t) { ++crossings_to[cluster]; });
    out.list.resize(faces_to.size());
    out.faces.resize(std::accumulate(faces_to.begin(), faces_to.end(), std::size_t{0}));
    out.crossings.resize(2 * crossings.segments.size());
    std::uint32_t first_face = 0, first_crossing = 0;
    for (std::size_t k = 0; k < out.list.size(); ++k) {
        out.list[k].faces = std::span(out.faces).subspan(first_face, faces_to[k]);
        out.list[k].crossings = std::span(out.crossings).subspan(first_crossing, crossings_to[k]);
        first_face += std::exchange(faces_to[k], first_face);
        first_crossing += std::exchange(crossings_to[k], first_crossing);
    }
    for (std::uint32_t i = 0; i < active.size(); ++i)
        if (touched[i]) out.faces[faces_to[out.of_active[i]]++] = active.faces[i];
    for_each_end([&](std::uint32_t cluster, std::uint32_t i) { out.crossings[crossings_to[cluster]++] = i; });
    for (const auto& [a, b] : crossings.coplanar)
        if (const std::uint32_t o = soup.operand_of(a); o == soup.operand_of(b)) {
            std::vector<std::uint32_t>& folded = out.list[out.of(active, a)].folded;
            if (std::ranges::find(folded, o) == folded.end()) folded.push_back(o);
        }
    return out;
}

}  // namespace anvil
