#include <algorithm>
#include <functional>

#include "core/arrange/enclose.h"
#include "core/arrange/surface_parts.h"
#include "core/inspect/inspect.h"
#include "core/mend/borders.h"
#include "core/mend/chosen.h"
#include "core/mend/edit_faces.h"
#include "core/mend/flat_fill.h"
#include "core/mend/smooth_fill.h"

namespace anvil {
namespace {

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
               " mm²: what they are wound around more than half is inside.";
    return true;
}

struct Sheets {
    std::size_t count = 0;
    double area = 0, solid_area = 0;  // mm2, of all sheets, and of all else
};
Sheets sheets_of(const SurfaceParts& parts, SheetRule rule) {
    Sheets out;
    for (std::size_t p = 0; p < parts.count(); ++p) {
        if (!(parts.area[p] > 0)) continue;
        out.count += parts.is_sheet(p, rule);
        (parts.is_sheet(p, rule) ? out.area : out.solid_area) += parts.area[p];
    }
    return out;
}

std::string said_of_sheets(const Sheets& sheets) {
    if (sheets.solid_area > 0)
        return count_text(sheets.count, "sheet", "sheets") +
               (sheets.count == 1 ? " that encloses nothing has" : " that enclose nothing have") +
               " more area than the solids beside " + (sheets.count == 1 ? "it" : "them") + ": all stays open.";
    return sheets.count == 1 ? "It is a sheet, which encloses nothing: it stays open."
                             : "They are sheets, which enclose nothing: they stay open.";
}

/// What is to be filled, each hole with the islands that its fill goes round.
struct HolePlan {
    struct Fill {
        std::size_t part;
        const SurfaceParts::Hole* hole;
        std::vector<const SurfaceParts::Hole*> islands;
    };
    std::vector<Fill> fills;
    std::vector<char> holds_island;  // per part
};

HolePlan plan_holes(const Mesh& mesh, const SurfaceParts& parts, const Chosen& chosen, const MendOptions& options) {
    HolePlan plan;
    plan.holds_island.resize(parts.count(), 0);
    for (std::size_t p = 0; p < parts.count(); ++p)
        for (const SurfaceParts::Hole& hole : parts.holes[p])
            if (chosen.has_edge_of(mesh, hole.rim)) plan.fills.push_back({p, &hole, {}});
    if (options.fill != FillStyle::flat) return plan;
    // The widest first: what lies within it is its island.
    std::ranges::stable_sort(plan.fills, std::greater(),
                             [&](const auto& f) { return measure_rim(mesh, f.hole->rim).length; });
    std::vector<std::vector<VertexId>> rims;
    std::vector<std::pair<std::size_t, const SurfaceParts::Hole*>> all;
    for (std::size_t p = 0; p < parts.count(); ++p)
        for (const SurfaceParts::Hole& hole : parts.holes[p]) {
            rims.push_back(hole.rim);
            all.emplace_back(p, &hole);
        }
    std::vector<const SurfaceParts::Hole*> islands;
    for (HolePlan::Fill& fill : plan.fills) {
        if (std::ranges::find(islands, fill.hole) != islands.end()) continue;
        for (const std::size_t i : find_islands(mesh, fill.hole->rim, rims)) {
            fill.islands.push_back(all[i].second);
            islands.push_back(all[i].second);
            plan.holds_island[all[i].first] = 1;
        }
    }
    std::erase_if(plan.fills, [&](const auto& f) { return std::ranges::find(islands, f.hole) != islands.end(); });
    return plan;
}

struct Filled {
    std::size_t holes = 0, faces = 0, islands = 0, otherwise = 0;  // the last: not in the style that was asked for
    double area = 0;
};

void fill_one(Mesh& mesh, const HolePlan::Fill& fill, FillStyle style, Filled& filled) {
    std::optional<std::vector<Triangle>> faces;
    if (style == FillStyle::flat) {
        std::vector<std::vector<VertexId>> rims{fill.hole->rim};
        for (const auto* island : fill.islands) rims.push_back(island->rim);
        faces = flat_fill(mesh, rims);
    } else if (style == FillStyle::smooth) {
        faces = smooth_fill(mesh, fill.hole->rim);
    }
    ++filled.holes;
    if (faces) {
        filled.islands += fill.islands.size();
    } else {
        filled.otherwise += style != FillStyle::smallest;
        faces = fill.hole->fill;
        for (const auto* island : fill.islands) faces->insert(faces->end(), island->fill.begin(), island->fill.end());
    }
    filled.faces += faces->size();
    for (const Triangle& t : *faces) {
        add_face(mesh, t);
        filled.area += triangle_area(mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]]);
    }
}

