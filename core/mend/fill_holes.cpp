#include <algorithm>

#include "core/arrange/enclose.h"
#include "core/arrange/surface_parts.h"
#include "core/mend/borders.h"
#include "core/mend/edit_faces.h"
#include "core/mend/repairs.h"

namespace anvil {
namespace {

double rim_length(const Mesh& mesh, std::span<const VertexId> rim) {
    double sum = 0;
    for (std::size_t i = 0; i < rim.size(); ++i)
        sum += norm(mesh.points[rim[(i + 1) % rim.size()]] - mesh.points[rim[i]]);
    return sum;
}

/// What parts that are sheets by themselves enclose together.
bool enclose_parts(Mesh& mesh, const SurfaceParts& parts, Repaired& out, Progress& progress) {
    std::vector<Triangle> fill;
    for (const auto& holes : parts.holes)
        for (const SurfaceParts::Hole& hole : holes) {
            fill.insert(fill.end(), hole.fill.begin(), hole.fill.end());
            ++out.changed;
            if (out.places.size() < most_places) out.places.push_back(mesh.points[hole.rim.front()]);
        }
    auto solid = out.changed < 2 ? std::nullopt : enclose(mesh, fill, progress);
    if (!solid || is_mostly_missing(solid->walls, solid->own)) return false;
    if (!mesh.material.empty())
        for (const FaceId origin : solid->origin)
            solid->mesh.material.push_back(origin.valid() ? mesh.material[origin] : no_material);
    solid->mesh.materials = mesh.materials;
    mesh = std::move(solid->mesh);
    drop_repeating(mesh);
    out.said = count_text(parts.count(), "part", "parts") +
               " whose borders do not fit together were closed by walls of " + short_text(solid->walls) +
               " mm2: what they are wound around more than half is inside.";
    return true;
}

struct Sheets {
    std::size_t count = 0;
    double area = 0, solid_area = 0;  // mm2, of all sheets, and of all else
};
Sheets sheets_of(const SurfaceParts& parts) {
    Sheets out;
    for (std::size_t p = 0; p < parts.count(); ++p) {
        if (!(parts.area[p] > 0)) continue;
        out.count += parts.is_sheet(p);
        (parts.is_sheet(p) ? out.area : out.solid_area) += parts.area[p];
    }
    return out;
}

}  // namespace

Result<Repaired> fill_holes(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::holes};
    const auto open = unbalanced_edges(mesh);
    if (open.empty()) return out;
    const SurfaceParts parts = find_surface_parts(mesh, open);
    if (progress.cancelled()) return cancelled_error();
    const Sheets sheets = sheets_of(parts);
    if (sheets.area > sheets.solid_area) {
        // Sheets are what it is about: they enclose something together, or stay.
        const bool all_holes = options.longest_hole == std::numeric_limits<double>::infinity();
        if (all_holes && enclose_parts(mesh, parts, out, progress)) return out;
        if (progress.cancelled()) return cancelled_error();
        out.changed = 0;
        out.places.clear();
        out.sheet = true;
        out.said = sheets.solid_area > 0
                       ? count_text(sheets.count, "sheet", "sheets") +
                             " that enclose nothing have more area than the solids beside them: all stay open."
                       : "It is a sheet, which encloses nothing: it stays open until it is given a thickness.";
        return out;
    }
    Mesh own = mesh;
    keep_faces_of(own, [&](FaceId f) { return !parts.is_sheet(parts.of_face[f.value()]); });
    std::size_t filled = 0, left = 0, faces = 0;
    double area = 0;
    for (std::size_t p = 0; p < parts.count(); ++p) {
        if (parts.is_sheet(p)) continue;
        for (const SurfaceParts::Hole& hole : parts.holes[p]) {
            if (rim_length(mesh, hole.rim) > options.longest_hole) {
                ++left;
                continue;
            }
            ++filled;
            faces += hole.fill.size();
            for (const Triangle& t : hole.fill) {
                add_face(own, t);
                area += triangle_area(mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]]);
            }
            if (out.places.size() < most_places) out.places.push_back(mesh.points[hole.rim.front()]);
        }
    }
    out.changed = filled + sheets.count;
    if (filled > 0)
        out.said = count_text(filled, "hole was", "holes were") + " filled with " + count_text(faces, "face", "faces") +
                   " of " + short_text(area) + " mm2.";
    auto add = [&](const std::string& sentence) { out.said += (out.said.empty() ? "" : " ") + sentence; };
    if (left > 0)
        add(count_text(left, "hole", "holes") + " longer than " + short_text(options.longest_hole) + " mm " +
            (left == 1 ? "was" : "were") + " left open.");
    if (sheets.count > 0)
        add(count_text(sheets.count, "loose sheet", "loose sheets") + " beside the solid " +
            (sheets.count == 1 ? "was" : "were") + " dropped.");
    if (out.changed > 0) mesh = welded(own);
    return out;
}

}  // namespace anvil
