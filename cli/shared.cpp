#include "cli/shared.h"

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <numeric>

#include "core/base/plain_text.h"
#include "core/io/mesh_file.h"
#include "core/job/settings.h"
#include "core/mesh/transform.h"

namespace anvil::cli {

Status fail(const Error& error) {
    std::fprintf(stderr, "clean-anvil-cli: %s\n", on_one_line(error.sentence()).c_str());
    return error.is_cancel() ? Status::cancelled : error.is_input() ? Status::unreadable : Status::impossible;
}

Status fail_usage(const std::string& text) {
    std::fprintf(stderr, "clean-anvil-cli: %s\n", on_one_line(text).c_str());
    return Status::usage;
}

void print_messages(const std::vector<std::string>& messages) {
    for (const std::string& m : messages) std::fprintf(stderr, "clean-anvil-cli: note: %s\n", on_one_line(m).c_str());
}

Result<void> Outputs::mesh(const Mesh& mesh, const std::string& file) {
    const auto format = format_of(file);
    if (!format) return format.error();
    if (auto fit = fits(mesh, *format); !fit) return Error{fit.error().code, fit.error().text, file};
    return files_.add(format_mesh(mesh, *format), file);
}

Result<void> Outputs::meshes(std::span<const NamedMesh> meshes, const std::string& file) {
    const auto format = format_of(file);
    if (!format) return format.error();
    for (const NamedMesh& one : meshes)
        if (auto fit = fits(one.mesh, *format); !fit) return Error{fit.error().code, fit.error().text, file};
    return files_.add(format_meshes(meshes, *format), file);
}

Result<void> Outputs::report(const std::string& text, const std::string& file) {
    if (file.empty()) return {};
    if (file == "-")
        printed_ += text;
    else
        return files_.add(text, file);
    return {};
}

Result<void> Outputs::write() {
    const bool printed = std::fwrite(printed_.data(), 1, printed_.size(), stdout) == printed_.size();
    if (std::fflush(stdout) != 0 || !printed)
        return Error{ErrorCode::cannot_write, std::string("it cannot be written: ") + std::strerror(errno),
                     "standard output"};
    return files_.commit();
}

bool check_names(std::span<const std::string> inputs, std::span<const std::string> outputs, Status& status) {
    auto is_file = [](const std::string& name) { return !name.empty() && name != "-"; };
    for (std::size_t i = 0; i < outputs.size(); ++i) {
        if (!is_file(outputs[i])) continue;
        for (std::size_t j = i + 1; j < outputs.size(); ++j)
            if (is_file(outputs[j]) && same_file(outputs[i], outputs[j])) {
                status = fail_usage(outputs[i] + " is named for two outputs; give each a file of its own");
                return false;
            }
        // The first output is the mesh, which may take the place of what it was made of.
        for (const std::string& input : inputs)
            if (i > 0 && same_file(outputs[i], input)) {
                status = fail_usage(outputs[i] + " is an input, and the report would replace it");
                return false;
            }
    }
    return true;
}

std::string nearest_word(std::string_view word, std::span<const std::string_view> words) {
    std::string best;
    std::size_t least = std::max<std::size_t>(2, word.size() / 3) + 1;
    for (const std::string_view known : words) {
        // Levenshtein's distance, row by row.
        std::vector<std::size_t> row(known.size() + 1);
        std::iota(row.begin(), row.end(), std::size_t{0});
        for (std::size_t i = 1; i <= word.size(); ++i) {
            std::size_t across = row[0]++;
            for (std::size_t j = 1; j <= known.size(); ++j) {
                const std::size_t change = across + (word[i - 1] != known[j - 1]);
                across = row[j];
                row[j] = std::min({row[j] + 1, row[j - 1] + 1, change});
            }
        }
        if (row.back() < least) least = row.back(), best = known;
    }
    return best;
}

std::string did_you_mean(std::string_view word, std::span<const std::string_view> words, const std::string& lists) {
    const std::string near = nearest_word(word, words);
    const std::string meant = near.empty() ? "" : "; did you mean \"" + near + "\"?";
    if (lists.empty()) return meant;
    return meant + (near.empty() ? "; " : " ") + lists + " lists them";
}

Result<Mesh> read_input(const std::string& file, const std::string& unit) {
    auto mesh = read_mesh(file);
    if (!mesh) return mesh;
    if (names_unit(*format_of(file))) return mesh;
    return transformed(std::move(*mesh), scaling(millimetres(*import_unit_from(unit))));
}

Result<std::vector<NamedMesh>> read_bodies(const std::string& file, const std::string& unit) {
    if (is_of_several(file)) {
        auto bodies = read_meshes(file);
        if (bodies || bodies.error().code != ErrorCode::bad_count) return bodies;
    }
    // One, or none.
    auto mesh = read_input(file, unit);
    if (!mesh) return mesh.error();
    return std::vector<NamedMesh>{{std::filesystem::path(file).stem().string(), std::move(*mesh)}};
}

Mesh as_one(std::vector<NamedMesh> bodies) {
    Mesh out = std::move(bodies.front().mesh);
    for (std::size_t k = 1; k < bodies.size(); ++k) append(out, bodies[k].mesh);
    return out;
}

bool is_of_several(const std::string& output) {
    const auto format = format_of(output);
    return format && holds_several(*format);
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
    if (auto fit = fits(mesh, format); !fit) return Error{fit.error().code, fit.error().text, file};
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
