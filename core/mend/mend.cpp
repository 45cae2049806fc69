#include "core/mend/mend.h"

#include <algorithm>
#include <array>
#include <chrono>

#include "core/base/memory.h"
#include "core/combine/rounding.h"
#include "core/mend/borders.h"
#include "core/mend/written.h"

namespace anvil {
namespace {

struct Entry {
    Repair repair;
    std::string_view word, sentence;
    Result<Repaired> (*run)(Mesh&, const MendOptions&, Progress&);
};
constexpr Entry entries[repair_kinds] = {
    {Repair::weld, "weld", "makes points one that are no farther apart than a set distance", weld_near},
    {Repair::degenerate, "degenerate", "drops edges of zero length and faces without area, without opening the surface",
     drop_degenerate},
    {Repair::duplicates, "duplicates", "of faces with the same corners keeps one; faces back to back go",
     drop_duplicates},
    {Repair::fins, "fins", "cuts off faces that hang on the surface by one side only", cut_fins},
    {Repair::t_junctions, "t-junctions", "splits borders where points of others lie on them", split_t_junctions},
    {Repair::borders, "borders", "joins borders that lie on each other", join_matching_borders},
    {Repair::orient, "orient", "turns neighbours to run alike, and shells to look outward", orient_faces},
    {Repair::bridges, "bridges", "joins borders that run near each other by a strip of faces", bridge_near_borders},
    {Repair::holes, "holes", "fills holes; loose sheets beside a solid go", fill_holes},
    {Repair::shells, "shells", "drops closed shells smaller than a set volume", drop_small_shells},
    {Repair::thicken, "thicken", "makes a solid of a set thickness out of a sheet", thicken_sheet},
    {Repair::crossings, "crossings", "resolves crossing faces, faces inside, and bodies that touch", resolve_crossings},
};
constexpr auto plan_of_all = [] {
    std::array<Repair, repair_kinds> all{};
    for (std::size_t i = 0; i < all.size(); ++i) all[i] = entries[i].repair;
    return all;
}();

const Entry& entry(Repair repair) { return *std::ranges::find(entries, repair, &Entry::repair); }

Result<Mended> run_plan(const Mesh& given, std::span<const Repair> plan, const MendOptions& options,
                        Progress& progress) {
    const auto start = std::chrono::steady_clock::now();
    Mended out;
    progress.stage("inspecting", 0, 0.1);
    const Mesh given_written = as_written(given, options.precision);
    auto before = inspect(given_written, progress, usual_options(given_written));
    if (!before) return before.error();
    out.before = std::move(*before);
    out.mesh = given;
    out.too_far_off = too_far_off(given.points.raw(), options.precision);
    const bool asked = options.weld_distance > 0 || options.smallest_shell > 0;
    if (!out.before.print_ready || asked) {
        out.mesh = welded(given);
        double done = 0;
        for (const Entry& e : entries) {
            if (std::ranges::find(plan, e.repair) == plan.end()) continue;
            // Where a sheet stays, its faces are not resolved among themselves: nothing says what is inside.
            if (e.repair == Repair::crossings && std::ranges::any_of(out.repairs, &Repaired::sheet) &&
                !unbalanced_edges(out.mesh).empty())
                continue;
            const double from = 0.1 + 0.8 * done / static_cast<double>(plan.size());
            progress.stage("mending", from, from + 0.8 / static_cast<double>(plan.size()));
            auto repaired = e.run(out.mesh, options, progress);
            if (!repaired) return repaired.error();
            out.largest_move += repaired->largest_move;
            out.repairs.push_back(std::move(*repaired));
            ++done;
        }
    }
    progress.stage("inspecting", 0.9, 1);
    const Mesh mended_written = as_written(out.mesh, options.precision);
    auto after = inspect(mended_written, progress, usual_options(mended_written));
    if (!after) return after.error();
    out.after = std::move(*after);
    out.sheet = !out.after.closed && std::ranges::any_of(out.repairs, &Repaired::sheet);
    out.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return out;
}

}  // namespace

std::string_view word(FillStyle style) {
    constexpr std::string_view words[] = {"smallest", "flat", "smooth"};
    return words[static_cast<int>(style)];
}
std::optional<FillStyle> fill_style_from(std::string_view w) {
    for (const FillStyle style : {FillStyle::smallest, FillStyle::flat, FillStyle::smooth})
        if (word(style) == w) return style;
    return std::nullopt;
}
std::string_view word(Repair repair) { return entry(repair).word; }
std::string_view sentence(Repair repair) { return entry(repair).sentence; }
std::optional<Repair> repair_from(std::string_view w) {
    for (const Entry& e : entries)
        if (e.word == w) return e.repair;
    return std::nullopt;
}
std::span<const Repair> whole_plan() { return plan_of_all; }

std::vector<Repair> repairs_for(FindingKind kind) {
    using K = FindingKind;
    using R = Repair;
    switch (kind) {
        case K::open_edges:
        case K::holes: return {R::t_junctions, R::borders, R::holes};
        case K::nonmanifold_edges: return {R::duplicates, R::fins, R::crossings};
        case K::nonmanifold_vertices: return {R::crossings};
        case K::misoriented_edges:
        case K::inverted_shells: return {R::orient};
        case K::zero_length_edges:
        case K::degenerate_faces: return {R::degenerate};
        case K::duplicate_faces: return {R::duplicates};
        case K::self_intersections:
        case K::interior_faces: return {R::crossings};
        case K::t_junctions: return {R::t_junctions, R::borders};
        case K::doubled_faces: return {R::duplicates};
        case K::fins: return {R::fins};
        case K::cracks: return {R::t_junctions, R::borders};
        case K::stray_sheets: return {R::holes};
        case K::touching_bodies: return {R::crossings};
        case K::tiny_shells: return {R::shells};
        case K::short_edges: return {R::weld};
        case K::loose_points: return {R::weld};
        case K::thin_skins:
        case K::narrow_gaps:
        case K::needle_faces: return {};
    }
    return {};
}

std::vector<Vec3> places_of(const Finding& finding, const Mesh& numbered) {
    std::vector<Vec3> places;
    for (const VertexId v : finding.vertices) places.push_back(numbered.points[v]);
    // The face beside an open edge has edges that may be another hole's.
    if (finding.kind != FindingKind::open_edges && finding.kind != FindingKind::holes)
        for (const FaceId f : finding.faces)
            for (int k = 0; k < 3; ++k) places.push_back(numbered.corner(f, k));
    return places;
}

std::string Mended::remains() const {
    if (after.print_ready) return "";
    if (!too_far_off.empty()) return too_far_off;
    if (mesh.empty()) return "Nothing is left: no face enclosed anything.";
    if (sheet && is_flat() && after.sheets > 1)
        return "Each of its parts is flat, and encloses nothing; give them a thickness to print them.";
    if (sheet && is_flat()) return "It is flat, and encloses nothing; give it a thickness to print it.";
    if (sheet)
        return after.form == Form::mixed
                   ? "Sheets that enclose nothing are left; close them or give them a thickness to print it."
                   : "It is a sheet, and encloses nothing; close it or give it a thickness to print it.";
    std::string why, list;
    for (const Repaired& r : repairs)
        if (r.refused) why += r.said + " ";
    for (int k = 0; k < finding_kinds; ++k) {
        const auto kind = static_cast<FindingKind>(k);
        if (after.count(kind) == 0 || !is_fault(kind)) continue;
        list += (list.empty() ? "" : ", ") + std::to_string(after.count(kind)) + " " +
                std::string(plain_name(kind, after.count(kind)));
    }
    return why + "It still has " + list + ".";
}
bool Mended::is_flat() const { return std::ranges::any_of(repairs, &Repaired::flat); }
bool Mended::refused() const { return std::ranges::any_of(repairs, &Repaired::refused); }

Result<Mended> mend(const Mesh& mesh, std::span<const Repair> plan, const MendOptions& options, Progress& progress) {
    return with_memory_checked([&] { return run_plan(mesh, plan, options, progress); });
}

}  // namespace anvil
