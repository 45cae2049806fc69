// Writes 3MF by the core specification 1.3 (3MF Consortium): an object and a build item for each mesh, in millimetres.
#include <cstdio>
#include <map>
#include <new>

#include "core/io/archive.h"
#include "core/io/formats.h"

namespace anvil::io_detail {
namespace {

constexpr const char* content_types =
    R"(<?xml version="1.0" encoding="UTF-8"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>
)";
constexpr const char* relationships =
    R"(<?xml version="1.0" encoding="UTF-8"?>
<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="model" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>
)";

/// As the value of an attribute; control characters, which XML cannot hold, become blanks.
std::string escaped(std::string_view text) {
    std::string out;
    for (const char c : text) {
        switch (c) {
            case '&': out += "&amp;"; break;
            case '<': out += "&lt;"; break;
            case '>': out += "&gt;"; break;
            case '"': out += "&quot;"; break;
            default: out += static_cast<unsigned char>(c) < 32 ? ' ' : c;
        }
    }
    return out;
}

/// All materials that the meshes have, each once.
std::map<Material, std::size_t> numbered_materials(std::span<const NamedMesh> meshes) {
    std::map<Material, std::size_t> out;
    for (const NamedMesh& one : meshes) {
        for (const Material& material : one.mesh.materials) out.try_emplace(material, 0);
        if (!one.mesh.material.empty()) out.try_emplace(Material{std::string(no_material_3mf), {}}, 0);
    }
    std::size_t n = 0;
    for (auto& [material, number] : out) number = n++;
    return out;
}

void add_attribute(std::string& out, const char* name, double v) {
    out += std::string(" ") + name + "=\"";
    append_number(out, v);
    out += '"';
}

void add_mesh(std::string& out, const Mesh& given, const std::map<Material, std::size_t>& numbers) {
    const Mesh mesh = welded(given);
    out += "<mesh><vertices>\n";
    for (const Vec3& p : mesh.points) {
        out += "<vertex";
        add_attribute(out, "x", p.x);
        add_attribute(out, "y", p.y);
        add_attribute(out, "z", p.z);
        out += "/>\n";
    }
    out += "</vertices><triangles>\n";
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Triangle& t = mesh.faces[f];
        if (repeats_corner(t)) continue;  // which the format does not allow, and which have no extent
        out += "<triangle v1=\"" + std::to_string(t[0].value()) + "\" v2=\"" + std::to_string(t[1].value()) +
               "\" v3=\"" + std::to_string(t[2].value()) + '"';
        if (!mesh.material.empty() && mesh.material[f] != no_material)
            out += " pid=\"1\" p1=\"" + std::to_string(numbers.at(mesh.materials[mesh.material[f]])) + '"';
        out += "/>\n";
    }
    out += "</triangles></mesh>";
}

}  // namespace

std::string format_3mf(std::span<const NamedMesh> meshes) {
    const auto numbers = numbered_materials(meshes);
    std::string model =
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<model unit=\"millimeter\" xml:lang=\"en-US\" "
        "xmlns=\"http://schemas.microsoft.com/3dmanufacturing/core/2015/02\">\n"
        "<metadata name=\"Application\">Clean Anvil</metadata>\n<resources>\n";
    if (!numbers.empty()) {
        model += "<basematerials id=\"1\">";
        for (const auto& [material, number] : numbers) {
            const auto c = material.colour.value_or(std::array<std::uint8_t, 3>{0x93, 0xa4, 0xac});
            char colour[8];
            std::snprintf(colour, sizeof colour, "#%02X%02X%02X", unsigned{c[0]}, unsigned{c[1]}, unsigned{c[2]});
            model += "<base name=\"" + escaped(material.name) + "\" displaycolor=\"" + colour + "\"/>";
        }
        model += "</basematerials>\n";
    }
    std::string build = "<build>";
    std::size_t id = 2;
    for (const NamedMesh& one : meshes) {
        if (one.mesh.faces.empty()) continue;  // an object without triangles is none
        model += "<object id=\"" + std::to_string(id) + "\" type=\"model\"";
        if (!one.name.empty()) model += " name=\"" + escaped(one.name) + '"';
        // Where some faces have a material, the others take the object's: the one that stands for none.
        if (!one.mesh.material.empty())
            model +=
                " pid=\"1\" pindex=\"" + std::to_string(numbers.at(Material{std::string(no_material_3mf), {}})) + '"';
        model += '>';
        add_mesh(model, one.mesh, numbers);
        model += "</object>\n";
        build += "<item objectid=\"" + std::to_string(id++) + "\"/>";
    }
    model += "</resources>\n" + build + "</build>\n</model>\n";
    const ArchiveEntry entries[] = {
        {"[Content_Types].xml", content_types}, {"_rels/.rels", relationships}, {"3D/3dmodel.model", std::move(model)}};
    auto bytes = packed_archive(entries);
    if (!bytes) throw std::bad_alloc();  // in memory nothing else can be in the way
    return std::move(*bytes);
}

}  // namespace anvil::io_detail
