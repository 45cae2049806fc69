#include <algorithm>

#include "core/base/number_text.h"
#include "core/inspect/finding_lines.h"
#include "core/mend/hand_edits.h"
#include "core/mend/hand_tools.h"
#include "core/recast/recast_region.h"

namespace anvil {
namespace {

/// Boxes that meet become one, until none do.
std::vector<Box> merged(std::vector<Box> boxes) {
    for (bool again = true; again;) {
        again = false;
        for (std::size_t i = 0; i < boxes.size(); ++i)
            for (std::size_t j = i + 1; j < boxes.size();) {
                if (!boxes[i].meets(boxes[j])) {
                    ++j;
                    continue;
                }
                boxes[i].add(boxes[j]);
                boxes[j] = boxes.back();
                boxes.pop_back();
                again = true;  // it has grown, and may meet those before it
            }
    }
    return boxes;
}

/// Holes and stray sheets need no rebuilding: filling takes care of both.
bool is_to_rebuild(FindingKind kind) {
    return is_fault(kind) && kind != FindingKind::open_edges && kind != FindingKind::holes &&
           kind != FindingKind::stray_sheets;
}

Box grown(Box box, double by) {
    box.low = box.low - Vec3{by, by, by};
    box.high = box.high + Vec3{by, by, by};
    return box;
}

}  // namespace

Result<HandDone> hand::rebuild_region(Mesh& mesh, const HandEdit& edit, const MendOptions& options,
                                      Progress& progress) {
    HandDone done{.tool = edit.tool, .refused = true};
    Box region;
    for (const Vec3& p : edit.points) region.add(p);
    if (mesh.empty() || region.empty() || !region.meets(bounds(mesh))) {
        done.said = "Nothing is there to be rebuilt.";
        return done;
    }
    auto made = recast_region(mesh, {region, edit.cell, options.precision, options.contact}, progress);
    if (!made && (made.error().is_cancel() || made.error().code == ErrorCode::out_of_memory)) return made.error();
    if (!made) {
        done.said = "The region was left as it is: " + made.error().text + ".";
        return done;
    }
    const Vec3 size = made->region.size();
    done.refused = false;
    done.changed = made->rebuilt;
    done.largest_move = made->deviation;
    done.said = "A region of " + short_text(size.x) + " x " + short_text(size.y) + " x " + short_text(size.z) +
                " mm was put anew in cells of " + short_text(made->cell) +
                " mm: " + count_text(made->rebuilt, "face", "faces") + ", no farther than " +
                short_text(made->deviation) + " mm from the old surface.";
    mesh = std::move(made->mesh);
    return done;
}

bool wants_rebuilding(const Mended& mended) {
    if (mended.sheet || mended.mesh.empty()) return false;
    for (int k = 0; k < finding_kinds; ++k)
        if (const auto kind = static_cast<FindingKind>(k); mended.after.count(kind) > 0 && is_to_rebuild(kind))
            return true;
    return false;
}

std::vector<HandEdit> rebuild_faults(const Mended& mended) {
    const Inspection& inspection = mended.after;
    constexpr std::size_t most = 12;  // each is an arrangement of its own
    std::vector<Box> places;
    for (const Finding& f : inspection.findings)
        if (is_to_rebuild(f.kind)) places.emplace_back().add(f.place);
    for (int k = 0; k < finding_kinds; ++k)
        if (const auto kind = static_cast<FindingKind>(k); is_to_rebuild(kind))
            for (const auto& line : lines_of(inspection, kind)) {
                Box& box = places.emplace_back();
                for (const Vec3& p : line) box.add(p);
            }
    std::vector<Box> regions;
    for (double reach = inspection.measures.bounds.diagonal() / 100; !places.empty(); reach *= 2) {
        regions.clear();
        for (const Box& box : places) regions.push_back(grown(box, reach));
        regions = merged(std::move(regions));
        if (regions.size() <= most) break;
    }
    std::vector<HandEdit> out;
    for (const Box& region : regions)
        out.push_back({.tool = HandTool::rebuild_region, .points = {region.low, region.high}});
    return out;
}

}  // namespace anvil
