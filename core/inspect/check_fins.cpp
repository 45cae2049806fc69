#include <map>

#include "core/base/vec3.h"
#include "core/inspect/checks.h"
#include "core/inspect/fins.h"
#include "core/mesh/disjoint_sets.h"

namespace anvil {

std::vector<std::vector<FaceId>> find_fins(const Mesh& mesh, const EdgeTable& edges) {
    bool any = false;
    for (const EdgeId e : ids<EdgeId>(edges.size())) any = any || edges.edge(e).count > 2;
    if (!any) return {};
    DisjointSets sets(mesh.faces.size());
    for (const EdgeId e : ids<EdgeId>(edges.size()))
        if (edges.is_regular(e)) sets.join(edges.uses(e)[0] / 3, edges.uses(e)[1] / 3);
    std::vector<std::uint32_t> patch;
    const std::uint32_t count = sets.number(patch);
    std::vector<char> free(count, 0), hangs(count, 0), needed(count, 0);
    std::vector<double> area(count, 0);
    double total = 0;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const double a = triangle_area(mesh.corner(f, 0), mesh.corner(f, 1), mesh.corner(f, 2));
        area[patch[f.value()]] += a;
        total += a;
    }
    for (const EdgeId e : ids<EdgeId>(edges.size())) {
        const auto uses = edges.uses(e);
        if (uses.size() == 1) free[patch[uses[0] / 3]] = 1;
        if (uses.size() <= 2) continue;
        // What is left without a patch is all less its own: there may be thousands of faces at one edge.
        struct Part {
            int balance = 0;
            std::size_t faces = 0;
        };
        Part all;
        std::map<std::uint32_t, Part> of_patch;
        for (const std::uint32_t h : uses)
            for (Part* part : {&all, &of_patch[patch[h / 3]]}) {
                part->balance += edges.forward(h) ? 1 : -1;
                ++part->faces;
            }
        for (const auto& [own, part] : of_patch) {
            const bool closes = all.faces - part.faces >= 2 && all.balance == part.balance;
            (closes ? hangs : needed)[own] = 1;
        }
    }
    std::vector<std::uint32_t> number(count, 0);  // counted from 1
    std::vector<std::vector<FaceId>> fins;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const std::uint32_t p = patch[f.value()];
        if (!(free[p] && hangs[p] && !needed[p] && area[p] < total / 2)) continue;
        if (number[p] == 0) {
            fins.emplace_back();
            number[p] = static_cast<std::uint32_t>(fins.size());
        }
        fins[number[p] - 1].push_back(f);
    }
    return fins;
}

namespace inspect_detail {

void check_fins(CheckContext& context) {
    for (std::vector<FaceId>& fin : find_fins(context.mesh, context.edges))
        context.findings.push_back({FindingKind::fins, face_middle(context.mesh, fin.front()), {}, std::move(fin)});
}

}  // namespace inspect_detail
}  // namespace anvil
