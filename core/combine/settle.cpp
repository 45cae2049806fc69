#include "core/combine/settle.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>

#include "core/exact/predicates.h"
#include "core/mesh/weld.h"
#include "core/spatial/box_tree.h"
#include "core/spatial/triangle_contact.h"

namespace anvil {
namespace {

constexpr int most_rounds = 12;

struct Rounded {
    Mesh mesh;
    std::vector<FaceSource> source;
    std::vector<char> moved;  // per point of the mesh
    double largest_move = 0;
};

/// Upper bound of the distance between a point and its rounded coordinates; 0 where it is exactly there.
double rounding_move(const PointView& p) {
    if (p.is_explicit() || same_point(p, PointView{p.approx})) return 0;
    auto half_ulp = [](double v) { return (std::nextafter(std::fabs(v), HUGE_VAL) - std::fabs(v)) / 2; };
    return norm({half_ulp(p.approx.x), half_ulp(p.approx.y), half_ulp(p.approx.z)});
}

Rounded round_points(const PointTable& points, const Extraction& extraction) {
    std::vector<VertexId> used;
    for (const Triangle& t : extraction.corners) used.insert(used.end(), t.begin(), t.end());
    std::sort(used.begin(), used.end());
    used.erase(std::unique(used.begin(), used.end()), used.end());
    std::vector<Vec3> approx;
    approx.reserve(used.size());
    for (VertexId v : used) approx.push_back(points.approx(v));
    const WeldMap weld = weld_map(approx);

    Rounded out;
    out.mesh.points.resize(weld.groups);
    out.moved.assign(weld.groups, 0);
    for (std::size_t i = 0; i < used.size(); ++i) {
        out.mesh.points[VertexId(weld.group[i])] = approx[i];
        const double move = rounding_move(points.view(used[i]));
        if (move > 0) out.moved[weld.group[i]] = 1;
        out.largest_move = std::max(out.largest_move, move);
    }
    auto number = [&](VertexId v) {
        return VertexId(weld.group[static_cast<std::size_t>(std::lower_bound(used.begin(), used.end(), v) - used.begin())]);
    };
    for (std::size_t f = 0; f < extraction.corners.size(); ++f) {
        const Triangle& t = extraction.corners[f];
        const Triangle r{number(t[0]), number(t[1]), number(t[2])};
        if (r[0] == r[1] || r[1] == r[2] || r[2] == r[0]) continue;
        out.mesh.faces.push_back(r);
        out.source.push_back(extraction.source[f]);
    }
    return out;
}

/// Whether a face with a moved corner degenerates or meets another face where it should not.
bool has_fault(const Rounded& rounded) {
    const auto& points = rounded.mesh.points.raw();
    const auto& faces = rounded.mesh.faces.raw();
    std::vector<std::uint32_t> suspects;
    for (std::uint32_t f = 0; f < faces.size(); ++f)
        for (VertexId v : faces[f])
            if (rounded.moved[v.value()]) {
                suspects.push_back(f);
                break;
            }
    if (suspects.empty()) return false;
    auto flat = [&](std::uint32_t f) {
        return collinear(points[faces[f][0].value()], points[faces[f][1].value()], points[faces[f][2].value()]);
    };
    for (std::uint32_t f : suspects)
        if (flat(f)) return true;
    const std::vector<Box> boxes = face_boxes(points, faces);
    const BoxTree tree(boxes);
    std::atomic<bool> found{false};
    tbb::parallel_for(std::size_t{0}, suspects.size(), [&](std::size_t i) {
        if (found) return;
        tree.overlapping(boxes[suspects[i]], [&](std::uint32_t other) {
            if (found || other == suspects[i]) return;
            if (triangle_contact(points, faces[suspects[i]], faces[other]).beyond_shared()) found = true;
        });
    });
    return found;
}

}  // namespace

Result<Settled> settle(const Arrangement& arrangement, const Extraction& extraction, Progress& progress) {
    Rounded rounded = round_points(arrangement.points, extraction);
    Settled out;
    out.largest_move = rounded.largest_move;
    while (has_fault(rounded)) {
        if (progress.cancelled()) return cancelled_error();
        if (out.rounds == most_rounds) {
            out.clean = false;
            break;
        }
        ++out.rounds;
        const Mesh* operand = &rounded.mesh;
        auto again = arrange(std::span(&operand, 1), progress);
        if (!again) return again.error();
        Extraction picked = extract(*again, {});
        for (FaceSource& s : picked.source) {
            const bool reversed = s.reversed;
            s = rounded.source[s.face.value()];
            s.reversed = s.reversed != reversed;
        }
        rounded = round_points(again->points, picked);
        out.largest_move += rounded.largest_move;
    }
    out.mesh = std::move(rounded.mesh);
    out.source = std::move(rounded.source);
    return out;
}

}  // namespace anvil
