// Format: G. Turk, "The PLY Polygon File Format" (1994): ASCII and binary in both byte orders. Elements and properties
// other than points and faces are skipped, but for faces' colours (red, green, blue). Our own files also number the
// materials of faces and name them in comments.
#include <algorithm>
#include <array>
#include <cstring>
#include <map>
#include <optional>

#include "core/io/formats.h"

namespace anvil::io_detail {
namespace {

enum class Kind { i8, u8, i16, u16, i32, u32, f32, f64 };

std::optional<Kind> kind_of(std::string_view name) {
    struct Name {
        std::string_view name;
        Kind kind;
    };
    static constexpr Name names[] = {
        {"char", Kind::i8},   {"int8", Kind::i8},     {"uchar", Kind::u8},   {"uint8", Kind::u8},
        {"short", Kind::i16}, {"int16", Kind::i16},   {"ushort", Kind::u16}, {"uint16", Kind::u16},
        {"int", Kind::i32},   {"int32", Kind::i32},   {"uint", Kind::u32},   {"uint32", Kind::u32},
        {"float", Kind::f32}, {"float32", Kind::f32}, {"double", Kind::f64}, {"float64", Kind::f64}};
    for (const Name& n : names)
        if (n.name == name) return n.kind;
    return std::nullopt;
}
std::size_t size_of(Kind k) {
    constexpr std::size_t sizes[] = {1, 1, 2, 2, 4, 4, 4, 8};
    return sizes[static_cast<int>(k)];
}

struct Property {
    std::string_view name;
    Kind kind = Kind::f32;
    std::optional<Kind> count_kind;  // a list
};
struct Element {
    std::string_view name;
    std::uint64_t count = 0;
    std::vector<Property> properties;
};
enum class Encoding { ascii, little, big };
struct Header {
    std::map<std::uint32_t, Material> materials;  // named ones; a colour there is a mere sign that they have one
    Encoding encoding = Encoding::ascii;
    std::vector<Element> elements;
};

/// Reads one number after the other, in either encoding. A double holds every 32-bit integer.
class Values {
  public:
    Values(std::string_view bytes, std::size_t body, Encoding encoding)
        : bytes_(bytes), pos_(body), encoding_(encoding), text_(bytes.substr(body), 0) {}

    bool next(Kind kind, double& value) {
        if (encoding_ == Encoding::ascii) return parse_number(text_.word_anywhere(), value);
        const std::size_t n = size_of(kind);
        if (bytes_.size() - pos_ < n) return false;
        std::uint64_t bits = 0;
        for (std::size_t i = 0; i < n; ++i) {
            const std::size_t from = encoding_ == Encoding::little ? i : n - 1 - i;
            bits |= std::uint64_t{static_cast<unsigned char>(bytes_[pos_ + from])} << (8 * i);
        }
        pos_ += n;
        value = interpret(kind, bits);
        return true;
    }
    bool at_end() const { return encoding_ == Encoding::ascii ? text_.at_end() : bytes_.size() - pos_ < 8; }
    std::size_t remaining() const { return encoding_ == Encoding::ascii ? text_.remaining() : bytes_.size() - pos_; }

