#include "core/arrange/surface_parts.h"
#include "core/inspect/checks.h"

namespace anvil::inspect_detail {

void check_form(CheckContext& context) {
    const Mesh& mesh = context.mesh;
    Inspection& out = context.out;
    if (mesh.empty()) return;
    const auto open = out.closed
                          ? std::vector<UnbalancedEdge>()
                          : find_unbalanced(mesh.faces.raw(), find_half_edges(mesh.faces.raw(), mesh.points.size()));
    if (open.empty()) {
        out.form = Form::solid;
        out.solids = 1;
        return;
    }
    const SurfaceParts parts = find_surface_parts(mesh, open);
    if (context.progress.cancelled()) return;
    for (std::size_t p = 0; p < parts.count(); ++p) {
        if (!(parts.area[p] > 0)) continue;
        ++(parts.is_sheet(p) ? out.sheets : out.solids);
    }
    out.form = form_of(out.solids, out.sheets);
    for (Finding& f : context.findings)
        if (f.kind == FindingKind::holes) f.of_sheet = parts.is_sheet(parts.of_face[f.faces.front().value()]);
    if (out.form != Form::mixed) return;
    std::vector<std::size_t> found(parts.count(), 0);  // counted from 1
    const std::size_t first = context.findings.size();
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const std::uint32_t p = parts.of_face[f.value()];
        if (!parts.is_sheet(p) || !(parts.area[p] > 0)) continue;
        if (found[p] == 0) {
            context.findings.push_back({FindingKind::stray_sheets, face_middle(mesh, f), {}, {}});
            found[p] = context.findings.size() - first;
        }
        context.findings[first + found[p] - 1].faces.push_back(f);
    }
}

}  // namespace anvil::inspect_detail
