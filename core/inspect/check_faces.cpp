#include <algorithm>
#include <unordered_map>

#include "core/base/sort.h"
#include "core/exact/predicates.h"
#include "core/inspect/checks.h"

namespace anvil::inspect_detail {

void check_faces(CheckContext& context) {
    const Mesh& mesh = context.mesh;
    context.clean_face.assign(mesh.faces.size(), 0);
    std::vector<std::pair<Triangle, FaceId>> sorted;
    sorted.reserve(mesh.faces.size());
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Triangle& t = mesh.faces[f];
        bool collapsed = false;
        for (int k = 0; k < 3; ++k)
            if (t[k] == t[(k + 1) % 3]) {
                context.findings.push_back({FindingKind::zero_length_edges, mesh.points[t[k]], {t[k]}, {f}});
                collapsed = true;
            }
        if (!collapsed && collinear(mesh.corner(f, 0), mesh.corner(f, 1), mesh.corner(f, 2))) {
            context.findings.push_back(
                {FindingKind::degenerate_faces, face_middle(mesh, f), {t.begin(), t.end()}, {f}});
            collapsed = true;
        }
        context.clean_face[f.value()] = !collapsed;
        Triangle key = t;
        std::sort(key.begin(), key.end());
        sorted.emplace_back(key, f);
    }
    using Entry = std::pair<Triangle, FaceId>;
    sort_by_number(
        sorted, [](const Entry& e) { return e.first[0].value(); },
        [](const Entry& a, const Entry& b) { return a < b; });
    std::vector<std::pair<FaceId, FaceId>> twins;  // the later face first
    for (std::size_t i = 1, first = 0; i < sorted.size(); ++i) {
        if (sorted[i].first != sorted[first].first)
            first = i;
        else
            twins.emplace_back(sorted[i].second, sorted[first].second);
    }
    std::sort(twins.begin(), twins.end());
    // Three corners in the same order from some corner on: the faces look the same way.
    auto back_to_back = [&](const Triangle& a, const Triangle& b) {
        int k = 0;
        while (k < 2 && b[k] != a[0]) ++k;
        return b[(k + 1) % 3] != a[1];
    };
    for (const auto& [f, original] : twins) {
        context.findings.push_back({FindingKind::duplicate_faces, face_middle(mesh, f), {}, {f, original}});
        if (!repeats_corner(mesh.faces[f]) && back_to_back(mesh.faces[f], mesh.faces[original]))
            context.findings.push_back({FindingKind::doubled_faces, face_middle(mesh, f), {}, {f, original}});
    }
}

}  // namespace anvil::inspect_detail
