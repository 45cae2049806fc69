// Reads 3MF: the core specification 1.3, colours of the materials extension, and objects that stand in other parts of
// the package (production extension). Both are published by the 3MF Consortium.
#include <algorithm>
#include <charconv>
#include <map>
#include <pugixml.hpp>
#include <set>

#include "core/io/archive.h"
#include "core/io/formats.h"

namespace anvil::io_detail {
namespace {

constexpr std::uint64_t largest_model = std::uint64_t{1} << 30;
constexpr int deepest_components = 64;
constexpr std::size_t most_faces = 100'000'000, most_components = 100'000, most_parts = 1000;

/// x' = p (x, y, z, 1): four rows of three numbers, as in the file.
struct Matrix {
    double m[4][3] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {0, 0, 0}};
    Vec3 operator()(const Vec3& p) const {
        Vec3 out;
        for (int k = 0; k < 3; ++k) out[k] = p.x * m[0][k] + p.y * m[1][k] + p.z * m[2][k] + m[3][k];
        return out;
    }
    /// First this, then `o`.
    Matrix then(const Matrix& o) const {
        Matrix out;
        for (int i = 0; i < 4; ++i)
            for (int k = 0; k < 3; ++k) {
                out.m[i][k] = i == 3 ? o.m[3][k] : 0;
                for (int j = 0; j < 3; ++j) out.m[i][k] += m[i][j] * o.m[j][k];
            }
        return out;
    }
    bool mirrors() const {
        return dot(cross({m[0][0], m[0][1], m[0][2]}, {m[1][0], m[1][1], m[1][2]}), {m[2][0], m[2][1], m[2][2]}) < 0;
    }
};

Error bad(ErrorCode code, std::string text, std::string place = {}) {
    return {code, std::move(text), std::move(place)};
}

/// Names without the prefix of their namespace.
std::string_view local(const char* name) {
    const std::string_view all = name;
    return all.substr(all.rfind(':') + 1);
}
pugi::xml_attribute attribute(const pugi::xml_node& node, std::string_view name) {
    for (const pugi::xml_attribute a : node.attributes())
        if (local(a.name()) == name) return a;
    return {};
}
std::string_view text_of(const pugi::xml_node& node, std::string_view name) { return attribute(node, name).value(); }

template <class Number>
bool number(std::string_view text, Number& v) {
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front()))) text.remove_prefix(1);
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back()))) text.remove_suffix(1);
    if constexpr (std::is_floating_point_v<Number>)
        return parse_number(text, v) && std::isfinite(v);
    else
        return parse_number(text, v);
}

std::optional<Matrix> matrix_of(std::string_view text) {
    Matrix out;
    if (text.empty()) return out;
    for (auto& row : out.m)
        for (double& v : row) {
            while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front()))) text.remove_prefix(1);
            const std::size_t n = std::min(text.find_first_of(" \t\r\n"), text.size());
            if (!number(text.substr(0, n), v)) return {};
            text.remove_prefix(n);
        }
    return text.find_first_not_of(" \t\r\n") == std::string_view::npos ? std::optional(out) : std::nullopt;
}

/// "#RRGGBB", or with the share that covers behind it.
std::optional<std::array<std::uint8_t, 3>> colour_of(std::string_view text) {
    if (text.size() < 7 || text.front() != '#') return {};
    std::array<std::uint8_t, 3> out{};
    for (std::size_t k = 0; k < 3; ++k) {
        const char* from = text.data() + 1 + 2 * k;
        if (std::from_chars(from, from + 2, out[k], 16).ptr != from + 2) return {};
    }
    return out;
}

/// Millimetres of a unit; 0 where it is none (3MF core, 3.4).
double millimetres_of(std::string_view unit) {
    const std::pair<std::string_view, double> units[] = {
        {"", 1},        {"millimeter", 1}, {"micron", 0.001}, {"centimeter", 10},
        {"inch", 25.4}, {"foot", 304.8},   {"meter", 1000}};
    for (const auto& [name, mm] : units)
        if (name == unit) return mm;
    return 0;
}

