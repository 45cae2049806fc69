#include "core/mesh/mesh.h"

#include "core/mesh/weld.h"

namespace anvil {
WeldMap weld_map(std::span<const Vec3> points) {
    WeldMap map;
    map.group.resize(points.size());
    std::size_t capacity = 16;
    while (capacity < points.size() * 2) capacity *= 2;
    constexpr std::uint32_t vacant = 0xffffffffu;
    std::vector<std::uint32_t> slots(capacity, vacant);  // open addressing, holds the first point of a group
    for (std::uint32_t i = 0; i < points.size(); ++i) {
        std::size_t slot = CoordinateHash{}(points[i]) & (capacity - 1);
        while (slots[slot] != vacant && !(points[slots[slot]] == points[i])) slot = (slot + 1) & (capacity - 1);
        if (slots[slot] == vacant) {
            slots[slot] = i;
            map.group[i] = map.groups++;
        } else {
            map.group[i] = map.group[slots[slot]];
        }
    }
    return map;
}

Mesh welded(const Mesh& mesh) {
    const WeldMap map = weld_map(mesh.points.raw());
    Mesh out;
    out.faces = mesh.faces;
    out.materials = mesh.materials;
    out.material = mesh.material;
    std::vector<VertexId> number(map.groups);
    for (Triangle& face : out.faces)
        for (VertexId& v : face) {
            VertexId& n = number[map.group[v.value()]];
            if (!n.valid()) n = out.points.push_back(mesh.points[v]);
            v = n;
        }
    return out;
}

void turn_over(Mesh& mesh) {
    for (Triangle& face : mesh.faces) std::swap(face[1], face[2]);
}

void append(Mesh& mesh, const Mesh& other) {
    const std::size_t offset = mesh.points.size();
    mesh.points.raw().insert(mesh.points.end(), other.points.begin(), other.points.end());
    mesh.faces.reserve(mesh.faces.size() + other.faces.size());
    for (const Triangle& f : other.faces)
        mesh.faces.push_back(
            {VertexId(f[0].value() + offset), VertexId(f[1].value() + offset), VertexId(f[2].value() + offset)});
    if (mesh.material.empty() && other.material.empty()) return;
    const std::size_t before = mesh.faces.size() - other.faces.size();
    mesh.material.raw().resize(mesh.faces.size(), no_material);
    if (other.material.empty()) return;
    MaterialNumbers numbers(mesh.materials);
    std::vector<std::uint32_t> number;
    for (const Material& m : other.materials) number.push_back(numbers.number(m));
    for (FaceId f : ids<FaceId>(other.faces.size()))
        if (other.material[f] != no_material) mesh.material[FaceId(before + f.value())] = number[other.material[f]];
}

}  // namespace anvil
