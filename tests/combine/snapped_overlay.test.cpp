// Triangles laid over each other with rounded crossings: judged by exact predicates and by areas.
#include "core/combine/snapped_overlay.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/exact/predicates.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

constexpr double grid = 0x1p-40;

double area2(const Vec3& a, const Vec3& b, const Vec3& c) { return cross(b - a, c - a).z; }

struct Flat {
    std::vector<Vec3> points;
    std::vector<FlatFace> faces;
    std::vector<int> times;  // -1 where a face is clockwise

    explicit Flat(const Mesh& mesh) : points(mesh.points.raw()) {
        for (const Triangle& t : mesh.faces) {
            faces.push_back({t[0].value(), t[1].value(), t[2].value()});
            times.push_back(orient2d(mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]], 2));
        }
    }
    std::vector<FlatEdge> edges() const { return flat_edges(points, faces, times); }
};

SnappedOverlay laid_over(const Flat& flat) {
    Progress progress;
    auto done = snapped_overlay(flat.points, flat.edges(), grid, 100000, progress);
    REQUIRE(done);
    REQUIRE(*done);
    return std::move(**done);
}

/// How often faces lie over a place, by their own corners; nothing where it is near an edge.
std::optional<int> times_at(const Flat& flat, const Vec3& p) {
    int times = 0;
    for (std::size_t f = 0; f < flat.faces.size(); ++f) {
        int left = 0;
        for (std::size_t k = 0; k < 3; ++k) {
            const Vec3 &a = flat.points[flat.faces[f][k]], &b = flat.points[flat.faces[f][(k + 1) % 3]];
            const double beside = area2(a, b, p) / norm(b - a);
            const double along = dot(p - a, b - a) / dot(b - a, b - a);
            if (std::abs(beside) < 64 * grid && along > -1e-6 && along < 1 + 1e-6) return std::nullopt;
            left += beside > 0 ? 1 : -1;
        }
        if (std::abs(left) == 3) times += flat.times[f];
    }
    return times;
}

/// Parts are counter-clockwise and share edges, of which none is used twice one way; they are covered as often as the
/// faces say, each also by the face that it names.
void check_sound(const Mesh& triangles, const SnappedOverlay& overlay) {
    const Flat flat(triangles);
    bool counter_clockwise = true, as_often = true, counts_alike = true;
    std::set<std::pair<std::uint32_t, std::uint32_t>> edges;
    std::size_t uses = 0;
    double signed_area = 0;
    for (const SnappedOverlay::Part& part : overlay.parts) {
        const FlatFace& t = part.corners;
        const Vec3 &a = overlay.points[t[0]], &b = overlay.points[t[1]], &c = overlay.points[t[2]];
        counter_clockwise = counter_clockwise && orient2d(a, b, c, 2) > 0;
        for (std::size_t k = 0; k < 3; ++k, ++uses) edges.insert({t[k], t[(k + 1) % 3]});
        signed_area += part.times * area2(a, b, c);
        const auto times = times_at(flat, (a + b + c) * (1.0 / 3));
        as_often = as_often && (!times || *times == part.times);
        counts_alike =
            counts_alike && part.face >= 0 && (flat.times[static_cast<std::size_t>(part.face)] > 0) == (part.times > 0);
    }
    CHECK(counter_clockwise);
    CHECK(edges.size() == uses);
    CHECK(as_often);
    CHECK(counts_alike);
    double own = 0, length = 0;
    for (const FaceId f : ids<FaceId>(triangles.faces.size())) {
        own += area2(triangles.corner(f, 0), triangles.corner(f, 1), triangles.corner(f, 2));
        for (int k = 0; k < 3; ++k) length += norm(triangles.corner(f, (k + 1) % 3) - triangles.corner(f, k));
    }
    CHECK(std::abs(signed_area - own) <= 2 * length * (overlay.rounds + 1) * grid);
    // Each rim runs from end to end through all points on its way.
    std::set<std::pair<std::uint32_t, std::uint32_t>> steps;
    bool ends = true, through = true;
    for (const auto& [edge, along] : overlay.along) {
        ends = ends && along.front() == edge.first && along.back() == edge.second;
        for (std::size_t i = 0; i + 1 < along.size(); ++i) steps.insert(std::minmax(along[i], along[i + 1]));
    }
    for (const auto& [from, to] : steps) {
        const Vec3 &a = overlay.points[from], &b = overlay.points[to];
        for (std::uint32_t v = 0; v < overlay.points.size(); ++v) {
            const Vec3& p = overlay.points[v];
            if (v != from && v != to && dot(p - a, b - a) > 0 && dot(p - b, a - b) > 0)
                through = through && orient2d(a, b, p, 2) != 0;
        }
    }
    CHECK(ends);
    CHECK(through);
}

void add_triangle(Mesh& mesh, const Vec3& a, const Vec3& b, const Vec3& c) {
    const auto first = static_cast<std::uint32_t>(mesh.points.size());
    for (const Vec3& p : {a, b, c}) mesh.points.push_back(p);
    mesh.faces.push_back({VertexId(first), VertexId(first + 1), VertexId(first + 2)});
}

}  // namespace