/// One model part of the package, taken apart.
struct Model {
    std::string text;  // that the document points into
    pugi::xml_document document;
    pugi::xml_node root;
    std::map<std::string, pugi::xml_node, std::less<>> objects;
    std::map<std::string, std::vector<Material>, std::less<>> materials;  // by the id of their group
};

class Package {
  public:
    explicit Package(ArchiveReader archive) : archive_(std::move(archive)) {}

    Result<std::vector<NamedMesh>> read() {
        auto start = start_part();
        if (!start) return start.error();
        const auto model = model_at(*start);
        if (!model) return model.error();
        const pugi::xml_node root = (*model)->root;
        if (const auto missing = extension_missing(root); !missing.empty())
            return bad(ErrorCode::newer_version,
                       "it needs the 3MF extension " + in_quotes(missing) + ", which is not read here");
        const double mm = millimetres_of(text_of(root, "unit"));
        if (mm == 0)
            return bad(ErrorCode::bad_syntax, "it names a unit that 3MF has not: " + in_quotes(text_of(root, "unit")));
        Matrix scale;
        for (int k = 0; k < 3; ++k) scale.m[k][k] = mm;
        const pugi::xml_node build = child(root, "build");
        std::vector<NamedMesh> out;
        std::size_t number_of_item = 0;
        for (const pugi::xml_node item : build.children()) {
            if (local(item.name()) != "item") continue;
            const std::string place = "build item " + std::to_string(++number_of_item);
            const auto matrix = matrix_of(text_of(item, "transform"));
            if (!matrix) return bad(ErrorCode::bad_number, "its transform cannot be read", place);
            auto mesh = item_mesh(item, *start, matrix->then(scale));
            if (!mesh) return mesh.error();
            if (mesh->mesh.faces.empty()) continue;
            out.push_back(std::move(*mesh));
        }
        return out;
    }

  private:
    static pugi::xml_node child(const pugi::xml_node& node, std::string_view name) {
        for (const pugi::xml_node c : node.children())
            if (local(c.name()) == name) return c;
        return {};
    }

    /// Where the model is, by the package's relationships; else the first model in it.
    Result<std::string> start_part() {
        if (archive_.holds("_rels/.rels")) {
            auto text = archive_.entry("_rels/.rels", 1 << 20, progress_);
            if (!text) return text;
            pugi::xml_document document;
            if (document.load_buffer(text->data(), text->size()))
                for (const pugi::xml_node r : document.document_element().children())
                    if (text_of(r, "Type").ends_with("/3dmodel")) return without_slash(text_of(r, "Target"));
        }
        for (const std::string& name : archive_.names())
            if (name.ends_with(".model")) return name;
        return bad(ErrorCode::bad_syntax, "it is no 3MF package: there is no model in it");
    }
    static std::string without_slash(std::string_view path) {
        return std::string(path.starts_with('/') ? path.substr(1) : path);
    }

