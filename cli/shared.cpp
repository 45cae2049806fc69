#include "cli/shared.h"

#include <cstdio>

#include "core/io/mesh_file.h"

namespace anvil::cli {

Status fail(const Error& error) {
    std::fprintf(stderr, "clean-anvil-cli: %s\n", error.sentence().c_str());
    return error.is_cancel() ? Status::cancelled : error.is_input() ? Status::unreadable : Status::impossible;
}

Status fail_usage(const std::string& text) {
    std::fprintf(stderr, "clean-anvil-cli: %s\n", text.c_str());
    return Status::usage;
}

void print_messages(const std::vector<std::string>& messages) {
    for (const std::string& m : messages) std::fprintf(stderr, "clean-anvil-cli: note: %s\n", m.c_str());
}

bool check_output(const std::string& file, Status& status) {
    if (auto format = format_of(file); !format) {
        status = fail_usage(format.error().sentence());
        return false;
    }
    return true;
}

Result<Inspection> inspect_written(const Mesh& mesh, const std::string& file, Progress& progress) {
    const MeshFormat format = *format_of(file);
    const auto options = usual_options(mesh);
    if (!is_single_precision(format)) return inspect(mesh, progress, options);
    auto back = parse_mesh(format_mesh(mesh, format), format);
    if (!back) return back.error();
    return inspect(*back, progress, options);
}

Precision precision_of(const std::string& file) {
    const auto format = format_of(file);
    return format && is_single_precision(*format) ? Precision::single_precision : Precision::double_precision;
}

}  // namespace anvil::cli
