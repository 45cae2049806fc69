#include <algorithm>

#include "core/arrange/close_holes.h"
#include "core/mend/borders.h"
#include "core/mend/edit_faces.h"
#include "core/mend/flat_fill.h"
#include "core/mend/hand_edits.h"
#include "core/mend/smooth_fill.h"
#include "core/mend/strip.h"

namespace anvil::hand {
namespace {

/// The rim that runs along an edge, and the place in it where the edge starts; -1 where it is no open edge.
struct Place {
    int rim = -1;
    std::size_t at = 0;
};
Place find_place(const std::vector<BoundaryLoop>& rims, const Edge& edge) {
    for (std::size_t r = 0; r < rims.size(); ++r)
        for (std::size_t i = 0; i < rims[r].size(); ++i) {
            const VertexId from = rims[r][i], to = rims[r][(i + 1) % rims[r].size()];
            if ((from == edge[0] && to == edge[1]) || (from == edge[1] && to == edge[0]))
                return {static_cast<int>(r), i};
        }
    return {};
}

}  // namespace

std::string fill_border(Mesh& mesh, const Edge& edge, FillStyle style) {
    const auto rims = find_missing_loops(unbalanced_edges(mesh));
    const Place place = find_place(rims, edge);
    if (place.rim < 0) return "The edge is on no border: there is nothing to fill.";
    const BoundaryLoop& rim = rims[static_cast<std::size_t>(place.rim)];
    std::optional<std::vector<Triangle>> faces;
    if (style == FillStyle::flat) {
        std::vector<BoundaryLoop> with_islands{rim};
        for (const std::size_t i : find_islands(mesh, rim, rims)) with_islands.push_back(rims[i]);
        faces = flat_fill(mesh, with_islands);
    } else if (style == FillStyle::smooth) {
        faces = smooth_fill(mesh, rim);
    }
    if (!faces) faces = smallest_fill(mesh, rim);
    for (const Triangle& t : *faces) add_face(mesh, t);
    return "";
}

std::string bridge_borders(Mesh& mesh, const Edge& first, const Edge& second) {
    const auto rims = find_missing_loops(unbalanced_edges(mesh));
    const Place one = find_place(rims, first), other = find_place(rims, second);
    if (one.rim < 0 || other.rim < 0) return "Bridging takes an edge of a border at each end.";
    const BoundaryLoop& a = rims[static_cast<std::size_t>(one.rim)];
    const BoundaryLoop& b = rims[static_cast<std::size_t>(other.rim)];
    if (one.rim == other.rim) {
        // Across the hole, between the two edges alone: two holes are left, or one, or none.
        const VertexId p = a[one.at], q = a[(one.at + 1) % a.size()], r = b[other.at], s = b[(other.at + 1) % b.size()];
        if (p == r || q == r || p == s) {
            if (p == r) return "Bridging takes two edges.";
            add_face(mesh, q == r ? Triangle{p, q, s} : Triangle{r, s, q});
            return "";
        }
        add_face(mesh, {p, q, r});
        add_face(mesh, {p, r, s});
        return "";
    }
    if (a.size() * b.size() > longest_strip) return "The two borders are too long to be bridged.";
    for (const Triangle& t : strip_between(mesh, a, one.at, b, (other.at + 1) % b.size())) add_face(mesh, t);
    return "";
}

}  // namespace anvil::hand
