#include "core/io/mesh_file.h"

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <limits>

#include "core/base/memory.h"
#include "core/io/file_batch.h"
#include "core/io/formats.h"

namespace anvil {
namespace fs = std::filesystem;

Result<MeshFormat> format_of(const fs::path& file) {
    std::string ending = file.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    if (ending == ".stl") return MeshFormat::stl;
    if (ending == ".obj") return MeshFormat::obj;
    if (ending == ".ply") return MeshFormat::ply;
    if (ending == ".off") return MeshFormat::off;
    return Error{ErrorCode::unknown_format, "the ending must be .stl, .obj, .ply or .off", file.string()};
}

Result<void> fits(const Mesh& mesh, MeshFormat format) {
    double reach = 0;
    for (const Vec3& p : mesh.points) reach = std::max(reach, largest_component(p));
    if (!is_single_precision(format) || reach <= double{std::numeric_limits<float>::max()}) return {};
    char text[160];
    std::snprintf(text, sizeof text,
                  "its coordinates reach %.3g mm, and the numbers of this format end at 3.4e38; scale it down, or take "
                  ".ply, .obj or .off",
                  reach);
    return Error{ErrorCode::out_of_range, text, ""};
}

Result<std::string> read_file(const fs::path& file) {
    std::error_code failure;
    const fs::file_status status = fs::status(file, failure);
    if (!fs::exists(status)) return Error{ErrorCode::cannot_open, "there is no such file", file.string()};
    if (fs::is_directory(status)) return Error{ErrorCode::not_a_file, "this is a folder, not a file", file.string()};
    if (!fs::is_regular_file(status)) return Error{ErrorCode::not_a_file, "this is not a regular file", file.string()};
    std::FILE* in = std::fopen(file.c_str(), "rb");
    if (!in)
        return Error{ErrorCode::cannot_open, std::string("it cannot be opened: ") + std::strerror(errno),
                     file.string()};
    std::string bytes;
    const auto size = fs::file_size(file, failure);
    if (!failure) bytes.reserve(size);
    char buffer[1 << 16];
    std::size_t n;
    while ((n = std::fread(buffer, 1, sizeof buffer, in)) > 0) bytes.append(buffer, n);
    const bool failed = std::ferror(in) != 0;
    std::fclose(in);
    if (failed) return Error{ErrorCode::cannot_open, "reading it failed half-way", file.string()};
    return bytes;
}

Result<void> write_file(std::string_view bytes, const fs::path& file) {
    FileBatch batch;
    if (auto added = batch.add(bytes, file); !added) return added;
    return batch.commit();
}

Result<Mesh> parse_mesh(std::string_view bytes, MeshFormat format) {
    using namespace io_detail;
    if (bytes.empty()) return Error{ErrorCode::truncated, "the file is empty", "byte 0"};
    switch (format) {
        case MeshFormat::stl: return parse_stl(bytes);
        case MeshFormat::obj: return parse_obj(bytes);
        case MeshFormat::ply: return parse_ply(bytes);
        case MeshFormat::off: return parse_off(bytes);
    }
    return Error{ErrorCode::unknown_format, "unknown format", ""};
}

std::string format_mesh(const Mesh& mesh, MeshFormat format) {
    using namespace io_detail;
    switch (format) {
        case MeshFormat::stl: return format_stl(mesh);
        case MeshFormat::obj: return format_obj(mesh);
        case MeshFormat::ply: return format_ply(mesh);
        case MeshFormat::off: return format_off(mesh);
    }
    return {};
}

namespace {

/// The ending that goes with what is in a file; empty where that cannot be told.
std::string_view format_by_content(std::string_view bytes) {
    const std::string_view head = bytes.substr(0, 1024);
    if (head.starts_with("PK\3\4")) return ".zip";
    if (head.starts_with("ply\n") || head.starts_with("ply\r")) return ".ply";
    for (const std::string_view word : {"OFF", "COFF", "NOFF", "CNOFF", "STOFF"})
        if (head.starts_with(word)) return ".off";
    if (head.starts_with("solid") && head.find("facet") != std::string_view::npos) return ".stl";
    std::uint32_t faces = 0;
    if (bytes.size() >= 84) std::memcpy(&faces, bytes.data() + 80, 4);
    if (bytes.size() >= 84 && bytes.size() == 84 + 50 * std::size_t{faces}) return ".stl";
    if (head.starts_with("v ") || head.find("\nv ") != std::string_view::npos) return ".obj";
    return {};
}

}  // namespace

Result<Mesh> read_mesh(const fs::path& file) {
    auto format = format_of(file);
    if (!format) return format.error();
    auto mesh = with_memory_checked([&]() -> Result<Mesh> {
        auto bytes = read_file(file);
        if (!bytes) return bytes.error();
        auto parsed = parse_mesh(*bytes, *format);
        const std::string_view ending = parsed ? std::string_view() : format_by_content(*bytes);
        if (ending == ".zip") return Error{ErrorCode::unknown_format, "it is a zip archive, not a mesh", file.string()};
        if (const auto other = ending.empty() ? format : format_of("a" + std::string(ending)); *other != *format)
            return Error{ErrorCode::unknown_format,
                         "its content is that of a " + std::string(ending) + " file; give it that ending",
                         file.string()};
        return parsed;
    });
    if (mesh) return mesh;
    if (mesh.error().place.starts_with(file.string())) return mesh;  // read_file names it
    Error error = mesh.error();
    error.place = file.string() + (error.place.empty() ? "" : ", " + error.place);
    return error;
}

Result<void> write_mesh(const Mesh& mesh, const fs::path& file) {
    auto format = format_of(file);
    if (!format) return format.error();
    if (auto fit = fits(mesh, *format); !fit) return Error{fit.error().code, fit.error().text, file.string()};
    return write_file(format_mesh(mesh, *format), file);
}

}  // namespace anvil
