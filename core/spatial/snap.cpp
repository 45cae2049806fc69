#include "core/spatial/snap.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>

#include "core/mesh/disjoint_sets.h"
#include "core/mesh/edge_table.h"

namespace anvil {
namespace {

Vec3 normal_of(const Mesh& mesh, FaceId f) {
    return normalized(cross(mesh.corner(f, 1) - mesh.corner(f, 0), mesh.corner(f, 2) - mesh.corner(f, 0)));
}
/// The points of a loop at which it turns: cutting leaves others on its straight stretches.
std::vector<Vec3> corners_of(const std::vector<Vec3>& loop) {
    std::vector<Vec3> out;
    for (std::size_t k = 0; k < loop.size(); ++k) {
        const Vec3 &p = loop[k], &before = loop[(k + loop.size() - 1) % loop.size()],
                   &next = loop[(k + 1) % loop.size()];
        if (norm(cross(normalized(p - before), normalized(next - p))) > 1e-4) out.push_back(p);
    }
    return out;
}
constexpr double flat = 1 - 1e-8;  // cosine: under a hundredth of a degree

}  // namespace

SnapPlaces::SnapPlaces(const Mesh& mesh) : mesh_(welded(mesh)) {
    // Welding keeps the faces' order and number.
    first_.assign(mesh_.points.size() + 1, 0);
    for (const Triangle& t : mesh_.faces)
        for (const VertexId v : t) ++first_[v.value() + 1];
    for (std::size_t k = 1; k < first_.size(); ++k) first_[k] += first_[k - 1];
    faces_.resize(first_.back());
    std::vector<std::uint32_t> at(first_.begin(), first_.end() - 1);
    for (const FaceId f : ids<FaceId>(mesh_.faces.size()))
        for (const VertexId v : mesh_.faces[f]) faces_[at[v.value()]++] = f.value();
    find_sides();
}

void SnapPlaces::find_sides() {
    constexpr std::size_t most = 64;
    std::vector<Vec3> normals;
    for (const FaceId f : ids<FaceId>(mesh_.faces.size())) normals.push_back(normal_of(mesh_, f));
    DisjointSets flat_faces(mesh_.faces.size());
    const EdgeTable table(std::span(mesh_.faces.raw()), mesh_.points.size());
    for (const EdgeId e : ids<EdgeId>(table.size())) {
        const auto uses = table.uses(e);
        for (std::size_t k = 1; k < uses.size(); ++k)
            if (dot(normals[uses[0] / 3], normals[uses[k] / 3]) >= flat) flat_faces.join(uses[0] / 3, uses[k] / 3);
    }
    std::vector<std::uint32_t> number;
    sides_.resize(flat_faces.number(number));
    for (const FaceId f : ids<FaceId>(mesh_.faces.size())) {
        const Vec3 a = mesh_.corner(f, 0);
        FlatSide& side = sides_[number[f.value()]];
        const double area = 0.5 * norm(cross(mesh_.corner(f, 1) - a, mesh_.corner(f, 2) - a));
        if (side.area == 0 && area > 0) side = {a, normals[f.value()], 0};
        side.area += area;
    }
    std::erase_if(sides_, [](const FlatSide& side) { return !(side.area > 0); });
    std::ranges::stable_sort(sides_, std::greater(), &FlatSide::area);
    if (sides_.size() > most) sides_.resize(most);
}

std::vector<FaceId> SnapPlaces::flat_face(FaceId face) const {
    constexpr std::size_t most = 20'000;
    const Vec3 n = normal_of(mesh_, face);
    std::vector<FaceId> out{face};
    std::set<FaceId> seen{face};
    for (std::size_t k = 0; k < out.size() && out.size() < most; ++k) {
        const Triangle& t = mesh_.faces[out[k]];
        for (int i = 0; i < 3; ++i) {
            const VertexId a = t[static_cast<std::size_t>(i)], b = t[static_cast<std::size_t>((i + 1) % 3)];
            for (std::uint32_t j = first_[a.value()]; j < first_[a.value() + 1]; ++j) {
                const FaceId other(faces_[j]);
                const Triangle& o = mesh_.faces[other];
                if (std::ranges::find(o, b) == o.end() || seen.contains(other)) continue;
                if (dot(normal_of(mesh_, other), n) < flat) continue;
                seen.insert(other);
                out.push_back(other);
            }
        }
    }
    return out;
}

std::vector<SnapPlace> SnapPlaces::about(FaceId face) const {
    std::vector<SnapPlace> out;
    if (face.value() >= mesh_.faces.size()) return out;
    const Vec3 n = normal_of(mesh_, face);
    if (!(norm(n) > 0.5)) return out;
    const std::vector<FaceId> region = flat_face(face);
    // Its outline: edges that one of its faces has.
    std::map<std::pair<VertexId, VertexId>, int> runs;
    Vec3 middle;
    double area = 0;
    for (const FaceId f : region) {
        const Triangle& t = mesh_.faces[f];
        for (std::size_t k = 0; k < 3; ++k) ++runs[{t[k], t[(k + 1) % 3]}];
        const Vec3 &a = mesh_.corner(f, 0), &b = mesh_.corner(f, 1), &c = mesh_.corner(f, 2);
        const double twice = norm(cross(b - a, c - a));
        area += twice;
        middle = middle + (a + b + c) * (twice / 3);
    }
    std::map<VertexId, VertexId> next;
    for (const auto& [edge, count] : runs)
        if (!runs.contains({edge.second, edge.first})) next.emplace(edge.first, edge.second);
    const Triangle& own = mesh_.faces[face];
    for (std::size_t k = 0; k < 3; ++k) {
        out.push_back({SnapPlace::Kind::corner, mesh_.points[own[k]], n});
        const VertexId a = own[k], b = own[(k + 1) % 3];
        if (const auto at = next.find(a); at != next.end() && at->second == b)
            out.push_back({SnapPlace::Kind::edge_middle, (mesh_.points[a] + mesh_.points[b]) * 0.5, n});
    }
    if (area > 0) out.push_back({SnapPlace::Kind::face_middle, middle * (1 / area), n});
    while (!next.empty()) {
        std::vector<Vec3> loop;
        for (auto at = next.begin(); at != next.end();) {
            loop.push_back(mesh_.points[at->first]);
            const VertexId to = at->second;
            next.erase(at);
            at = next.find(to);
        }
        if (const FittedCircle circle = circle_through(corners_of(loop)); circle.radius > 0)
            out.push_back({SnapPlace::Kind::circle_centre, circle.centre, n, circle.radius});
    }
    return out;
}

FittedCircle circle_through(const std::vector<Vec3>& points) {
    if (points.size() < 8) return {};
    // Through three points far from each other: the circle about their triangle.
    const Vec3 &a = points[0], &b = points[points.size() / 3], &c = points[2 * points.size() / 3];
    const Vec3 u = b - a, v = c - a, w = cross(u, v);
    const double ww = dot(w, w);
    if (!(ww > 0)) return {};
    const Vec3 to_centre = (cross(w, u) * dot(v, v) + cross(v, w) * dot(u, u)) * (1 / (2 * ww));
    FittedCircle out{a + to_centre, norm(to_centre)};
    for (const Vec3& p : points)
        if (!(std::fabs(norm(p - out.centre) - out.radius) <= 1e-3 * out.radius)) return {};
    return out;
}

FlatSide placed(const FlatSide& side, const Transform& stands) {
    return {apply(stands, side.place), normalized(apply(stands, side.normal) - apply(stands, Vec3{})), side.area};
}

std::optional<FaceToFace> face_to_face(std::span<const FlatSide> own, std::span<const FlatSide> others,
                                       const Vec3& along, double freely, double reach) {
    // Sides that nearly run along the direction would need a long way.
    constexpr double least_slope = 0.2;
    std::optional<FaceToFace> out;
    for (const FlatSide& side : own) {
        if (std::fabs(dot(side.normal, along)) <= least_slope) continue;
        for (std::size_t k = 0; k < others.size(); ++k) {
            const FlatSide& other = others[k];
            const double turned = dot(side.normal, other.normal);
            if (std::fabs(turned) < 1 - 1e-9) continue;
            const double travel = dot(other.place - side.place, other.normal) / dot(along, other.normal);
            if (std::fabs(travel - freely) >= reach) continue;
            reach = std::fabs(travel - freely);
            out = FaceToFace{travel, k, turned < 0};
        }
    }
    return out;
}

double angle_between(const Vec3& a, const Vec3& b) {
    return std::atan2(norm(cross(a, b)), dot(a, b)) * 180 / std::numbers::pi;
}

}  // namespace anvil
