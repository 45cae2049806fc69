// Format: the Wavefront Object file description, version 3.0: v, f and usemtl statements; everything else is skipped.
// A material's name that is a colour, such as rgb-93A4AC, is taken for one: files of our own have those.
#include <optional>

#include "core/io/formats.h"

namespace anvil::io_detail {
namespace {

std::optional<Material> colour_named(std::string_view name) {
    std::uint32_t rgb = 0;
    if (name.size() != 10 || !name.starts_with("rgb-")) return std::nullopt;
    const auto [end, error] = std::from_chars(name.data() + 4, name.data() + 10, rgb, 16);
    if (error != std::errc() || end != name.data() + 10) return std::nullopt;
    return coloured(static_cast<std::uint8_t>(rgb >> 16), static_cast<std::uint8_t>(rgb >> 8),
                    static_cast<std::uint8_t>(rgb));
}

}  // namespace

Result<Mesh> parse_obj(std::string_view bytes) {
    Mesh mesh;
    TextCursor cursor(bytes);
    std::vector<VertexId> corners;
    bool any = false;
    MaterialReader materials(mesh);
    std::optional<Material> material;
    do {
        const std::string_view keyword = cursor.word();
        if (keyword.empty()) continue;
        if (bytes.substr(0, 4096).find('\0') != std::string_view::npos)
            return Error{ErrorCode::bad_syntax, "this is not text, as an OBJ file must be", cursor.place()};
        any = true;
        // A backslash at the end of a line goes on with the next one.
        auto next = [&] {
            std::string_view w = cursor.word();
            while (w == "\\" && cursor.next_line()) w = cursor.word();
            return w;
        };
        if (keyword == "v") {
            Vec3 p;
            for (int k = 0; k < 3; ++k) {
                const std::string_view number = next();
                if (!parse_number(number, p[k]) || !std::isfinite(p[k]))
                    return Error{ErrorCode::bad_number, in_quotes(number) + " is not a finite number", cursor.place()};
            }
            mesh.points.push_back(p);
        } else if (keyword == "f") {
            corners.clear();
            for (std::string_view w = next(); !w.empty(); w = next()) {
                long long index = 0;
                if (!parse_number(w.substr(0, w.find('/')), index))
                    return Error{ErrorCode::bad_syntax, in_quotes(w) + " is not a corner of a face", cursor.place()};
                const long long count = static_cast<long long>(mesh.points.size());
                const long long zero_based = index < 0 ? count + index : index - 1;  // negative: counted from the end
                if (zero_based < 0 || zero_based >= count)
                    return Error{ErrorCode::bad_index,
                                 "a face uses point " + std::to_string(index) + ", but there are " +
                                     std::to_string(count) + " before it",
                                 cursor.place()};
                corners.push_back(VertexId(static_cast<std::size_t>(zero_based)));
            }
            if (corners.size() < 3)
                return Error{ErrorCode::bad_syntax, "a face needs three corners or more", cursor.place()};
            add_polygon(mesh, corners);
            materials.set(material ? &*material : nullptr);
        } else if (keyword == "usemtl") {
            const std::string_view name = next();
            material.reset();
            if (!name.empty() && name != "none")
                material = colour_named(name).value_or(Material{std::string(name), {}});
        }
    } while (cursor.next_line());
    if (!any) return Error{ErrorCode::truncated, "there is nothing in it", "line 1"};
    if (mesh.points.empty() && mesh.faces.empty() && bytes.find("\n# no faces") == std::string_view::npos)
        return Error{ErrorCode::bad_syntax, "no points and no faces were found; is this an OBJ file?", cursor.place()};
    return mesh;
}

std::string format_obj(const Mesh& mesh) {
    std::string out = "# millimetres\n";
    if (mesh.empty()) out += "g empty\n# no faces\n";
    for (const Vec3& p : mesh.points) {
        out += 'v';
        for (int k = 0; k < 3; ++k) {
            out += ' ';
            append_number(out, p[k]);
        }
        out += '\n';
    }
    std::uint32_t material = no_material;
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Triangle& t = mesh.faces[f];
        if (const std::uint32_t m = mesh.material_of(f); m != material) {
            out += "usemtl " + (m == no_material ? "none" : mesh.materials[m].name) + "\n";
            material = m;
        }
        out += 'f';
        for (VertexId v : t) out += ' ' + std::to_string(v.value() + 1);
        out += '\n';
    }
    return out;
}

}  // namespace anvil::io_detail
