#pragma once

#include <string>

#include "core/mend/mend.h"
#include "fuzz/byte_meshes.h"

namespace anvil::fuzz {

/// Mends what the bytes say. Returns which promise is broken; empty for none: the result is print-ready, or a sheet, or
/// encloses nothing, and says so; a sheet with a thickness is a solid.
inline std::string broken_mend_promise(std::span<const std::uint8_t> data) {
    Bytes bytes(data);
    MendOptions options;
    options.precision = bytes.below(2) ? Precision::single_precision : Precision::double_precision;
    options.thickness = bytes.below(3) == 0 ? 0.25 : 0;
    options.weld_distance = bytes.below(4) == 0 ? 1 : 0;
    const Mesh mesh = mesh_from(bytes);
    Progress progress;
    const auto done = mend(mesh, whole_plan(), options, progress);
    if (!done) return "mending failed: " + done.error().sentence();
    if (done->after.print_ready) return done->remains().empty() ? "" : "print-ready, and yet: " + done->remains();
    if (done->remains().empty()) return "not print-ready, without a reason";
    if (done->mesh.empty()) return "";
    if (done->refused() && done->after.closed && done->repairs.back().changed == 0) return "";  // it encloses nothing
    if (done->sheet) return options.thickness > 0 ? "a sheet in spite of its thickness" : "";
    return done->remains();
}

}  // namespace anvil::fuzz
