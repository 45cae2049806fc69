#pragma once

#include <string>

#include "core/mend/hand_tools.h"
#include "fuzz/byte_meshes.h"

namespace anvil::fuzz {

/// What the whole plan leaves: it is print-ready, or a sheet, or encloses nothing, and says so; a sheet with a
/// thickness is a solid.
inline std::string broken_plan_promise(const Mended& done, const MendOptions& options) {
    if (done.after.print_ready) return done.remains().empty() ? "" : "print-ready, and yet: " + done.remains();
    if (done.remains().empty()) return "not print-ready, without a reason";
    if (done.mesh.empty()) return "";
    if (done.refused() && done.after.closed && done.repairs.back().changed == 0) return "";  // it encloses nothing
    if (done.sheet) return options.sheets == SheetRule::thicken ? "a sheet in spite of its thickness" : "";
    return done.remains();
}

/// What rebuilding leaves of a mesh whose holes were left open: nothing else is wrong with it, unless it is refused.
inline std::string broken_rebuild_promise(const Mended& left, const MendOptions& options, Progress& progress) {
    const std::vector<HandEdit> edits = rebuild_faults(left);
    const auto done = mend_by_hand(left.mesh, edits, options, progress);
    if (!done) return "rebuilding failed: " + done.error().sentence();
    for (const HandDone& one : done->by_hand)
        if (one.refused) return one.said.empty() ? "refused without a reason" : "";
    return wants_rebuilding(*done) ? "after rebuilding: " + done->remains() : "";
}

/// Mends what the bytes say. Returns which promise is broken; empty for none.
inline std::string broken_mend_promise(std::span<const std::uint8_t> data) {
    Bytes bytes(data);
    MendOptions options;
    options.precision = bytes.below(2) ? Precision::single_precision : Precision::double_precision;
    constexpr SheetRule rules[] = {SheetRule::thicken, SheetRule::close, SheetRule::leave};
    options.sheets = rules[bytes.below(3)];
    options.thickness = 0.25;
    options.weld_distance = bytes.below(4) == 0 ? 1 : 0;
    const Mesh mesh = mesh_from(bytes);
    options.bridge_within = bytes.below(4) == 1 ? 1.5 : 0;
    options.fill = static_cast<FillStyle>(bytes.below(3));
    const bool leaves_holes = bytes.below(4) == 1;
    if (leaves_holes) options.longest_hole = 0;
    Progress progress;
    const auto done = mend(mesh, whole_plan(), options, progress);
    if (!done) return "mending failed: " + done.error().sentence();
    if (!leaves_holes) return broken_plan_promise(*done, options);
    return wants_rebuilding(*done) ? broken_rebuild_promise(*done, options, progress) : "";
}

}  // namespace anvil::fuzz
