#include "core/io/mesh_file.h"

#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <cstring>

#include "core/base/memory.h"
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
    const fs::path beside = file.string() + ".part-" + std::to_string(::getpid());
    auto failed = [&](const char* what) {
        Error error{ErrorCode::cannot_write, std::string(what) + ": " + std::strerror(errno), file.string()};
        std::remove(beside.c_str());
        return error;
    };
    std::FILE* out = std::fopen(beside.c_str(), "wb");
    if (!out) return failed("it cannot be written");
    const bool written = std::fwrite(bytes.data(), 1, bytes.size(), out) == bytes.size() && std::fflush(out) == 0 &&
                         ::fsync(::fileno(out)) == 0;
    if (std::fclose(out) != 0 || !written) return failed("writing it failed");
    if (std::rename(beside.c_str(), file.c_str()) != 0) return failed("it cannot be replaced");
    return {};
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

Result<Mesh> read_mesh(const fs::path& file) {
    auto format = format_of(file);
    if (!format) return format.error();
    auto mesh = with_memory_checked([&]() -> Result<Mesh> {
        auto bytes = read_file(file);
        if (!bytes) return bytes.error();
        return parse_mesh(*bytes, *format);
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
    return write_file(format_mesh(mesh, *format), file);
}

}  // namespace anvil
