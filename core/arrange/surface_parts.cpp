#include "core/arrange/surface_parts.h"

#include "core/arrange/close_holes.h"
#include "core/mesh/measures.h"
#include "core/mesh/regions.h"

namespace anvil {
namespace {

constexpr std::string_view sheet_words[] = {"leave", "thicken", "close"};

/// Per part, whether it lies in the plane of its largest face.
std::vector<char> find_flat(const Mesh& mesh, std::span<const std::uint32_t> part_of, std::size_t parts) {
    struct Plane {
        double area = 0;
        Vec3 at, normal;
        Box box;
        double off = 0;  // mm, how far a point lies off it at most
    };
    std::vector<Plane> planes(parts);
    for (std::size_t f = 0; f < part_of.size(); ++f) {
        Plane& plane = planes[part_of[f]];
        const Triangle& t = mesh.faces[FaceId(f)];
        const Vec3 n = cross(mesh.points[t[1]] - mesh.points[t[0]], mesh.points[t[2]] - mesh.points[t[0]]);
        for (const VertexId v : t) plane.box.add(mesh.points[v]);
        if (norm(n) > plane.area) plane.area = norm(n), plane.at = mesh.points[t[0]], plane.normal = normalized(n);
    }
    for (std::size_t f = 0; f < part_of.size(); ++f) {
        Plane& plane = planes[part_of[f]];
        for (const VertexId v : mesh.faces[FaceId(f)])
            plane.off = std::max(plane.off, std::fabs(dot(mesh.points[v] - plane.at, plane.normal)));
    }
    std::vector<char> flat;
    for (const Plane& plane : planes) flat.push_back(plane.off <= 1e-6 * plane.box.diagonal());
    return flat;
}

}  // namespace

std::string_view word(SheetRule rule) { return sheet_words[static_cast<int>(rule)]; }
std::optional<SheetRule> sheet_rule_from(std::string_view w) {
    for (const SheetRule rule : {SheetRule::leave, SheetRule::thicken, SheetRule::close})
        if (word(rule) == w) return rule;
    return std::nullopt;
}

bool is_flat(const Mesh& mesh) {
    const std::vector<std::uint32_t> one(mesh.faces.size(), 0);
    return find_flat(mesh, one, 1).front() != 0;
}

SurfaceParts find_surface_parts(const Mesh& mesh, std::span<const UnbalancedEdge> unbalanced) {
    auto face_area = [&](const Triangle& t) {
        return triangle_area(mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]]);
    };
    std::vector<std::uint32_t> number;
    const std::uint32_t count = points_joined_by_faces(mesh).number(number);
    SurfaceParts parts;
    parts.area.resize(count, 0);
    parts.missing.resize(count, 0);
    parts.holes.resize(count);
    for (const Triangle& t : mesh.faces) {
        parts.of_face.push_back(number[t[0].value()]);
        parts.area[parts.of_face.back()] += face_area(t);
    }
    for (auto& loop : find_missing_loops(unbalanced)) {
        const std::uint32_t part = number[loop.front().value()];
        SurfaceParts::Hole hole{std::move(loop), {}};
        hole.fill = smallest_fill(mesh, hole.rim);
        for (const Triangle& t : hole.fill) parts.missing[part] += face_area(t);
        parts.holes[part].push_back(std::move(hole));
    }
    parts.flat = find_flat(mesh, parts.of_face, count);
    return parts;
}

}  // namespace anvil
