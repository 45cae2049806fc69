#include "core/cut/symmetry.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <unordered_map>

#include "core/base/number_text.h"
#include "core/combine/combine.h"
#include "core/cut/half_space_at.h"
#include "core/cut/mirror_plane.h"
#include "core/inspect/inspect.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

struct HashOfPoint {
    std::size_t operator()(const Vec3& p) const {
        std::size_t out = 0;
        for (const double v : {p.x, p.y, p.z}) out = out * 1'000'003 + std::hash<double>()(v == 0 ? 0.0 : v);
        return out;
    }
};

/// Whether each face has its mirror image among the faces, to the bit.
bool is_symmetric(const Mesh& mesh, const MirrorPlane& mirror) {
    std::unordered_map<Vec3, VertexId, HashOfPoint> at;
    for (VertexId v : ids<VertexId>(mesh.points.size())) at.emplace(mesh.points[v], v);
    IdVector<VertexId, VertexId> image;
    for (const Vec3& p : mesh.points) {
        const auto found = at.find(mirror.image(p));
        if (found == at.end()) return false;
        image.push_back(found->second);
    }
    auto sorted = [](Triangle t) {
        std::ranges::sort(t);
        return t;
    };
    std::set<Triangle> faces;
    for (const Triangle& t : mesh.faces) faces.insert(sorted(t));
    return std::ranges::all_of(mesh.faces, [&](const Triangle& t) {
        return faces.contains(sorted({image[t[0]], image[t[1]], image[t[2]]}));
    });
}

Error nothing_there() {
    return {ErrorCode::out_of_range, "there is nothing of the body on the side of the plane that is kept", ""};
}

}  // namespace

Result<Symmetric> made_symmetric(const Mesh& body, const Symmetry& s, const SettleOptions& settle, Progress& progress) {
    const MirrorPlane mirror(s.origin, s.keep_front ? s.normal : -s.normal);
    Symmetric out;
    if (is_symmetric(body, mirror)) {
        out.mesh = body;
        out.was_symmetric = true;
        return out;
    }
    Mesh whole = body;
    const double size = bounds(body).diagonal();
    double lowest = HUGE_VAL, highest = -HUGE_VAL;
    for (Vec3& p : whole.points) {
        const double h = mirror.height(p);
        if (h != 0 && std::fabs(h) <= s.weld) {
            out.largest_move = std::max(out.largest_move, std::fabs(h));
            ++out.moved;
            p = mirror.onto(p);
        }
        const double now = std::fabs(h) <= s.weld ? 0 : h;
        lowest = std::min(lowest, now);
        highest = std::max(highest, now);
    }
    // What lies in the plane but for rounding lies in it.
    const double near = 1e-12 * (size + norm(s.origin));
    if (highest <= near) return nothing_there();
    if (lowest > near)
        return Error{ErrorCode::out_of_range,
                     "the body does not reach the plane, which is " + short_text(lowest) +
                         " mm away: move the plane, or weld over that distance",
                     ""};
    Mesh half = std::move(whole);
    if (lowest < -near || out.moved > 0) {
        const Solid front = half_space_at(frame_on(s.origin, mirror.normal()), bounds(half));
        const Mesh* operands[] = {&half, &front.mesh};
        SettleOptions in_doubles = settle;
        in_doubles.precision = Precision::double_precision;
        auto cut = combine(Operation::intersection, operands, progress, in_doubles);
        if (!cut) return cut.error();
        if (cut->mesh.faces.empty()) return nothing_there();
        cut->take_materials(operands);
        half = std::move(cut->mesh);
        out.largest_move = std::max(out.largest_move, cut->largest_move);
    }
    IdVector<VertexId, char> in_plane;
    for (Vec3& p : half.points) {
        in_plane.push_back(std::fabs(mirror.height(p)) <= near);
        if (in_plane.raw().back()) p = mirror.onto(p);
    }
    // The half without what lies in the plane, and its mirror image turned over; points in the plane are shared.
    Mesh made;
    made.points = half.points;
    made.materials = half.materials;
    IdVector<VertexId, VertexId> image;
    for (VertexId v : ids<VertexId>(half.points.size())) {
        image.push_back(in_plane[v] ? v : VertexId(static_cast<std::uint32_t>(made.points.size())));
        if (!in_plane[v]) made.points.push_back(mirror.image(half.points[v]));
    }
    for (FaceId f : ids<FaceId>(half.faces.size())) {
        const Triangle& t = half.faces[f];
        if (in_plane[t[0]] && in_plane[t[1]] && in_plane[t[2]]) continue;
        made.faces.push_back(t);
        made.faces.push_back({image[t[0]], image[t[2]], image[t[1]]});
        if (!half.material.empty())
            for (int side = 0; side < 2; ++side) made.material.push_back(half.material[f]);
    }
    std::set<VertexId> met;
    for (const Triangle& t : made.faces)
        for (const VertexId v : t)
            if (v.value() < in_plane.size() && in_plane[v]) met.insert(v);
    out.met = met.size();
    if (made.faces.empty()) return nothing_there();
    out.mesh = welded(made);
    auto found = inspect(out.mesh, progress);
    if (!found) return found.error();
    if (found->print_ready) return out;
    // Where the half only touches the plane, in a point or along an edge, parts are set apart or bridged.
    Mesh other = half;
    for (Vec3& p : other.points) p = mirror.image(p);
    turn_over(other);
    const Mesh* operands[] = {&half, &other};
    auto joined = combine(Operation::union_of, operands, progress, settle);
    if (!joined) return joined.error();
    joined->take_materials(operands);
    out.mesh = std::move(joined->mesh);
    out.largest_move = std::max(out.largest_move, joined->largest_move);
    return out;
}

}  // namespace anvil
