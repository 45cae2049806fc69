#include "core/arrange/repair_operand.h"

#include <algorithm>

#include "core/arrange/enclose.h"
#include "core/arrange/join_borders.h"
#include "core/arrange/orient.h"
#include "core/arrange/surface_parts.h"
#include "core/base/number_text.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

HalfEdges edges_of(const Operand& operand) {
    return find_half_edges(operand.mesh.faces.raw(), operand.mesh.points.size());
}
/// Joins borders where that leaves fewer of them.
void join(Operand& operand, std::vector<UnbalancedEdge>& open) {
    Mesh before = operand.mesh;
    std::vector<FaceId> origin = operand.origin;
    const JoinedBorders joined = join_borders(operand.mesh, open, usual_border_reach * bounds(operand.mesh).diagonal());
    if (joined.points == 0) return;
    keep_faces(operand, [&](std::size_t f) { return !repeats_corner(operand.mesh.faces[FaceId(f)]); });
    auto left = find_unbalanced(operand.mesh.faces.raw(), edges_of(operand));
    if (left.size() >= open.size()) {
        operand.mesh = std::move(before);
        operand.origin = std::move(origin);
        return;
    }
    open = std::move(left);
    operand.notes.push_back("Borders up to " + short_text(joined.largest_move) + " mm apart were joined.");
}

std::vector<Vec3> rim_of(const Mesh& mesh, const SurfaceParts::Hole& hole) {
    std::vector<Vec3> rim;
    for (VertexId v : hole.rim) rim.push_back(mesh.points[v]);
    return rim;
}

/// Where the parts by themselves are sheets, they may enclose something together. Returns whether they do.
bool enclose_together(Operand& operand, const SurfaceParts& parts, Progress& progress) {
    std::vector<Triangle> fill;
    std::size_t borders = 0;
    for (const auto& holes : parts.holes) {
        for (const SurfaceParts::Hole& hole : holes) fill.insert(fill.end(), hole.fill.begin(), hole.fill.end());
        borders += holes.size();
    }
    if (borders < 2) return false;
    std::vector<std::vector<Vec3>> rims;
    for (const auto& holes : parts.holes)
        for (const SurfaceParts::Hole& hole : holes) rims.push_back(rim_of(operand.mesh, hole));
    auto solid = enclose(operand.mesh, fill, progress);
    if (!solid || is_mostly_missing(solid->walls, solid->own)) return false;
    for (FaceId& f : solid->origin)
        if (f.valid()) f = operand.origin[f.value()];
    operand.mesh = std::move(solid->mesh);
    operand.origin = std::move(solid->origin);
    keep_faces(operand, [&](std::size_t f) { return !repeats_corner(operand.mesh.faces[FaceId(f)]); });
    operand.closed_holes.insert(operand.closed_holes.end(), rims.begin(), rims.end());
    operand.notes.push_back("It was open, in " + count_text(parts.count(), "part", "parts") + " with " +
                            count_text(borders, "border", "borders") +
                            " that do not fit together: what they are wound around more than half was taken for its "
                            "inside, and walls of " +
                            short_text(solid->walls) + " mm² closed it.");
    return true;
}

}  // namespace

void close_operand(Operand& operand, HalfEdges& edges, SheetRule rule, Progress& progress) {
    Mesh& mesh = operand.mesh;
    if (const std::size_t turned = orient_alike(mesh, edges); turned > 0) {
        operand.notes.push_back(count_text(turned, "face ran", "faces ran") + " against the neighbours and " +
                                (turned == 1 ? "was" : "were") + " turned.");
        edges = edges_of(operand);
    }
    std::vector<UnbalancedEdge> open = find_unbalanced(mesh.faces.raw(), edges);
    if (!open.empty()) {
        join(operand, open);
        edges = edges_of(operand);
    }
    if (!open.empty()) {
        const SurfaceParts parts = find_surface_parts(mesh, open);
        auto is_sheet = [&](std::size_t p) { return parts.is_sheet(p, rule); };
        operand.sheet = std::ranges::all_of(parts.of_face, is_sheet);
        // Parts none of which is a solid by itself may be one together.
        if (std::ranges::all_of(parts.of_face, [&](std::size_t p) { return parts.is_sheet(p); }) &&
            enclose_together(operand, parts, progress)) {
            operand.sheet = false;
            edges = edges_of(operand);
            return;
        }
        if (operand.sheet) return;
        keep_faces(operand, [&](std::size_t f) { return !is_sheet(parts.of_face[f]); });
        std::size_t sheets = 0, added = 0;
        double area = 0;
        for (std::size_t p = 0; p < parts.count(); ++p) {
            if (is_sheet(p)) {
                ++sheets;
                continue;
            }
            area += parts.missing[p];
            for (const SurfaceParts::Hole& hole : parts.holes[p]) {
                operand.closed_holes.push_back(rim_of(mesh, hole));
                added += hole.fill.size();
                for (const Triangle& t : hole.fill) {
                    mesh.faces.push_back(t);
                    operand.origin.push_back(FaceId());
                }
            }
        }
        const std::size_t holes = operand.closed_holes.size();
        if (sheets > 0)
            operand.notes.push_back(count_text(sheets, "loose sheet", "loose sheets") + " beside the solid " +
                                    (sheets == 1 ? "was" : "were") + " left out.");
        if (holes > 0)
            operand.notes.push_back("It was open: " + count_text(holes, "hole was", "holes were") + " closed with " +
                                    count_text(added, "face", "faces") + " of " + short_text(area) + " mm² in all.");
        edges = edges_of(operand);
    }
}

bool turn_operand_outward(Operand& operand, HalfEdges& edges) {
    const std::size_t turned = turn_shells_outward(operand.mesh, edges);
    if (turned == 0) return false;
    operand.notes.push_back(turned == 1 ? "It was inside out; its faces were turned."
                                        : "It had shells that were inside out; they were turned.");
    edges = edges_of(operand);
    return true;
}

}  // namespace anvil
