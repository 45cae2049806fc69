#include "core/io/mesh_file.h"

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <limits>
#include <optional>

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
    if (ending == ".3mf") return MeshFormat::threemf;
    return Error{ErrorCode::unknown_format, "the ending must be .3mf, .stl, .obj, .ply or .off", file.string()};
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
        case MeshFormat::threemf: {
            auto all = parse_3mf(bytes);
            if (!all) return all.error();
            Mesh out;
            for (NamedMesh& one : *all)
                if (out.points.empty())
                    out = std::move(one.mesh);
                else
                    append(out, one.mesh);
            return out;
        }
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
        case MeshFormat::threemf: return format_3mf(std::vector<NamedMesh>{{{}, mesh}});
    }
    return {};
}

std::string format_meshes(std::span<const NamedMesh> meshes, MeshFormat) { return io_detail::format_3mf(meshes); }

namespace {

/// The ending that goes with what is in a file; empty where that cannot be told.
std::string_view format_by_content(std::string_view bytes) {
    const std::string_view head = bytes.substr(0, 1024);
    if (head.starts_with("PK\3\4"))
        return bytes.find("3D/3dmodel.model") != std::string_view::npos ? ".3mf"
               : head.find("job.json") != std::string_view::npos        ? ".anvil"
                                                                        : ".zip";
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

/// What a file is that holds no mesh as we read them; empty where that cannot be told.
std::string_view other_format(std::string_view bytes) {
    const std::string_view head = bytes.substr(0, 1024);
    const std::pair<std::string_view, std::string_view> starts[] = {
        {"glTF", "a GLB file"},         {"ISO-10303-21", "a STEP file"},      {"#VRML", "a VRML file"},
        {"Kaydara FBX", "an FBX file"}, {"PXR-USDC", "a USD file"},           {"#usda", "a USD file"},
        {"\x89PNG", "a picture (PNG)"}, {"\xff\xd8\xff", "a picture (JPEG)"}, {"%PDF", "a PDF document"},
        {"MM\0*", "a picture (TIFF)"},  {"II*", "a picture (TIFF)"},          {"7z\xbc\xaf", "a 7z archive"},
        {"\x1f\x8b", "a gzip archive"}};
    for (const auto& [start, what] : starts)
        if (head.starts_with(start)) return what;
    const std::pair<std::string_view, std::string_view> within[] = {
        {"<COLLADA", "a COLLADA file"}, {"<amf", "an AMF file"},        {"<X3D", "an X3D file"},
        {"<svg", "an SVG drawing"},     {"<html", "a web page"},        {"<!DOCTYPE html", "a web page"},
        {"SECTION\n", "a DXF drawing"}, {"SECTION\r", "a DXF drawing"}, {"\"asset\"", "a glTF file"}};
    for (const auto& [word, what] : within)
        if (head.find(word) != std::string_view::npos) return what;
    return {};
}

/// Why a file could not be read, where what it holds tells more than its ending.
std::optional<Error> told_by_content(std::string_view bytes, const Result<MeshFormat>& format) {
    const std::string_view ending = format_by_content(bytes);
    auto refused = [](std::string text) { return Error{ErrorCode::unknown_format, std::move(text), ""}; };
    if (ending == ".zip" && format && holds_several(*format)) return {};  // a package: what is wrong in it was told
    if (ending == ".zip") return refused("it is a zip archive, not a mesh: unpack it first");
    if (ending == ".anvil") return refused("it is a job of this program: give it the ending .anvil, and open it");
    if (!ending.empty() && (!format || *format_of("a" + std::string(ending)) != *format))
        return refused("its content is that of a " + std::string(ending) + " file; give it that ending");
    if (const std::string_view what = ending.empty() ? other_format(bytes) : std::string_view(); !what.empty())
        return refused(
            "it is " + std::string(what) + ", which is not read here" +
            (what.find("picture") != std::string_view::npos || what.find("document") != std::string_view::npos ||
                     what.find("page") != std::string_view::npos || what.find("archive") != std::string_view::npos
                 ? ""
             : what == "an SVG drawing" ? ": add the shape Profile, and read it there"
                                        : ": export it as 3MF, STL, OBJ or PLY from the program that made it"));
    return {};
}

/// Reads a file and hands its bytes to `parse`; places name the file.
template <class Parse>
auto read_with(const fs::path& file, const Parse& parse) -> decltype(parse(std::string_view(), MeshFormat())) {
    using Out = decltype(parse(std::string_view(), MeshFormat()));
    auto done = with_memory_checked([&]() -> Out {
        const auto format = format_of(file);
        auto bytes = read_file(file);
        if (!bytes) return bytes.error();
        if (!format) {
            const auto told = told_by_content(*bytes, format);
            return told ? *told : Error{format.error().code, format.error().text, ""};
        }
        auto parsed = parse(*bytes, *format);
        if (parsed) return parsed;
        const auto told = told_by_content(*bytes, format);
        return told ? *told : parsed;
    });
    if (done || done.error().place.starts_with(file.string())) return done;  // read_file names it
    Error error = done.error();
    error.place = file.string() + (error.place.empty() ? "" : ", " + error.place);
    return error;
}

}  // namespace

Result<Mesh> read_mesh(const fs::path& file) { return read_with(file, parse_mesh); }

Result<std::vector<NamedMesh>> read_meshes(const fs::path& file) {
    return read_with(file, [&](std::string_view bytes, MeshFormat format) -> Result<std::vector<NamedMesh>> {
        const std::string stem = file.stem().string();
        if (!holds_several(format)) {
            auto mesh = parse_mesh(bytes, format);
            if (!mesh) return mesh.error();
            if (mesh->empty()) return Error{ErrorCode::bad_count, "there are no faces in it", ""};
            return std::vector<NamedMesh>{{stem, std::move(*mesh)}};
        }
        auto all = io_detail::parse_3mf(bytes);
        if (!all) return all;
        if (all->empty()) return Error{ErrorCode::bad_count, "there are no faces in it", ""};
        for (std::size_t k = 0; k < all->size(); ++k)
            if (std::string& name = (*all)[k].name; name.empty())
                name = all->size() == 1 ? stem : stem + " " + std::to_string(k + 1);
        return all;
    });
}

Result<void> write_mesh(const Mesh& mesh, const fs::path& file) {
    auto format = format_of(file);
    if (!format) return format.error();
    if (auto fit = fits(mesh, *format); !fit) return Error{fit.error().code, fit.error().text, file.string()};
    return write_file(format_mesh(mesh, *format), file);
}

Result<void> write_meshes(std::span<const NamedMesh> meshes, const fs::path& file) {
    auto format = format_of(file);
    if (!format) return format.error();
    for (const NamedMesh& one : meshes)
        if (auto fit = fits(one.mesh, *format); !fit) return Error{fit.error().code, fit.error().text, file.string()};
    return write_file(format_meshes(meshes, *format), file);
}

}  // namespace anvil
