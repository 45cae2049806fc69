#include <algorithm>

#include "core/mend/borders.h"
#include "core/mend/chosen.h"
#include "core/mend/edit_faces.h"
#include "core/mend/repairs.h"
#include "core/mesh/edge_table.h"
#include "core/spatial/box_tree.h"

namespace anvil {
namespace {

/// A border point on an open edge, and how far along it.
struct Junction {
    std::uint32_t half;
    double along;
    VertexId point;
    double distance;
};

std::vector<Junction> find_junctions(const Mesh& mesh, const EdgeTable& edges, const Chosen& chosen, double reach) {
    std::vector<std::uint32_t> open;
    std::vector<Box> boxes;
    std::vector<VertexId> ends;
    const Vec3 wide{reach, reach, reach};
    for (const EdgeId e : ids<EdgeId>(edges.size())) {
        if (edges.edge(e).count != 1) continue;
        open.push_back(edges.uses(e)[0]);
        const Vec3 &a = mesh.points[edges.edge(e).low], &b = mesh.points[edges.edge(e).high];
        Box box;
        for (const Vec3& p : {a - wide, a + wide, b - wide, b + wide}) box.add(p);
        boxes.push_back(box);
        ends.insert(ends.end(), {edges.edge(e).low, edges.edge(e).high});
    }
    std::sort(ends.begin(), ends.end());
    ends.erase(std::unique(ends.begin(), ends.end()), ends.end());
    std::vector<Junction> found;
    if (open.empty()) return found;
    const BoxTree tree(boxes);
    for (const VertexId v : ends) {
        const Vec3& p = mesh.points[v];
        if (!chosen.has(p)) continue;
        Box here;
        here.add(p);
        tree.overlapping(here, [&](std::uint32_t i) {
            const Triangle& t = mesh.faces[FaceId(open[i] / 3)];
            if (t[0] == v || t[1] == v || t[2] == v) return;
            const Vec3 &a = mesh.points[t[open[i] % 3]], &b = mesh.points[t[(open[i] % 3 + 1) % 3]];
            const Vec3 way = b - a;
            const double length = norm(way), along = dot(p - a, way) / length;
            if (!(along > reach) || !(along < length - reach)) return;  // joining borders is for those
            const double distance = norm(p - a - way * (along / length));
            if (distance <= reach) found.push_back({open[i], along, v, distance});
        });
    }
    std::sort(found.begin(), found.end(), [](const Junction& a, const Junction& b) {
        return a.half != b.half ? a.half < b.half : a.along != b.along ? a.along < b.along : a.point < b.point;
    });
    return found;
}

/// Splits one open edge of each face that has such points; returns how many points were put in.
std::size_t split_some(Mesh& mesh, const Chosen& chosen, double reach, Repaired& out) {
    const EdgeTable edges(mesh.faces.raw(), mesh.points.size());
    const std::vector<Junction> found = find_junctions(mesh, edges, chosen, reach);
    std::size_t split = 0;
    FaceId last;
    for (std::size_t i = 0; i < found.size();) {
        std::size_t end = i;
        while (end < found.size() && found[end].half == found[i].half) ++end;
        const FaceId f(found[i].half / 3);
        if (f != last) {
            const Triangle t = mesh.faces[f];
            const std::size_t k = found[i].half % 3;
            const VertexId apex = t[(k + 2) % 3];
            VertexId from = t[k];
            bool first = true;
            auto add = [&](VertexId to) {
                const Triangle part{from, to, apex};
                if (first)
                    mesh.faces[f] = part;
                else
                    add_face(mesh, part, f);
                first = false;
                from = to;
            };
            for (std::size_t j = i; j < end; ++j) {
                add(found[j].point);
                ++split;
                out.largest_move = std::max(out.largest_move, found[j].distance);
                if (out.places.size() < most_places) out.places.push_back(mesh.points[found[j].point]);
            }
            add(t[(k + 1) % 3]);
        }
        last = f;
        i = end;
    }
    return split;
}

}  // namespace

Result<Repaired> split_t_junctions(Mesh& mesh, const MendOptions& options, Progress& progress) {
    Repaired out{.repair = Repair::t_junctions};
    Mesh own = mesh;
    const double reach = border_reach(own, options);
    const Chosen chosen(options);
    constexpr int most_rounds = 3;  // a face has three sides
    for (int round = 0; round < most_rounds; ++round) {
        const std::size_t split = split_some(own, chosen, reach, out);
        if (split == 0) break;
        out.changed += split;
        if (progress.cancelled()) return cancelled_error();
    }
    if (out.changed == 0) return out;
    mesh = std::move(own);
    out.said = "Borders were split at " + count_text(out.changed, "point", "points") + " of others that lie on them.";
    return out;
}

}  // namespace anvil
