#include "core/inspect/finding_lines.h"

#include <algorithm>
#include <array>

namespace anvil {
namespace {

using Line = std::vector<Vec3>;

Line outline(const Mesh& mesh, FaceId f) {
    return {mesh.corner(f, 0), mesh.corner(f, 1), mesh.corner(f, 2), mesh.corner(f, 0)};
}

/// Where the edges of face a go through the plane of face b.
std::vector<Vec3> through_plane(const Mesh& mesh, FaceId a, FaceId b) {
    const Vec3& origin = mesh.corner(b, 0);
    const Vec3 normal = cross(mesh.corner(b, 1) - origin, mesh.corner(b, 2) - origin);
    std::array<double, 3> side{};
    for (int k = 0; k < 3; ++k) {
        const VertexId v = mesh.faces[a][k];
        const bool shared = std::ranges::find(mesh.faces[b], v) != mesh.faces[b].end();
        side[static_cast<std::size_t>(k)] = shared ? 0 : dot(mesh.points[v] - origin, normal);
    }
    std::vector<Vec3> out;
    for (std::size_t k = 0; k < 3; ++k) {
        const std::size_t next = (k + 1) % 3;
        const Vec3 &p = mesh.corner(a, static_cast<int>(k)), &q = mesh.corner(a, static_cast<int>(next));
        if (side[k] == 0) out.push_back(p);
        if ((side[k] < 0 && side[next] > 0) || (side[k] > 0 && side[next] < 0))
            out.push_back(p + (q - p) * (side[k] / (side[k] - side[next])));
    }
    return out;
}

/// The piece of line that two faces have in common: nothing where they lie in one plane, empty where they only just
/// meet.
std::optional<Line> common_piece(const Mesh& mesh, FaceId a, FaceId b) {
    const std::vector<Vec3> of_a = through_plane(mesh, a, b), of_b = through_plane(mesh, b, a);
    if (of_a.size() == 3) return std::nullopt;
    if (of_a.size() != 2 || of_b.size() != 2) return Line{};
    const Vec3 way = of_a[1] - of_a[0];
    auto along = [&](const Vec3& p) { return dot(p - of_a[0], way); };
    std::array<Vec3, 2> first{of_a[0], of_a[1]}, second{of_b[0], of_b[1]};
    if (along(second[1]) < along(second[0])) std::swap(second[0], second[1]);
    const Vec3 from = along(second[0]) > along(first[0]) ? second[0] : first[0];
    const Vec3 to = along(second[1]) < along(first[1]) ? second[1] : first[1];
    return along(to) > along(from) ? Line{from, to} : Line{};
}

}  // namespace

std::vector<std::vector<Vec3>> lines_of(const Inspection& inspection, FindingKind kind) {
    const Mesh& mesh = inspection.mesh;
    std::vector<Line> lines;
    for (const Finding& f : inspection.findings) {
        if (f.kind != kind) continue;
        if (kind == FindingKind::self_intersections) {
            if (auto piece = common_piece(mesh, f.faces[0], f.faces[1])) {
                if (!piece->empty()) lines.push_back(std::move(*piece));
                continue;
            }
        } else if (f.vertices.size() >= 2) {
            Line line;
            for (const VertexId v : f.vertices) line.push_back(mesh.points[v]);
            if (f.vertices.size() > 2) line.push_back(line.front());
            lines.push_back(std::move(line));
            continue;
        }
        for (const FaceId face : f.faces) lines.push_back(outline(mesh, face));
    }
    return lines;
}

Selection selection_of(const Inspection& inspection, FindingKind finding, ElementKind kind) {
    const Mesh& mesh = inspection.mesh;
    Selection out{kind, {}};
    std::vector<Element> elements;
    for (const Finding& f : inspection.findings) {
        if (f.kind != finding) continue;
        const std::size_t n = f.vertices.size();
        if (kind == ElementKind::points && n > 0) {
            for (const VertexId v : f.vertices) elements.push_back(point_element(v));
        } else if (kind == ElementKind::edges && n >= 2) {
            for (std::size_t i = 0; i < (n == 2 ? 1 : n); ++i)
                elements.push_back(edge_element(f.vertices[i], f.vertices[(i + 1) % n]));
        } else {
            for (const FaceId face : f.faces) {
                const Triangle& t = mesh.faces[face];
                if (kind == ElementKind::faces) elements.push_back(face_element(t));
                for (std::size_t k = 0; k < 3; ++k)
                    if (kind == ElementKind::points)
                        elements.push_back(point_element(t[k]));
                    else if (kind == ElementKind::edges)
                        elements.push_back(edge_element(t[k], t[(k + 1) % 3]));
            }
        }
    }
    out.add(elements);
    return out;
}

}  // namespace anvil
