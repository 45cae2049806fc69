// Format: the Object File Format of the Geometry Center ("OOGL file formats"), its ASCII form. Colours and normals
// behind the coordinates are skipped; a colour behind a face (three or four numbers, whole ones up to 255 or decimal
// ones up to 1) is its material.
#include <algorithm>
#include <cmath>
#include <optional>

#include "core/io/formats.h"

namespace anvil::io_detail {
namespace {

/// What is left of a face's line, as a colour where it is one.
std::optional<Material> face_colour(TextCursor& cursor) {
    double value[3];
    bool whole = true;
    for (double& v : value) {
        const std::string_view w = cursor.word();
        if (!parse_number(w, v) || !(v >= 0)) return std::nullopt;
        whole = whole && w.find('.') == std::string_view::npos;
    }
    std::uint8_t rgb[3];
    for (int k = 0; k < 3; ++k) {
        const double v = whole ? value[k] : value[k] * 255;
        if (v > 255) return std::nullopt;
        rgb[k] = static_cast<std::uint8_t>(std::lround(v));
    }
    return coloured(rgb[0], rgb[1], rgb[2]);
}

}  // namespace

Result<Mesh> parse_off(std::string_view bytes) {
    TextCursor cursor(bytes);
    std::string_view w = cursor.word_anywhere();
    const std::size_t off = w.rfind("OFF");
    if (w.empty()) return Error{ErrorCode::truncated, "there is nothing in it", "line 1"};
    if (off == std::string_view::npos || off + 3 != w.size())
        return Error{ErrorCode::bad_syntax, "expected \"OFF\", found " + in_quotes(w), cursor.place()};
    if (w.find('4') != std::string_view::npos || w.find('n') != std::string_view::npos)
        return Error{ErrorCode::bad_syntax, "only points with three coordinates can be read, not " + in_quotes(w),
                     cursor.place()};
    w = cursor.word_anywhere();
    if (w == "BINARY")
        return Error{ErrorCode::bad_syntax, "binary OFF cannot be read; save it as text", cursor.place()};

    std::uint64_t counts[2] = {};
    for (std::uint64_t& count : counts) {
        if (!parse_number(w, count))
            return Error{ErrorCode::bad_count, in_quotes(w) + " is not a count", cursor.place()};
        w = cursor.word();
    }
    // Even the shortest point takes 6 bytes and the shortest face 8: a file cannot hold more than it has room for.
    if (counts[0] > bytes.size() / 6 + 1 || counts[1] > bytes.size() / 2 + 1)
        return Error{ErrorCode::bad_count,
                     "the header promises " + std::to_string(counts[0]) + " points and " + std::to_string(counts[1]) +
                         " faces, more than the file has room for",
                     cursor.place()};
    Mesh mesh;
    mesh.points.reserve(counts[0]);
    for (std::uint64_t i = 0; i < counts[0]; ++i) {
        Vec3 p;
        for (int k = 0; k < 3; ++k) {
            const std::string_view number = k == 0 ? (cursor.next_line(), cursor.word_anywhere()) : cursor.word();
            if (number.empty())
                return Error{ErrorCode::truncated,
                             "the file ends at point " + std::to_string(i) + " of " + std::to_string(counts[0]),
                             cursor.place()};
            if (!parse_number(number, p[k]) || !std::isfinite(p[k]))
                return Error{ErrorCode::bad_number, in_quotes(number) + " is not a finite number", cursor.place()};
        }
        mesh.points.push_back(p);
    }
    std::vector<VertexId> corners;
    MaterialReader materials(mesh);
    for (std::uint64_t i = 0; i < counts[1]; ++i) {
        cursor.next_line();
        std::uint64_t n = 0;
        w = cursor.word_anywhere();
        if (w.empty())
            return Error{ErrorCode::truncated,
                         "the file ends at face " + std::to_string(i) + " of " + std::to_string(counts[1]),
                         cursor.place()};
        if (!parse_number(w, n) || n < 1 || n > counts[0])
            return Error{ErrorCode::bad_count, in_quotes(w) + " is not a number of corners", cursor.place()};
        corners.clear();
        for (std::uint64_t k = 0; k < n; ++k) {
            std::uint64_t index = 0;
            w = cursor.word();
            if (!parse_number(w, index))
                return Error{w.empty() ? ErrorCode::truncated : ErrorCode::bad_syntax,
                             in_quotes(w) + " is not a point's number", cursor.place()};
            if (index >= counts[0])
                return Error{ErrorCode::bad_index,
                             "a face uses point " + std::to_string(index) + " of " + std::to_string(counts[0]) +
                                 " (counted from 0)",
                             cursor.place()};
            corners.push_back(VertexId(index));
        }
        if (n < 3) continue;  // points and lines that stand as faces enclose nothing
        add_polygon(mesh, corners);
        const auto colour = face_colour(cursor);
        materials.set(colour ? &*colour : nullptr);
    }
    return mesh;
}

std::string format_off(const Mesh& mesh) {
    std::string out = "OFF\n" + std::to_string(mesh.points.size()) + ' ' + std::to_string(mesh.faces.size()) + " 0\n";
    for (const Vec3& p : mesh.points) {
        for (int k = 0; k < 3; ++k) {
            append_number(out, p[k]);
            out += k < 2 ? ' ' : '\n';
        }
    }
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        out += '3';
        for (VertexId v : mesh.faces[f]) out += ' ' + std::to_string(v.value());
        if (const std::uint32_t m = mesh.material_of(f); m != no_material && mesh.materials[m].colour)
            for (std::uint8_t c : *mesh.materials[m].colour) out += ' ' + std::to_string(c);
        out += '\n';
    }
    return out;
}

}  // namespace anvil::io_detail