    Result<std::shared_ptr<Model>> model_at(const std::string& part) {
        if (const auto known = models_.find(part); known != models_.end()) return known->second;
        if (models_.size() >= most_parts) return bad(ErrorCode::bad_count, "it has more than 1000 model parts");
        auto text = archive_.entry(part, largest_model, progress_);
        if (!text) return text.error();
        auto model = std::make_shared<Model>();
        model->text = std::move(*text);
        const auto parsed = model->document.load_buffer_inplace(model->text.data(), model->text.size());
        if (parsed.status == pugi::status_out_of_memory)
            return bad(ErrorCode::out_of_memory, "there is not enough memory for it", on_one_line(part));
        if (!parsed)
            return bad(ErrorCode::bad_syntax, std::string("it is no valid XML: ") + parsed.description(),
                       on_one_line(part) + ", byte " + std::to_string(parsed.offset));
        model->root = model->document.document_element();
        if (local(model->root.name()) != "model")
            return bad(ErrorCode::bad_syntax, "its first element is no model", on_one_line(part));
        for (const pugi::xml_node resource : child(model->root, "resources").children()) {
            const std::string_view kind = local(resource.name()), id = text_of(resource, "id");
            if (kind == "object") model->objects.emplace(id, resource);
            if (kind == "basematerials" || kind == "colorgroup") model->materials.emplace(id, materials_of(resource));
        }
        return models_[part] = model;
    }
    static std::vector<Material> materials_of(const pugi::xml_node& group) {
        std::vector<Material> out;
        for (const pugi::xml_node one : group.children()) {
            const auto colour = colour_of(text_of(
                one, local(one.name()) == "base" ? std::string_view("displaycolor") : std::string_view("color")));
            const std::string_view name = text_of(one, "name");
            if (!name.empty())
                out.push_back({std::string(name), colour});
            else if (colour)
                out.push_back(coloured((*colour)[0], (*colour)[1], (*colour)[2]));
            else
                out.push_back({});
        }
        return out;
    }

    /// A namespace that has to be understood and is not; empty where there is none.
    static std::string extension_missing(const pugi::xml_node& root) {
        std::string_view wanted = text_of(root, "requiredextensions");
        while (!wanted.empty()) {
            const std::size_t n = std::min(wanted.find(' '), wanted.size());
            const std::string prefix(wanted.substr(0, n));
            wanted.remove_prefix(std::min(n + 1, wanted.size()));
            if (prefix.empty()) continue;
            const std::string_view name = root.attribute(("xmlns:" + prefix).c_str()).value();
            const bool known = name.find("/material/") != std::string_view::npos ||
                               name.find("/production/") != std::string_view::npos ||
                               name.find("/core/") != std::string_view::npos;
            if (!known) return name.empty() ? prefix : std::string(name);
        }
        return {};
    }

    Result<NamedMesh> item_mesh(const pugi::xml_node& item, const std::string& part, const Matrix& at) {
        NamedMesh out;
        numbers_ = std::make_unique<MaterialNumbers>(out.mesh.materials);
        const std::string_view path = text_of(item, "path");
        if (auto added = add_object(path.empty() ? part : without_slash(path), text_of(item, "objectid"), at, 0, out);
            !added)
            return added.error();
        return out;
    }

    Result<void> add_object(const std::string& part, std::string_view id, const Matrix& at, int depth, NamedMesh& out) {
        const std::string place = "object " + on_one_line(id);
        if (++components_ > most_components)
            return bad(ErrorCode::bad_count, "it puts objects together from more than 100000 components", place);
        if (depth > deepest_components)
            return bad(ErrorCode::bad_count,
                       "components lie more than 64 deep in one another, or an object is a component of itself", place);
        const auto model = model_at(part);
        if (!model) return model.error();
        const auto found = (*model)->objects.find(id);
        if (found == (*model)->objects.end())
            return bad(ErrorCode::bad_index, "there is no object " + in_quotes(id), on_one_line(part));
        const pugi::xml_node object = found->second;
        if (depth == 0) out.name = text_of(object, "name");
        const std::string_view type = text_of(object, "type");
        if (type == "support" || type == "solidsupport") return {};  // made for printing, no part of the model
        if (const pugi::xml_node mesh = child(object, "mesh")) return add_mesh(**model, object, mesh, at, place, out);
        for (const pugi::xml_node component : child(object, "components").children()) {
            if (local(component.name()) != "component") continue;
            const auto matrix = matrix_of(text_of(component, "transform"));
            if (!matrix) return bad(ErrorCode::bad_number, "the transform of a component cannot be read", place);
            const std::string_view path = text_of(component, "path");
            if (auto added = add_object(path.empty() ? part : without_slash(path), text_of(component, "objectid"),
                                        matrix->then(at), depth + 1, out);
                !added)
                return added;
        }
        return {};
    }