  private:
    static double interpret(Kind kind, std::uint64_t bits) {
        switch (kind) {
            case Kind::i8: return static_cast<std::int8_t>(bits);
            case Kind::u8: return static_cast<std::uint8_t>(bits);
            case Kind::i16: return static_cast<std::int16_t>(bits);
            case Kind::u16: return static_cast<std::uint16_t>(bits);
            case Kind::i32: return static_cast<std::int32_t>(bits);
            case Kind::u32: return static_cast<std::uint32_t>(bits);
            case Kind::f32: {
                float v;
                const auto low = static_cast<std::uint32_t>(bits);
                std::memcpy(&v, &low, 4);
                return v;
            }
            case Kind::f64: {
                double v;
                std::memcpy(&v, &bits, 8);
                return v;
            }
        }
        return 0;
    }
    std::string_view bytes_;
    std::size_t pos_;
    Encoding encoding_;
    TextCursor text_;
};

Result<Header> parse_header(std::string_view bytes, std::size_t& body) {
    TextCursor cursor(bytes, 0);
    if (cursor.word() != "ply") return Error{ErrorCode::bad_syntax, "expected \"ply\" at the start", "line 1"};
    Header header;
    bool has_format = false;
    while (cursor.next_line()) {
        const std::string_view keyword = cursor.word();
        if (keyword == "comment" && cursor.word() == "material") {
            std::uint32_t number = 0;
            if (const std::string_view w = cursor.word(); parse_number(w, number))
                header.materials[number].name = std::string(cursor.word());
            if (cursor.word() != "uncoloured" && header.materials.contains(number))
                header.materials[number].colour.emplace();
        }
        if (keyword == "comment" || keyword == "obj_info" || keyword.empty()) continue;
        if (keyword == "end_header") {
            if (!has_format) return Error{ErrorCode::bad_syntax, "the header has no format line", cursor.place()};
            cursor.next_line();
            body = cursor.position();
            return header;
        }
        if (keyword == "format") {
            const std::string_view w = cursor.word();
            if (w == "ascii")
                header.encoding = Encoding::ascii;
            else if (w == "binary_little_endian")
                header.encoding = Encoding::little;
            else if (w == "binary_big_endian")
                header.encoding = Encoding::big;
            else
                return Error{ErrorCode::bad_syntax, "unknown encoding " + in_quotes(w), cursor.place()};
            has_format = true;
        } else if (keyword == "element") {
            Element e;
            e.name = cursor.word();
            const std::string_view count = cursor.word();
            if (!parse_number(count, e.count))
                return Error{ErrorCode::bad_count, in_quotes(count) + " is not a count", cursor.place()};
            header.elements.push_back(e);
        } else if (keyword == "property") {
            if (header.elements.empty())
                return Error{ErrorCode::bad_syntax, "a property before any element", cursor.place()};
            Property p;
            std::string_view type = cursor.word();
            if (type == "list") {
                const std::string_view count_type = cursor.word();
                p.count_kind = kind_of(count_type);
                if (!p.count_kind)
                    return Error{ErrorCode::bad_syntax, "unknown type " + in_quotes(count_type), cursor.place()};
                type = cursor.word();
            }
            const auto kind = kind_of(type);
            if (!kind) return Error{ErrorCode::bad_syntax, "unknown type " + in_quotes(type), cursor.place()};
            p.kind = *kind;
            p.name = cursor.word();
            header.elements.back().properties.push_back(p);
        } else {
            return Error{ErrorCode::bad_syntax, "unknown header line " + in_quotes(keyword), cursor.place()};
        }
    }
    return Error{ErrorCode::truncated, "the header does not end", cursor.place()};
}

/// The fewest bytes that an element can take; a count beyond what is left is a lie.
std::size_t smallest_size(const Element& e, Encoding encoding) {
    std::size_t n = 0;
    for (const Property& p : e.properties)
        n += encoding == Encoding::ascii ? 2 : size_of(p.count_kind.value_or(p.kind));
    return std::max<std::size_t>(n, 1);
}

Error ends_early(const Element& e, std::uint64_t i) {
    return {ErrorCode::truncated,
            "the file ends, or holds no number, at " + std::string(e.name) + " " + std::to_string(i) + " of " +
                std::to_string(e.count),
            std::string(e.name) + " " + std::to_string(i)};
}

}  // namespace

Result<Mesh> parse_ply(std::string_view bytes) {
    std::size_t body = 0;
    auto header = parse_header(bytes, body);
    if (!header) return header.error();
    Values values(bytes, body, header->encoding);
    Mesh mesh;
    bool has_points = false;
    std::vector<double> list;
    std::vector<std::vector<VertexId>> polygons;
    struct Look {
        double rgb[3] = {-1, -1, -1}, number = -2;  // -1: none
    };
    std::vector<Look> looks;  // per face that has any
    for (const Element& e : header->elements) {
        const bool is_vertex = e.name == "vertex", is_face = e.name == "face";
        if (e.count > 0 && e.count > values.remaining() / smallest_size(e, header->encoding) + 1)
            return Error{ErrorCode::bad_count,
                         "the header promises " + std::to_string(e.count) + " of " + in_quotes(e.name) +
                             ", more than the file has room for",
                         "header"};
        if (is_vertex) {
            has_points = true;
            for (std::string_view axis : {"x", "y", "z"})
                if (std::none_of(e.properties.begin(), e.properties.end(),
                                 [&](const Property& p) { return p.name == axis && !p.count_kind; }))
                    return Error{ErrorCode::bad_syntax, "points have no coordinate " + in_quotes(axis), "header"};
            mesh.points.reserve(e.count);
        }
        if (e.properties.empty()) continue;  // its count says nothing about the file
        for (std::uint64_t i = 0; i < e.count; ++i) {
            Vec3 point;
            Look look;
            for (const Property& p : e.properties) {
                double value = 0;
                if (!values.next(p.count_kind.value_or(p.kind), value)) return ends_early(e, i);
                if (!p.count_kind) {
                    if (is_vertex && p.name.size() == 1 && p.name[0] >= 'x' && p.name[0] <= 'z')
                        point[p.name[0] - 'x'] = value;
                    if (is_face)
                        for (int k = 0; k < 3; ++k)
                            if (p.name == std::array{"red", "green", "blue"}[static_cast<std::size_t>(k)])
                                look.rgb[k] = p.kind == Kind::f32 || p.kind == Kind::f64 ? value * 255 : value;
                    if (is_face && p.name == "material_index") look.number = value;
                    continue;
                }
                if (!(value >= 0) || value > static_cast<double>(values.remaining()))
                    return Error{ErrorCode::bad_count, "a list is longer than the file",
                                 std::string(e.name) + " " + std::to_string(i)};
                list.resize(static_cast<std::size_t>(value));
                for (double& v : list)
                    if (!values.next(p.kind, v)) return ends_early(e, i);
                if (!is_face || (p.name != "vertex_indices" && p.name != "vertex_index")) continue;
                std::vector<VertexId> corners;
                for (double v : list) {
                    if (!(v >= 0) || v != std::floor(v) || v > 4294967294.0)
                        return Error{ErrorCode::bad_index, "a corner is no point's number",
                                     "face " + std::to_string(i)};
                    corners.push_back(VertexId(static_cast<std::size_t>(v)));
                }
                polygons.push_back(std::move(corners));
            }
            if (is_face && (look.number >= -1 || look.rgb[0] >= 0)) {
                looks.resize(polygons.size());
                if (!looks.empty()) looks.back() = look;
            }
            if (!is_vertex) continue;
            if (!is_finite(point))
                return Error{ErrorCode::bad_number, "a coordinate is not a finite number",
                             "point " + std::to_string(i)};
            mesh.points.push_back(point);
        }
    }
    if (!has_points) return Error{ErrorCode::bad_syntax, "there are no points in it", "header"};
    mesh.faces.reserve(polygons.size());
    MaterialReader materials(mesh);
    auto material_of = [&](const Look& look) -> std::optional<Material> {
        Material material;
        if (std::ranges::all_of(look.rgb, [](double v) { return v >= 0 && v <= 255; }))
            material = coloured(static_cast<std::uint8_t>(look.rgb[0]), static_cast<std::uint8_t>(look.rgb[1]),
                                static_cast<std::uint8_t>(look.rgb[2]));
        if (look.number == -1) return std::nullopt;
        if (look.number >= 0 && look.number < 4e9)
            if (const auto named = header->materials.find(static_cast<std::uint32_t>(look.number));
                named != header->materials.end()) {
                material.name = named->second.name;
                if (!named->second.colour) material.colour.reset();
            }
        return material.name.empty() ? std::nullopt : std::optional(material);
    };
    for (std::size_t i = 0; i < polygons.size(); ++i) {
        for (VertexId v : polygons[i])
            if (v.value() >= mesh.points.size())
                return Error{ErrorCode::bad_index,
                             "a face uses point " + std::to_string(v.value()) + " of " +
                                 std::to_string(mesh.points.size()) + " (counted from 0)",
                             "face " + std::to_string(i)};
        if (polygons[i].size() < 3) continue;
        add_polygon(mesh, polygons[i]);
        const auto material = i < looks.size() ? material_of(looks[i]) : std::nullopt;
        materials.set(material ? &*material : nullptr);
    }
    return mesh;
}

std::string format_ply(const Mesh& mesh) {
    const bool with_material = !mesh.material.empty() && !mesh.materials.empty();
    std::string out = "ply\nformat binary_little_endian 1.0\ncomment millimetres\n";
    if (with_material)
        for (std::size_t i = 0; i < mesh.materials.size(); ++i)
            out += "comment material " + std::to_string(i) + " " + mesh.materials[i].name +
                   (mesh.materials[i].colour ? "\n" : " uncoloured\n");
    out += "element vertex " + std::to_string(mesh.points.size()) +
           "\nproperty double x\nproperty double y\nproperty double z\nelement face " +
           std::to_string(mesh.faces.size()) + "\nproperty list uchar int vertex_indices\n";
    if (with_material)
        out += "property uchar red\nproperty uchar green\nproperty uchar blue\nproperty int material_index\n";
    out += "end_header\n";
    out.reserve(out.size() + mesh.points.size() * 24 + mesh.faces.size() * 13);
    auto put = [&](std::uint64_t bits, int bytes) {
        for (int i = 0; i < bytes; ++i) out += static_cast<char>(bits >> (8 * i));
    };
    for (const Vec3& p : mesh.points)
        for (int k = 0; k < 3; ++k) {
            std::uint64_t bits;
            const double v = p[k];
            std::memcpy(&bits, &v, 8);
            put(bits, 8);
        }
    constexpr std::array<std::uint8_t, 3> plain{0x93, 0xA4, 0xAC};
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        put(3, 1);
        for (VertexId v : mesh.faces[f]) put(v.value(), 4);
        if (!with_material) continue;
        const std::uint32_t m = mesh.material_of(f);
        for (std::uint8_t c : m == no_material ? plain : mesh.materials[m].colour.value_or(plain)) put(c, 1);
        put(m, 4);  // none reads as -1
    }
    return out;
}

}  // namespace anvil::io_detail
