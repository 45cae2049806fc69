#include "core/mesh/chain.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <tuple>

#include "core/base/number_text.h"
#include "core/mesh/edge_table.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

using NeighboursOf = std::map<VertexId, std::vector<VertexId>>;

NeighboursOf neighbours_of(std::span<const Element> edges) {
    NeighboursOf out;
    for (const Element& e : edges) {
        out[e[0]].push_back(e[1]);
        out[e[1]].push_back(e[0]);
    }
    return out;
}

bool first_by_place(const Vec3& a, const Vec3& b) { return std::tie(a.x, a.y, a.z) < std::tie(b.x, b.y, b.z); }

std::string place_text(const Vec3& p) {
    return "x " + short_text(p.x) + ", y " + short_text(p.y) + ", z " + short_text(p.z);
}

/// Points of the mesh, from the first on.
std::vector<VertexId> walked(const NeighboursOf& at, VertexId from) {
    std::vector<VertexId> out{from};
    VertexId before = from, now = at.at(from).front();
    while (now != from) {
        out.push_back(now);
        const auto& next = at.at(now);
        if (next.size() == 1) break;
        const VertexId on = next[0] == before ? next[1] : next[0];
        before = now;
        now = on;
    }
    return out;
}

/// The mean of the normals of the faces at each edge.
std::map<Element, Vec3> normals_at(const Mesh& mesh, const Selection& edges) {
    std::map<Element, Vec3> out;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        const Triangle& t = mesh.faces[f];
        for (std::size_t k = 0; k < 3; ++k)
            if (const Element e = edge_element(t[k], t[(k + 1) % 3]); edges.contains(e))
                out[e] = out[e] + face_normal(mesh, f);
    }
    for (auto& [edge, n] : out) n = norm(n) > 1e-9 ? normalized(n) : Vec3{0, 0, 1};
    return out;
}

}  // namespace

double Chain::length() const {
    double out = 0;
    for (std::size_t k = 0; k < edges(); ++k) out += norm(points[(k + 1) % points.size()] - points[k]);
    return out;
}

Result<Chain> chain_of(const Mesh& mesh, const Selection& edges) {
    if (edges.empty()) return Error{ErrorCode::lost, "no edges are selected: select those that it is to follow", ""};
    const NeighboursOf at = neighbours_of(edges.elements);
    auto place = [&](VertexId v) { return mesh.points[v]; };
    for (const auto& [v, next] : at)
        if (next.size() > 2)
            return Error{ErrorCode::out_of_range,
                         "the selected edges branch at " + place_text(place(v)) + ": select a line of them", ""};
    std::vector<VertexId> ends;
    for (const auto& [v, next] : at)
        if (next.size() == 1) ends.push_back(v);
    const bool closed = ends.empty();
    VertexId from = closed ? at.begin()->first : ends.front();
    auto consider = [&](VertexId v) {
        if (first_by_place(place(v), place(from))) from = v;
    };
    if (closed)
        for (const auto& [v, next] : at) consider(v);
    else
        for (const VertexId v : ends) consider(v);
    std::vector<VertexId> line = walked(at, from);
    if (line.size() != at.size())
        return Error{ErrorCode::out_of_range, "the selected edges are several lines, apart from each other: select one",
                     ""};
    const auto normals = normals_at(mesh, edges);
    if (closed) {
        Vec3 turns, looks;
        for (std::size_t k = 0; k < line.size(); ++k) {
            const Vec3 a = place(line[k]) - place(from), b = place(line[(k + 1) % line.size()]) - place(from);
            turns = turns + cross(a, b);
            looks = looks + normals.at(edge_element(line[k], line[(k + 1) % line.size()])) * norm(b - a);
        }
        if (dot(turns, looks) < 0) std::reverse(line.begin() + 1, line.end());
    }
    Chain out;
    out.closed = closed;
    for (const VertexId v : line) out.points.push_back(place(v));
    const std::size_t count = closed ? line.size() : line.size() - 1;
    for (std::size_t k = 0; k < count; ++k)
        out.normals.push_back(normals.at(edge_element(line[k], line[(k + 1) % line.size()])));
    if (!(out.length() > 0))
        return Error{ErrorCode::out_of_range, "the selected edges have no length: select others", ""};
    return out;
}

ChainPlace place_on(const Chain& chain, double at) {
    const double whole = chain.length();
    if (chain.closed) {
        at = std::fmod(at, whole);
        if (at < 0) at += whole;
    }
    std::size_t last = 0;
    for (std::size_t k = 0; k < chain.edges(); ++k) {
        const Vec3 a = chain.points[k], b = chain.points[(k + 1) % chain.points.size()];
        const double length = norm(b - a);
        if (length == 0) continue;
        last = k;
        if (at <= length) return {a + (b - a) * (std::max(at, 0.0) / length), (b - a) * (1 / length), chain.normals[k]};
        at -= length;
    }
    const Vec3 a = chain.points[last], b = chain.points[(last + 1) % chain.points.size()];
    return {b, normalized(b - a), chain.normals[last]};
}

Selection creases_of(const Mesh& mesh, double crease_angle) {
    const double least = std::cos(crease_angle * 3.14159265358979323846 / 180);
    const EdgeTable table(std::span(mesh.faces.raw()), mesh.points.size());
    Selection out{ElementKind::edges, {}};
    for (const EdgeId e : ids<EdgeId>(table.size())) {
        const auto uses = table.uses(e);
        const bool flat = table.is_regular(e) &&
                          dot(face_normal(mesh, FaceId(uses[0] / 3)), face_normal(mesh, FaceId(uses[1] / 3))) >= least;
        if (!flat) out.elements.push_back(edge_element(table.edge(e).low, table.edge(e).high));
    }
    std::ranges::sort(out.elements);
    return out;
}

Element nearest_edge(const Mesh& mesh, const Selection& edges, const Vec3& at) {
    Element best = edges.elements.front();
    double nearest = HUGE_VAL;
    for (const Element& e : edges.elements) {
        const Vec3 a = mesh.points[e[0]], ab = mesh.points[e[1]] - a;
        const double length2 = dot(ab, ab), t = length2 > 0 ? std::clamp(dot(at - a, ab) / length2, 0.0, 1.0) : 0;
        if (const double away = norm(at - a - ab * t); away < nearest) nearest = away, best = e;
    }
    return best;
}

Selection along_creases(const Selection& edges, const Selection& creases) {
    const NeighboursOf at = neighbours_of(creases.elements);
    std::set<Element> taken(edges.elements.begin(), edges.elements.end());
    std::vector<std::pair<VertexId, VertexId>> ways;  // to go on from the second, having come from the first
    for (const Element& e : edges.elements) {
        ways.push_back({e[0], e[1]});
        ways.push_back({e[1], e[0]});
    }
    while (!ways.empty()) {
        const auto [from, to] = ways.back();
        ways.pop_back();
        const auto next = at.find(to);
        if (next == at.end() || next->second.size() != 2 || std::ranges::find(next->second, from) == next->second.end())
            continue;
        const VertexId on = next->second[0] == from ? next->second[1] : next->second[0];
        if (taken.insert(edge_element(to, on)).second) ways.push_back({to, on});
    }
    return {ElementKind::edges, {taken.begin(), taken.end()}};
}

}  // namespace anvil
