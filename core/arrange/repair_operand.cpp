#include "core/arrange/repair_operand.h"

#include <algorithm>
#include <cstdio>
#include <tuple>

#include "core/arrange/close_holes.h"
#include "core/arrange/enclose.h"
#include "core/arrange/join_borders.h"
#include "core/arrange/orient.h"
#include "core/mesh/disjoint_sets.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

/// Borders no farther apart than this share of the size are taken for one.
constexpr double border_reach = 1e-5;
/// A part of the surface whose smallest fill has more than this share of its own area is a sheet: a half sphere (1/2)
/// is one, a tube with open ends twice as long as wide (1/4) is a solid with two holes.
constexpr double sheet_share = 0.45;

HalfEdges edges_of(const Operand& operand) {
    return find_half_edges(operand.mesh.faces.raw(), operand.mesh.points.size());
}
std::string count_of(std::size_t n, const char* one, const char* many) {
    return std::to_string(n) + " " + (n == 1 ? one : many);
}
std::string number(double v) {
    char text[32];
    std::snprintf(text, sizeof text, "%.3g", v);
    return text;
}
double face_area(const Mesh& mesh, const Triangle& t) {
    return triangle_area(mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]]);
}

/// Joins borders where that leaves fewer of them.
void join(Operand& operand, std::vector<UnbalancedEdge>& open) {
    Mesh before = operand.mesh;
    std::vector<FaceId> origin = operand.origin;
    const JoinedBorders joined = join_borders(operand.mesh, open, border_reach * bounds(operand.mesh).diagonal());
    if (joined.points == 0) return;
    keep_faces(operand, [&](std::size_t f) { return !repeats_corner(operand.mesh.faces[FaceId(f)]); });
    auto left = find_unbalanced(operand.mesh.faces.raw(), edges_of(operand));
    if (left.size() >= open.size()) {
        operand.mesh = std::move(before);
        operand.origin = std::move(origin);
        return;
    }
    open = std::move(left);
    operand.notes.push_back("Borders up to " + number(joined.largest_move) + " mm apart were joined.");
}

/// The parts of the surface that hang together across edges of any kind, and how much of each is missing.
struct Parts {
    std::vector<std::uint32_t> of_face;
    std::vector<double> area, missing;
    std::vector<std::vector<Triangle>> fill;           // per part
    std::vector<std::vector<std::vector<Vec3>>> rims;  // per part
};
Parts find_parts(const Operand& operand, std::span<const UnbalancedEdge> open) {
    const Mesh& mesh = operand.mesh;
    DisjointSets by_point(mesh.points.size());
    for (const Triangle& t : mesh.faces) {
        by_point.join(t[0].value(), t[1].value());
        by_point.join(t[1].value(), t[2].value());
    }
    std::vector<std::uint32_t> number;
    const std::uint32_t count = by_point.number(number);
    Parts parts;
    parts.area.resize(count, 0);
    parts.missing.resize(count, 0);
    parts.fill.resize(count);
    parts.rims.resize(count);
    for (const Triangle& t : mesh.faces) {
        parts.of_face.push_back(number[t[0].value()]);
        parts.area[parts.of_face.back()] += face_area(mesh, t);
    }
    for (const auto& loop : find_missing_loops(open)) {
        const std::uint32_t part = number[loop.front().value()];
        for (const Triangle& t : smallest_fill(mesh, loop)) {
            parts.missing[part] += face_area(mesh, t);
            parts.fill[part].push_back(t);
        }
        std::vector<Vec3>& rim = parts.rims[part].emplace_back();
        for (VertexId v : loop) rim.push_back(mesh.points[v]);
    }
    return parts;
}

/// Where the parts by themselves are sheets, they may enclose something together. Returns whether they do.
bool enclose_together(Operand& operand, const Parts& parts, Progress& progress) {
    std::vector<Triangle> fill;
    std::size_t borders = 0;
    for (std::size_t p = 0; p < parts.fill.size(); ++p) {
        fill.insert(fill.end(), parts.fill[p].begin(), parts.fill[p].end());
        borders += parts.rims[p].size();
    }
    if (borders < 2) return false;
    auto solid = enclose(operand.mesh, fill, progress);
    if (!solid || solid->walls > sheet_share * solid->own) return false;
    for (FaceId& f : solid->origin)
        if (f.valid()) f = operand.origin[f.value()];
    operand.mesh = std::move(solid->mesh);
    operand.origin = std::move(solid->origin);
    keep_faces(operand, [&](std::size_t f) { return !repeats_corner(operand.mesh.faces[FaceId(f)]); });
    for (const auto& rims : parts.rims)
        operand.closed_holes.insert(operand.closed_holes.end(), rims.begin(), rims.end());
    operand.notes.push_back("It was open, in " + count_of(parts.area.size(), "part", "parts") + " with " +
                            count_of(borders, "border", "borders") +
                            " that do not fit together: what they are wound around more than half was taken for its "
                            "inside, and walls of " +
                            number(solid->walls) + " mm2 closed it.");
    return true;
}

}  // namespace

void close_operand(Operand& operand, HalfEdges& edges, Progress& progress) {
    Mesh& mesh = operand.mesh;
    if (const std::size_t turned = orient_alike(mesh, edges); turned > 0) {
        operand.notes.push_back(count_of(turned, "face ran", "faces ran") + " against the neighbours and " +
                                (turned == 1 ? "was" : "were") + " turned.");
        edges = edges_of(operand);
    }
    std::vector<UnbalancedEdge> open = find_unbalanced(mesh.faces.raw(), edges);
    if (!open.empty()) {
        join(operand, open);
        edges = edges_of(operand);
    }
    if (!open.empty()) {
        Parts parts = find_parts(operand, open);
        auto is_sheet = [&](std::size_t p) { return parts.missing[p] > sheet_share * parts.area[p]; };
        operand.sheet = std::ranges::all_of(parts.of_face, is_sheet);
        if (operand.sheet) {
            operand.sheet = !enclose_together(operand, parts, progress);
            if (!operand.sheet) edges = edges_of(operand);
            return;
        }
        keep_faces(operand, [&](std::size_t f) { return !is_sheet(parts.of_face[f]); });
        std::size_t sheets = 0, added = 0;
        double area = 0;
        for (std::size_t p = 0; p < parts.area.size(); ++p) {
            if (is_sheet(p)) {
                ++sheets;
                continue;
            }
            operand.closed_holes.insert(operand.closed_holes.end(), parts.rims[p].begin(), parts.rims[p].end());
            area += parts.missing[p];
            added += parts.fill[p].size();
            for (const Triangle& t : parts.fill[p]) {
                mesh.faces.push_back(t);
                operand.origin.push_back(FaceId());
            }
        }
        const std::size_t holes = operand.closed_holes.size();
        if (sheets > 0)
            operand.notes.push_back(count_of(sheets, "loose sheet", "loose sheets") + " beside the solid " +
                                    (sheets == 1 ? "was" : "were") + " left out.");
        if (holes > 0)
            operand.notes.push_back("It was open: " + count_of(holes, "hole was", "holes were") + " closed with " +
                                    count_of(added, "face", "faces") + " of " + number(area) + " mm2 in all.");
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
