#include "core/mesh/primitives.h"

#include <algorithm>
#include <map>
#include <numbers>
#include <numeric>

#include "core/mesh/circle.h"

namespace anvil {
namespace {

void add_face(Mesh& m, std::size_t a, std::size_t b, std::size_t c) {
    if (a == b || b == c || c == a) return;
    m.faces.push_back({VertexId(a), VertexId(b), VertexId(c)});
}
void add_quad(Mesh& m, std::size_t a, std::size_t b, std::size_t c, std::size_t d) {
    add_face(m, a, b, c);
    add_face(m, a, c, d);
}

}  // namespace

Mesh make_box(const Vec3& low, const Vec3& high) {
    Mesh m;
    for (int k = 0; k < 8; ++k)
        m.points.push_back({k & 1 ? high.x : low.x, k & 2 ? high.y : low.y, k & 4 ? high.z : low.z});
    add_quad(m, 0, 2, 3, 1);
    add_quad(m, 4, 5, 7, 6);
    add_quad(m, 0, 1, 5, 4);
    add_quad(m, 2, 6, 7, 3);
    add_quad(m, 0, 4, 6, 2);
    add_quad(m, 1, 3, 7, 5);
    return m;
}

Mesh make_frustum(double r0, double r1, double z0, double z1, int sides) {
    const std::vector<Point2> profile = {{0, z0}, {r0, z0}, {r1, z1}, {0, z1}};
    std::vector<Point2> trimmed;
    for (const Point2& p : profile)
        if (trimmed.empty() || p.u != trimmed.back().u || p.v != trimmed.back().v) trimmed.push_back(p);
    return make_revolution(trimmed, sides);
}

Mesh make_sphere(const Vec3& center, double radius, int rings, int sides) {
    std::vector<Point2> profile;
    for (int k = 0; k <= rings; ++k) {
        const double angle = std::numbers::pi * k / rings;
        const bool pole = k == 0 || k == rings;
        profile.push_back({pole ? 0 : radius * std::sin(angle), -radius * std::cos(angle)});
    }
    Mesh m = make_revolution(profile, sides);
    for (Vec3& p : m.points) p = p + center;
    return m;
}

Mesh make_icosphere(const Vec3& center, double radius, int levels) {
    Mesh m;
    const double g = std::numbers::phi;
    for (const Vec3& p : {Vec3{-1, g, 0},
                          {1, g, 0},
                          {-1, -g, 0},
                          {1, -g, 0},
                          {0, -1, g},
                          {0, 1, g},
                          {0, -1, -g},
                          {0, 1, -g},
                          {g, 0, -1},
                          {g, 0, 1},
                          {-g, 0, -1},
                          {-g, 0, 1}})
        m.points.push_back(normalized(p));
    for (const auto& f : {std::array<int, 3>{0, 11, 5},
                          {0, 5, 1},
                          {0, 1, 7},
                          {0, 7, 10},
                          {0, 10, 11},
                          {1, 5, 9},
                          {5, 11, 4},
                          {11, 10, 2},
                          {10, 7, 6},
                          {7, 1, 8},
                          {3, 9, 4},
                          {3, 4, 2},
                          {3, 2, 6},
                          {3, 6, 8},
                          {3, 8, 9},
                          {4, 9, 5},
                          {2, 4, 11},
                          {6, 2, 10},
                          {8, 6, 7},
                          {9, 8, 1}})
        add_face(m, f[0], f[1], f[2]);
    for (int level = 0; level < levels; ++level) {
        std::map<std::pair<VertexId, VertexId>, VertexId> middle;
        auto between = [&](VertexId a, VertexId b) {
            const auto [at, fresh] = middle.try_emplace(std::pair(std::min(a, b), std::max(a, b)));
            if (fresh) at->second = m.points.push_back(normalized(m.points[a] + m.points[b]));
            return at->second;
        };
        IdVector<FaceId, Triangle> finer;
        finer.reserve(m.faces.size() * 4);
        for (const auto& [a, b, c] : m.faces.raw()) {
            const VertexId ab = between(a, b), bc = between(b, c), ca = between(c, a);
            finer.push_back({a, ab, ca});
            finer.push_back({ab, b, bc});
            finer.push_back({ca, bc, c});
            finer.push_back({ab, bc, ca});
        }
        m.faces = std::move(finer);
    }
    for (Vec3& p : m.points) p = center + radius * p;
    return m;
}

Mesh make_torus(double major, double minor, int around, int across) {
    Mesh m;
    for (int i = 0; i < around; ++i)
        for (int j = 0; j < across; ++j) {
            const Point2 a = on_circle(i, around), b = on_circle(j, across);
            const double r = major + minor * b.u;
            m.points.push_back({r * a.u, r * a.v, minor * b.v});
        }
    auto at = [&](int i, int j) { return static_cast<std::size_t>(i % around * across + j % across); };
    for (int i = 0; i < around; ++i)
        for (int j = 0; j < across; ++j) add_quad(m, at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1));
    return m;
}

Mesh make_prism(std::span<const Point2> outline, double z0, double z1) {
    Mesh m;
    const std::size_t n = outline.size();
    for (double z : {z0, z1})
        for (const Point2& p : outline) m.points.push_back({p.u, p.v, z});
    for (const auto& [a, b, c] : triangulate_outline(outline)) {
        add_face(m, a, c, b);
        add_face(m, n + a, n + b, n + c);
    }
    for (std::size_t i = 0; i < n; ++i) add_quad(m, i, (i + 1) % n, n + (i + 1) % n, n + i);
    return m;
}

Mesh make_revolution(std::span<const Point2> profile, int sides) {
    Mesh m;
    std::vector<std::size_t> first(profile.size());
    for (std::size_t i = 0; i < profile.size(); ++i) {
        first[i] = m.points.size();
        for (int k = 0; k < (profile[i].u == 0 ? 1 : sides); ++k) {
            const Point2 c = on_circle(k, sides);
            m.points.push_back({profile[i].u * c.u, profile[i].u * c.v, profile[i].v});
        }
    }
    auto at = [&](std::size_t i, int k) {
        return first[i] + (profile[i].u == 0 ? 0 : static_cast<std::size_t>(k % sides));
    };
    for (std::size_t i = 0; i < profile.size(); ++i) {
        const std::size_t j = (i + 1) % profile.size();
        if (profile[i].u == 0 && profile[j].u == 0) continue;
        for (int k = 0; k < sides; ++k) add_quad(m, at(i, k), at(i, k + 1), at(j, k + 1), at(j, k));
    }
    return m;
}

Mesh make_plate(const Vec3& center, double width, double depth) {
    Mesh mesh;
    for (const auto& [u, v] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
        mesh.points.push_back(center + Vec3{u * width / 2, v * depth / 2, 0});
    mesh.faces.push_back({VertexId(0), VertexId(1), VertexId(2)});
    mesh.faces.push_back({VertexId(0), VertexId(2), VertexId(3)});
    return mesh;
}

}  // namespace anvil
