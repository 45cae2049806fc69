#include "core/cut/broach.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/number_text.h"
#include "core/cut/frame.h"
#include "core/shape/outline.h"

namespace anvil {
namespace {

struct Region {
    std::vector<Triangle> faces;
    Vec3 mean;  ///< normal, by area
};

/// Twice as long as the face is large.
Vec3 area_normal(const Mesh& body, const Triangle& t) {
    const Vec3& a = body.points[t[0]];
    return cross(body.points[t[1]] - a, body.points[t[2]] - a);
}

Region region_of(const Mesh& body, const Selection& chosen) {
    Region out;
    for (const Triangle& t : body.faces)
        if (chosen.contains(face_element(t))) {
            out.faces.push_back(t);
            out.mean = out.mean + area_normal(body, t);
        }
    return out;
}

}  // namespace

Result<Cut> broached(const Mesh& body, const Selection& chosen, const Broach& b, const Box& box) {
    const Region region = region_of(body, chosen);
    if (region.faces.empty()) return Error{ErrorCode::lost, "no face is chosen that could be pushed", ""};
    if (!b.along && !b.own_normals && !(norm(region.mean) > 0))
        return Error{ErrorCode::out_of_range, "the faces look all ways, so their mean tells no direction: choose one",
                     ""};
    const Vec3 way = normalized(b.along ? *b.along : -region.mean);
    auto normal_of = [&](const Triangle& t) { return normalized(area_normal(body, t)); };
    std::map<VertexId, Vec3> own;
    if (b.own_normals)
        for (const Triangle& t : region.faces)
            for (const VertexId v : t) own[v] = own[v] + normal_of(t);
    std::size_t against = 0;
    for (const Triangle& t : region.faces)
        for (const VertexId v : t)
            if (!(dot(normal_of(t), b.own_normals ? -normalized(own[v]) : way) < -1e-9)) {
                ++against;
                break;
            }
    if (against > 0)
        return Error{ErrorCode::out_of_range,
                     count_text(against, "of the faces does", "of the faces do") +
                         " not face the way they are pushed, so that it would meet its own beginning: choose another "
                         "direction, or fewer faces",
                     ""};
    double depth = b.depth;
    if (depth == 0) {
        // Beyond all that there is.
        double first = HUGE_VAL;
        for (const Triangle& t : region.faces)
            for (const VertexId v : t) first = std::min(first, dot(way, body.points[v]));
        const double last = placed(box, Transform(frame_on({}, way).inverse())).high.z;
        depth = b.own_normals ? box.diagonal() : last - first + b.over + 0.01 * box.diagonal();
    }
    Cutter cutter{b.boss ? Operation::union_of : Operation::difference, {}};
    Mesh& mesh = cutter.solid.mesh;
    std::map<VertexId, std::uint32_t> number;
    std::vector<VertexId> used;
    for (const Triangle& t : region.faces)
        for (const VertexId v : t)
            if (number.try_emplace(v, static_cast<std::uint32_t>(used.size())).second) used.push_back(v);
    // Outer end first, then the inner one. A boss goes into the body by as much as a cut begins outside of it.
    const double out_by = b.boss ? depth : b.over, in_by = b.boss ? b.over : depth;
    for (const double by : {-out_by, in_by})
        for (const VertexId v : used) {
            const Vec3 along = b.own_normals ? -normalized(own[v]) : way;
            mesh.points.push_back(body.points[v] + along * by);
        }
    const auto n = static_cast<std::uint32_t>(used.size());
    auto add = [&](std::uint32_t p, std::uint32_t q, std::uint32_t r, std::uint32_t side) {
        mesh.faces.push_back({VertexId(p), VertexId(q), VertexId(r)});
        cutter.solid.side.push_back(side);
    };
    std::vector<std::array<std::uint32_t, 3>> outer;
    for (const Triangle& t : region.faces) {
        const auto& [p, q, r] = outer.emplace_back(std::array{number[t[0]], number[t[1]], number[t[2]]});
        add(p, q, r, 0);
        add(n + p, n + r, n + q, 1);
    }
    for (const auto& [p, q] : rim_edges(outer)) {
        add(q, p, n + p, 2);
        add(q, n + p, n + q, 2);
    }
    Cut out;
    out.shown = mesh;
    out.cutters.push_back(std::move(cutter));
    return out;
}

}  // namespace anvil