TEST_CASE("two triangles across each other: what both cover, wound against each other, is not there") {
    Mesh mesh;
    add_triangle(mesh, {0, 0, 0}, {3, 0, 0}, {0, 3, 0});
    add_triangle(mesh, {1, 1, 0}, {1, -2, 0}, {-2, 1, 0});
    const SnappedOverlay overlay = laid_over(Flat(mesh));
    check_sound(mesh, overlay);
    double up = 0, down = 0;
    for (const SnappedOverlay::Part& part : overlay.parts) {
        const FlatFace& t = part.corners;
        (part.times > 0 ? up : down) += area2(overlay.points[t[0]], overlay.points[t[1]], overlay.points[t[2]]) / 2;
    }
    CHECK(up == 4.5 - 1);
    CHECK(down == 4.5 - 1);
}

TEST_CASE("a corner on another's edge is on its way, though nothing crosses there") {
    Mesh mesh;
    add_triangle(mesh, {0, 0, 0}, {4, 0, 0}, {0, 4, 0});
    add_triangle(mesh, {2, 0, 0}, {3, -1, 0}, {4, -1, 0});
    const SnappedOverlay overlay = laid_over(Flat(mesh));
    check_sound(mesh, overlay);
    CHECK(overlay.along.at({0, 1}) == std::vector<std::uint32_t>{0, 3, 1});
}

TEST_CASE("a bundle of needles that nearly coincide settles on common edges") {
    // Their edges cross all along at angles that rounding cannot keep: crossings alone, rounded again and again,
    // doubled from round to round.
    std::mt19937 random(11);
    std::uniform_real_distribution<double> hair(-4 * grid, 4 * grid), along(0, 1);
    for (int round = 0; round < 6; ++round) {
        Mesh mesh;
        for (int i = 0; i < 8; ++i) {
            auto point = [&](double s) { return Vec3{10 * s, 3 * s + hair(random), 0}; };
            const Vec3 a = point(along(random)), b = point(along(random)), c = point(along(random));
            if (!collinear(a, b, c)) add_triangle(mesh, a, b, c);
        }
        check_sound(mesh, laid_over(Flat(mesh)));
    }
}

TEST_CASE("a triangulated plate over its own copy, slid by a hair") {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> by(-1e-9, 1e-9);
    for (int round = 0; round < 6; ++round) {
        Mesh mesh;
        const Vec3 slide = round % 2 ? Vec3{by(random), 0, 0} : Vec3{by(random), by(random), 0};
        for (const Vec3& shift : {Vec3{}, slide})
            for (int i = 0; i < 16; ++i) {
                const double a = 2 * std::numbers::pi * i / 16, b = 2 * std::numbers::pi * (i + 1) / 16;
                add_triangle(mesh, shift, Vec3{7 * std::cos(a), 7 * std::sin(a), 0} + shift,
                             Vec3{7 * std::cos(b), 7 * std::sin(b), 0} + shift);
            }
        // Points in one place are one.
        const Mesh one = welded(mesh);
        check_sound(one, laid_over(Flat(one)));
    }
}

TEST_CASE("within what is covered, faces stay where nothing is in their way, and nothing is split") {
    // A quad over one of the two triangles of another.
    Mesh mesh;
    const Vec3 outer[] = {{0, 0, 0}, {8, 0, 0}, {8, 8, 0}, {0, 8, 0}},
               inner[] = {{4, 1, 0}, {6, 1, 0}, {6, 3, 0}, {4, 3, 0}};
    for (const auto& q : {outer, inner}) {
        const auto first = static_cast<std::uint32_t>(mesh.points.size());
        for (int k = 0; k < 4; ++k) mesh.points.push_back(q[k]);
        for (std::uint32_t k : {1u, 2u})
            mesh.faces.push_back({VertexId(first), VertexId(first + k), VertexId(first + k + 1)});
    }
    const SnappedOverlay overlay = laid_over(Flat(mesh));
    check_sound(mesh, overlay);
    CHECK(overlay.points.size() == mesh.points.size());
    CHECK(overlay.rounds == 0);
    std::set<std::set<std::uint32_t>> parts;
    for (const SnappedOverlay::Part& part : overlay.parts)
        parts.insert({part.corners[0], part.corners[1], part.corners[2]});
    CHECK(parts.contains({0, 2, 3}));
    CHECK(parts.contains({4, 5, 6}));
    CHECK(parts.contains({4, 6, 7}));
}

TEST_CASE("a heap with too many crossings is given up, and work is stopped") {
    Mesh mesh;
    for (int i = 0; i < 60; ++i) {
        const double a = std::numbers::pi * i / 60;
        const Vec3 way{std::cos(a), std::sin(a), 0}, off = Vec3{-way.y, way.x, 0} * (0.01 * (i % 7));
        add_triangle(mesh, off - way, off + way, off + way * 0.9 + Vec3{-way.y, way.x, 0} * 1e-3);
    }
    Progress progress;
    const Flat flat(mesh);
    const auto given_up = snapped_overlay(flat.points, flat.edges(), grid, 300, progress);
    REQUIRE(given_up);
    CHECK(!*given_up);
    progress.cancel();
    const auto stopped = snapped_overlay(flat.points, flat.edges(), grid, 100000, progress);
    REQUIRE(!stopped);
    CHECK(stopped.error().is_cancel());
}
