// Format: the "StL Interface Specification" (3D Systems, 1989), ASCII and binary.
#include <cstring>

#include "core/io/formats.h"

namespace anvil::io_detail {
namespace {

constexpr std::size_t header_size = 80, record_size = 50;

float little_float(const char* p) {
    std::uint32_t bits = 0;
    for (int i = 0; i < 4; ++i) bits |= std::uint32_t{static_cast<unsigned char>(p[i])} << (8 * i);
    float v;
    std::memcpy(&v, &bits, 4);
    return v;
}
void put_little(std::string& out, std::uint32_t bits, int bytes) {
    for (int i = 0; i < bytes; ++i) out += static_cast<char>(bits >> (8 * i));
}

/// Text, if it starts with "solid" and goes on with words of the format, not only by name: binary headers may start so.
bool looks_like_text(std::string_view bytes) {
    TextCursor cursor(bytes.substr(0, 4096), 0);
    if (cursor.word_anywhere() != "solid") return false;
    if (bytes.substr(0, 512).find('\0') != std::string_view::npos) return false;
    cursor.next_line();
    const std::string_view w = cursor.word_anywhere();
    return w == "facet" || w == "endsolid" || w.empty();
}

Result<Mesh> parse_binary(std::string_view bytes, std::uint64_t count) {
    Mesh mesh;
    mesh.points.reserve(count * 3);
    mesh.faces.reserve(count);
    for (std::uint64_t f = 0; f < count; ++f) {
        const char* p = bytes.data() + header_size + 4 + f * record_size + 12;  // the normal is computed, not read
        Triangle t;
        for (std::size_t k = 0; k < 3; ++k) {
            const Vec3 point{little_float(p + 12 * k), little_float(p + 12 * k + 4), little_float(p + 12 * k + 8)};
            if (!is_finite(point))
                return Error{ErrorCode::bad_number, "a coordinate is not a finite number", "face " + std::to_string(f)};
            t[k] = mesh.points.push_back(point);
        }
        mesh.faces.push_back(t);
    }
    return mesh;
}

Result<Mesh> parse_text(std::string_view bytes) {
    Mesh mesh;
    TextCursor cursor(bytes, 0);
    bool ended = false;
    for (std::string_view w = cursor.word_anywhere(); !w.empty(); w = cursor.word_anywhere()) {
        if (w == "solid" || w == "endsolid") {  // several solids may follow each other
            ended = w == "endsolid";
            cursor.next_line();
            continue;
        }
        if (w != "facet")
            return Error{ErrorCode::bad_syntax, "expected \"facet\", found " + in_quotes(w), cursor.place()};
        cursor.next_line();
        auto expect = [&](std::string_view wanted) { return cursor.word_anywhere() == wanted; };
        if (!expect("outer") || !expect("loop"))
            return Error{ErrorCode::bad_syntax, "expected \"outer loop\" after \"facet\"", cursor.place()};
        Triangle t;
        for (VertexId& v : t) {
            if (!expect("vertex"))
                return Error{cursor.at_end() ? ErrorCode::truncated : ErrorCode::bad_syntax,
                             "expected three lines \"vertex x y z\"", cursor.place()};
            Vec3 p;
            for (int k = 0; k < 3; ++k) {
                const std::string_view number = cursor.word();
                if (number.empty() && cursor.at_end())
                    return Error{ErrorCode::truncated, "the text ends within a vertex", cursor.place()};
                if (!parse_number(number, p[k]) || !std::isfinite(p[k]))
                    return Error{ErrorCode::bad_number, in_quotes(number) + " is not a finite number", cursor.place()};
            }
            v = mesh.points.push_back(p);
        }
        if (!expect("endloop") || !expect("endfacet"))
            return Error{cursor.at_end() ? ErrorCode::truncated : ErrorCode::bad_syntax,
                         "expected \"endloop\" and \"endfacet\" after three vertices", cursor.place()};
        mesh.faces.push_back(t);
    }
    if (!ended) return Error{ErrorCode::truncated, "the text ends before \"endsolid\"", cursor.place()};
    return mesh;
}

}  // namespace

Result<Mesh> parse_stl(std::string_view bytes) {
    std::uint64_t count = 0, needed = 0;
    if (bytes.size() >= header_size + 4) {
        for (std::size_t i = 0; i < 4; ++i)
            count |= std::uint64_t{static_cast<unsigned char>(bytes[header_size + i])} << (8 * i);
        needed = header_size + 4 + count * record_size;
        if (needed == bytes.size()) return parse_binary(bytes, count);
    }
    if (looks_like_text(bytes)) return parse_text(bytes);
    if (bytes.size() < header_size + 4)
        return Error{ErrorCode::truncated,
                     "too short for an STL file: neither \"solid\" text nor a binary header of 84 bytes",
                     "byte " + std::to_string(bytes.size())};
    if (needed < bytes.size()) return parse_binary(bytes, count);  // some programs leave notes behind the faces
    return Error{ErrorCode::truncated,
                 "the header promises " + std::to_string(count) + " faces, but the file holds only " +
                     std::to_string((bytes.size() - header_size - 4) / record_size),
                 "byte " + std::to_string(bytes.size())};
}

std::string format_stl(const Mesh& mesh) {
    std::string out = "binary STL, millimetres";
    out.resize(header_size, ' ');
    out.reserve(header_size + 4 + mesh.faces.size() * record_size);
    put_little(out, static_cast<std::uint32_t>(mesh.faces.size()), 4);
    auto put = [&](const Vec3& p) {
        for (int k = 0; k < 3; ++k) {
            const float v = static_cast<float>(p[k]);
            std::uint32_t bits;
            std::memcpy(&bits, &v, 4);
            put_little(out, bits, 4);
        }
    };
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Vec3 &a = mesh.corner(f, 0), &b = mesh.corner(f, 1), &c = mesh.corner(f, 2);
        put(normalized(cross(b - a, c - a)));
        put(a);
        put(b);
        put(c);
        put_little(out, 0, 2);
    }
    return out;
}

}  // namespace anvil::io_detail