    Result<void> add_mesh(const Model& model, const pugi::xml_node& object, const pugi::xml_node& node,
                          const Matrix& at, const std::string& place, NamedMesh& out) {
        Mesh& mesh = out.mesh;
        const std::size_t first = mesh.points.size();
        std::size_t n = 0;
        for (const pugi::xml_node v : child(node, "vertices").children()) {
            if (local(v.name()) != "vertex") continue;
            Vec3 p;
            if (!number(text_of(v, "x"), p.x) || !number(text_of(v, "y"), p.y) || !number(text_of(v, "z"), p.z))
                return bad(ErrorCode::bad_number, "a coordinate is not a finite number",
                           place + ", vertex " + std::to_string(n));
            const Vec3 q = at(p);
            if (!std::isfinite(q.x) || !std::isfinite(q.y) || !std::isfinite(q.z))
                return bad(ErrorCode::bad_number, "its transform takes a point out of the range of numbers",
                           place + ", vertex " + std::to_string(n));
            mesh.points.push_back(q);
            ++n;
        }
        const auto own = property(model, object, "pid", "pindex");
        const bool flip = at.mirrors();
        std::size_t f = 0;
        for (const pugi::xml_node t : child(node, "triangles").children()) {
            if (local(t.name()) != "triangle") continue;
            std::uint32_t corner[3] = {};
            const char* const names[] = {"v1", "v2", "v3"};
            for (int k = 0; k < 3; ++k)
                if (!number(text_of(t, names[k]), corner[k]) || corner[k] >= n)
                    return bad(ErrorCode::bad_index,
                               "a corner is no vertex of the object: " + in_quotes(text_of(t, names[k])),
                               place + ", triangle " + std::to_string(f));
            if (mesh.faces.size() >= most_faces)
                return bad(ErrorCode::bad_count, "it holds more than 100 million triangles", place);
            if (flip) std::swap(corner[1], corner[2]);
            auto id = [&](int k) { return VertexId(static_cast<std::uint32_t>(first + corner[k])); };
            mesh.faces.push_back({id(0), id(1), id(2)});
            auto material = attribute(t, "pid") || attribute(t, "p1") ? property(model, t, "pid", "p1") : own;
            if (!material && attribute(t, "p1") && !attribute(t, "pid"))
                material = by_index(model, text_of(object, "pid"), text_of(t, "p1"));
            add_material(mesh, material);
            ++f;
        }
        return {};
    }

    static std::optional<Material> by_index(const Model& model, std::string_view group, std::string_view index) {
        const auto at = model.materials.find(group);
        std::uint32_t k = 0;
        if (at == model.materials.end() || (!index.empty() && !number(index, k)) || k >= at->second.size()) return {};
        const Material& found = at->second[k];
        return found == Material() || found.name == no_material_3mf ? std::nullopt : std::optional(found);
    }
    static std::optional<Material> property(const Model& model, const pugi::xml_node& node, const char* group,
                                            const char* index) {
        return by_index(model, text_of(node, group), text_of(node, index));
    }

    void add_material(Mesh& mesh, const std::optional<Material>& material) {
        if (!material && mesh.material.empty()) return;
        mesh.material.raw().resize(mesh.faces.size() - 1, no_material);
        mesh.material.push_back(material ? numbers_->number(*material) : no_material);
    }

    ArchiveReader archive_;
    Progress progress_;
    std::map<std::string, std::shared_ptr<Model>> models_;
    std::unique_ptr<MaterialNumbers> numbers_;
    std::size_t components_ = 0;
};

}  // namespace

Result<std::vector<NamedMesh>> parse_3mf(std::string_view bytes) {
    auto archive = ArchiveReader::open(bytes);
    if (!archive) return Error{archive.error().code, "it is no 3MF package: " + archive.error().text, ""};
    return Package(std::move(*archive)).read();
}

}  // namespace anvil::io_detail
