// A pocket between two borders is closed by a strip of faces between them, in place of a lid over each.
#include <algorithm>

#include "core/arrange/close_holes.h"
#include "core/mend/borders.h"
#include "core/mend/chosen.h"
#include "core/mend/edit_faces.h"
#include "core/mend/strip.h"
#include "core/spatial/nearest.h"

namespace anvil {
namespace {

double distance_to(const Mesh& mesh, const BoundaryLoop& rim, const Vec3& p) {
    double least2 = HUGE_VAL;
    for (std::size_t i = 0; i < rim.size(); ++i)
        least2 = std::min(least2, segment_distance2(p, p, mesh.points[rim[i]], mesh.points[rim[(i + 1) % rim.size()]]));
    return std::sqrt(least2);
}

/// How far some point of one rim is from the other at most.
double apart(const Mesh& mesh, const BoundaryLoop& a, const BoundaryLoop& b) {
    double most = 0;
    for (const VertexId v : a) most = std::max(most, distance_to(mesh, b, mesh.points[v]));
    for (const VertexId v : b) most = std::max(most, distance_to(mesh, a, mesh.points[v]));
    return most;
}

struct Pair {
    double apart;
    std::size_t a, b;
};

}  // namespace

Result<Repaired> bridge_near_borders(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::bridges};
    if (!(options.bridge_within > 0)) return out;
    const auto rims = find_missing_loops(unbalanced_edges(mesh));
    std::vector<Box> boxes;
    for (const BoundaryLoop& rim : rims) {
        Box& box = boxes.emplace_back();
        for (const VertexId v : rim) box.add(mesh.points[v]);
    }
    const Chosen chosen(options);
    const Vec3 wide{options.bridge_within, options.bridge_within, options.bridge_within};
    std::vector<Pair> pairs;
    for (std::size_t i = 0; i < rims.size(); ++i) {
        if (progress.cancelled()) return cancelled_error();
        const Box near{boxes[i].low - wide, boxes[i].high + wide};
        for (std::size_t j = i + 1; j < rims.size(); ++j) {
            if (!near.meets(boxes[j]) || rims[i].size() * rims[j].size() > longest_strip) continue;
            if (!chosen.has_edge_of(mesh, rims[i]) && !chosen.has_edge_of(mesh, rims[j])) continue;
            if (const double d = apart(mesh, rims[i], rims[j]); d <= options.bridge_within) pairs.push_back({d, i, j});
        }
    }
    std::ranges::stable_sort(pairs, {}, &Pair::apart);
    std::vector<char> used(rims.size(), 0);
    std::size_t faces = 0;
    for (const Pair& pair : pairs) {
        if (used[pair.a] || used[pair.b]) continue;
        used[pair.a] = used[pair.b] = 1;
        const BoundaryLoop &a = rims[pair.a], &b = rims[pair.b];
        // The strip starts where the two are nearest.
        std::size_t at = 0;
        double least2 = HUGE_VAL;
        for (std::size_t j = 0; j < b.size(); ++j)
            if (const double d2 = norm2(mesh.points[b[j]] - mesh.points[a[0]]); d2 < least2) least2 = d2, at = j;
        for (const Triangle& t : strip_between(mesh, a, 0, b, at)) {
            add_face(mesh, t);
            ++faces;
        }
        ++out.changed;
        if (out.places.size() < most_places) out.places.push_back(mesh.points[a[0]]);
    }
    if (out.changed > 0)
        out.said = count_text(out.changed, "pair of borders was", "pairs of borders were") + " bridged with " +
                   count_text(faces, "face", "faces") + ".";
    return out;
}

}  // namespace anvil