std::string said_of(const Filled& filled, FillStyle style) {
    std::string said = count_text(filled.holes, "hole was", "holes were") + " filled " +
                       (style == FillStyle::flat     ? "flat "
                        : style == FillStyle::smooth ? "smoothly "
                                                     : "") +
                       "with " + count_text(filled.faces, "face", "faces") + " of " + short_text(filled.area) + " mm²" +
                       (filled.islands > 0 ? ", round " + count_text(filled.islands, "island", "islands") : "") + ".";
    if (filled.otherwise > 0)
        said += " " + std::to_string(filled.otherwise) + " of them only by the smallest surface: " +
                (style == FillStyle::flat ? "their rims cross themselves as seen flat."
                                          : "the surface round them is not manifold.");
    return said;
}

}  // namespace

Result<Repaired> fill_holes(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::holes};
    const auto missing = unbalanced_edges(mesh);
    if (missing.empty()) return out;
    const SurfaceParts parts = find_surface_parts(mesh, missing);
    if (progress.cancelled()) return cancelled_error();
    const Chosen chosen(options);
    std::vector<char> wanted = chosen.parts(
        mesh, [&](FaceId f) { return parts.of_face[f.value()]; }, parts.count());
    for (std::size_t p = 0; p < parts.count(); ++p)
        for (const SurfaceParts::Hole& hole : parts.holes[p]) wanted[p] |= chosen.has_edge_of(mesh, hole.rim);
    const Sheets sheets = sheets_of(parts, SheetRule::leave);
    const bool close = options.sheets == SheetRule::close;
    const Sheets flat = sheets_of(parts, SheetRule::close);
    const Sheets& open = close ? flat : sheets;  // that stay so
    if (chosen.everything() && sheets.area > sheets.solid_area) {
        // Sheets are what it is about: they enclose something together, or stay.
        const bool all_holes = options.longest_hole == std::numeric_limits<double>::infinity();
        if (all_holes && enclose_parts(mesh, parts, out, progress)) return out;
        if (progress.cancelled()) return cancelled_error();
        out.changed = 0;
        out.places.clear();
        out.flat = flat.area > flat.solid_area;
        out.sheet = !close || out.flat;
        if (out.sheet)
            out.said = out.flat && close ? (flat.count == 1 ? "It is flat: closing it would enclose nothing."
                                                            : "Its parts are flat: closing them would enclose nothing.")
                                         : said_of_sheets(sheets);
        if (out.sheet) return out;
    }
    Mesh own = mesh;
    const HolePlan plan = plan_holes(mesh, parts, chosen, options);
    // A sheet is dropped beside a larger solid only: else the fill that was asked for is made.
    auto dropped = [&](std::size_t p) {
        return parts.is_sheet(p, options.sheets) && wanted[p] && parts.area[p] <= open.solid_area &&
               !plan.holds_island[p];
    };
    keep_faces_of(own, [&](FaceId f) { return !dropped(parts.of_face[f.value()]); });
    std::size_t left = 0, loose = 0;
    Filled filled;
    for (std::size_t p = 0; p < parts.count(); ++p) loose += dropped(p) && parts.area[p] > 0;
    for (const HolePlan::Fill& fill : plan.fills) {
        if (dropped(fill.part)) continue;
        if (!close && measure_rim(mesh, fill.hole->rim).length > options.longest_hole) {
            ++left;
            continue;
        }
        fill_one(own, fill, options.fill, filled);
        if (out.places.size() < most_places) out.places.push_back(mesh.points[fill.hole->rim.front()]);
        if (progress.cancelled()) return cancelled_error();
    }
    out.changed = filled.holes + loose;
    auto add = [&](const std::string& sentence) { out.said += (out.said.empty() ? "" : " ") + sentence; };
    if (filled.holes > 0) add(said_of(filled, options.fill));
    if (left > 0)
        add(count_text(left, "hole", "holes") + " longer than " + short_text(options.longest_hole) + " mm " +
            (left == 1 ? "was" : "were") + " left open.");
    if (loose > 0)
        add(count_text(loose, "loose sheet", "loose sheets") + " beside the solid " + (loose == 1 ? "was" : "were") +
            " dropped.");
    if (out.changed > 0) mesh = welded(own);
    return out;
}

}  // namespace anvil
