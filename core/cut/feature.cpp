#include "core/cut/feature.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/cut/frame.h"
#include "core/mesh/measures.h"
#include "core/mesh/weld.h"
#include "core/shape/outline.h"

namespace anvil {
namespace {

using Loop = std::vector<VertexId>;

/// The rims of chosen faces, as the faces that close them run; none where they cannot be told.
std::vector<Loop> rims_against(const Mesh& mesh) {
    std::vector<std::array<std::uint32_t, 3>> triangles;
    for (const Triangle& t : mesh.faces) triangles.push_back({t[0].value(), t[1].value(), t[2].value()});
    auto edges = rim_edges(triangles);
    for (auto& [from, to] : edges) std::swap(from, to);
    std::vector<Loop> out;
    for (const auto& loop : closed_loops(edges)) {
        Loop& rim = out.emplace_back();
        for (const std::uint32_t v : loop) rim.push_back(VertexId(v));
    }
    return out;
}

/// Loops that lie in one plane are closed together: an island in a pocket stays.
std::vector<std::vector<Loop>> by_plane(const Mesh& mesh, std::vector<Loop> loops, double size) {
    std::vector<std::vector<Loop>> out;
    auto in_plane = [&](const Loop& first, const Loop& other) {
        const Vec3 n = normalized(area_vector(mesh, first)), &o = mesh.points[first.front()];
        return std::ranges::all_of(other,
                                   [&](VertexId v) { return std::fabs(dot(mesh.points[v] - o, n)) < 1e-6 * size; });
    };
    for (Loop& loop : loops) {
        const auto at = std::ranges::find_if(out, [&](const auto& group) {
            return in_plane(group.front(), loop) && in_plane(group.front(), group.front());
        });
        if (at == out.end())
            out.push_back({std::move(loop)});
        else
            at->push_back(std::move(loop));
    }
    return out;
}

struct Cap {
    Vec3 normal;                  // outward of what the faces and their ends enclose, if they look outward
    std::vector<Triangle> faces;  // of the rims' own points
};

Result<Cap> cap_of(const Mesh& mesh, const std::vector<Loop>& loops) {
    Cap out;
    for (const Loop& loop : loops) out.normal = out.normal + area_vector(mesh, loop);
    if (!(norm(out.normal) > 0)) return Error{ErrorCode::out_of_range, "a rim of the feature encloses nothing", ""};
    const Transform seen(frame_on(mesh.points[loops.front().front()], out.normal).inverse());
    Outline outline;
    std::map<std::pair<double, double>, VertexId> at;
    for (const Loop& loop : loops) {
        auto& drawn = outline.emplace_back();
        for (const VertexId v : loop) {
            const Vec3 p = apply(seen, mesh.points[v]);
            drawn.push_back({p.x, p.y});
            at.emplace(std::pair(p.x, p.y), v);
        }
    }
    const FilledOutline fill = filled({{outline, FillRule::even_odd}});
    std::vector<VertexId> vertex;
    for (const Point2& p : fill.points) {
        const auto found = at.find({p.u, p.v});
        if (found == at.end())
            return Error{ErrorCode::out_of_range, "a rim of the feature crosses itself: choose other faces", ""};
        vertex.push_back(found->second);
    }
    for (const auto& [a, b, c] : fill.triangles) out.faces.push_back({vertex[a], vertex[b], vertex[c]});
    return out;
}

}  // namespace

Result<Cut> mirrored_feature(const Mesh& body, const Selection& chosen, const MirrorPlane& plane, double over) {
    Mesh faces;
    faces.points = body.points;
    for (const Triangle& t : body.faces)
        if (chosen.contains(face_element(t))) faces.faces.push_back(t);
    faces = welded(faces);
    if (faces.empty()) return Error{ErrorCode::lost, "no face is chosen that could be mirrored", ""};
    Cutter cutter;
    Mesh& mesh = cutter.solid.mesh;
    mesh = faces;
    cutter.solid.side.raw().assign(faces.faces.size(), 0);
    auto add = [&](const Triangle& t, std::uint32_t side) {
        mesh.faces.push_back(t);
        cutter.solid.side.push_back(side);
    };
    std::vector<Cap> caps;
    const auto groups = by_plane(faces, rims_against(faces), bounds(faces).diagonal());
    for (const auto& loops : groups) {
        auto cap = cap_of(faces, loops);
        if (!cap) return cap.error();
        caps.push_back(std::move(*cap));
    }
    Mesh closed = faces;
    for (const Cap& cap : caps)
        for (const Triangle& t : cap.faces) closed.faces.push_back(t);
    const double volume = signed_volume(closed);
    if (!(std::fabs(volume) > 0))
        return Error{ErrorCode::out_of_range, "the faces enclose nothing, even closed where they end: choose more", ""};
    const bool is_hole = volume < 0;
    for (std::size_t k = 0; k < groups.size(); ++k) {
        // Out of a hole, into the body under what stands out.
        const Vec3 by = normalized(caps[k].normal) * (is_hole ? -over : over);
        std::map<VertexId, VertexId> moved;
        for (const Loop& loop : groups[k])
            for (const VertexId v : loop)
                if (const auto [at, is_new] =
                        moved.try_emplace(v, VertexId(static_cast<std::uint32_t>(mesh.points.size())));
                    is_new)
                    mesh.points.push_back(mesh.points[v] + by);
        for (const Loop& loop : groups[k])
            for (std::size_t i = 0; i < loop.size(); ++i) {
                const VertexId a = loop[i], b = loop[(i + 1) % loop.size()];
                add({a, b, moved.at(b)}, 2);
                add({a, moved.at(b), moved.at(a)}, 2);
            }
        for (const Triangle& t : caps[k].faces) add({moved.at(t[0]), moved.at(t[1]), moved.at(t[2])}, 1);
    }
    for (Vec3& p : mesh.points) p = plane.image(p);
    // A mirror image is turned over, and so is a hole that is seen as a body.
    if (!is_hole) turn_over(mesh);
    cutter.operation = is_hole ? Operation::difference : Operation::union_of;
    Cut out;
    out.said = is_hole ? "A hollow: it is cut out of the other side." : "It stands out: it is added to the other side.";
    out.shown = mesh;
    out.cutters.push_back(std::move(cutter));
    return out;
}

}  // namespace anvil
