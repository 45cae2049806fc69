#include "core/combine/enclosed.h"

#include <algorithm>
#include <limits>

#include "core/combine/flakes.h"
#include "core/combine/round_edge.h"
#include "core/mesh/disjoint_sets.h"
#include "core/mesh/edge_uses.h"

namespace anvil {
namespace {

/// Joins the faces at an edge that bound the same body there; false where they do not part inside and outside by turns.
bool join_bodies(const RoundedFaces& faces, std::span<const EdgeUse> here, std::vector<FaceAtEdge>& wings,
                 DisjointSets& bodies) {
    if (here.size() == 2) {
        bodies.join(here[0].face, here[1].face);
        return here[0].forward != here[1].forward;
    }
    wings.clear();
    for (const EdgeUse& use : here) {
        const Triangle& t = faces.faces[use.face];
        wings.push_back({use.face, use.forward,
                         *std::ranges::find_if(t, [&](VertexId v) { return v != use.low && v != use.high; })});
    }
    if (!sort_round_edge(faces.points, here.front().low, here.front().high, wings)) return false;
    for (std::size_t k = 0; k < wings.size(); ++k) {
        const FaceAtEdge &wing = wings[k], &next = wings[(k + 1) % wings.size()];
        if (wing.leaves == next.leaves) return false;
        if (!wing.leaves) bodies.join(static_cast<std::uint32_t>(wing.place), static_cast<std::uint32_t>(next.place));
    }
    return true;
}

/// Whether faces that were a boundary before they were moved are one still, as far as that can be told at a glance:
/// each body, by itself, is thicker than its points went, so none can have been turned inside out or swallowed another.
/// Then it returns how thick the thinnest is, mm, else 0.
double thickness_of_boundary(const RoundedFaces& faces, Precision precision, const Progress& progress) {
    const std::vector<EdgeUse> uses = edge_uses(faces.faces);
    if (progress.cancelled()) return 0;
    DisjointSets bodies(faces.faces.size());
    std::vector<FaceAtEdge> wings;
    bool sound = true;
    for_each_run(std::span(uses), same_edge, [&](std::span<const EdgeUse> here) {
        sound = sound && here.size() % 2 == 0 && join_bodies(faces, here, wings, bodies);
    });
    if (!sound || progress.cancelled()) return 0;
    std::vector<std::uint32_t> body;
    const double reach = reach_of(faces.points);
    std::vector<ShellThickness> thickness(bodies.number(body), ShellThickness(reach > 0 ? std::ilogb(reach) : 0));
    for (std::uint32_t f = 0; f < faces.faces.size(); ++f) {
        if (f % 4096 == 0 && progress.cancelled()) return 0;
        thickness[body[f]].add(corner_points(faces.points, faces.faces[f]));
    }
    const double thin = std::max(faces.largest_move, last_digit(reach, precision));
    double thinnest = std::numeric_limits<double>::infinity();
    for (const ShellThickness& t : thickness) thinnest = t.is_thicker(thin) ? std::min(thinnest, t.thickness()) : 0;
    return thinnest;
}

/// Its faces that bound what they are wound around, turned over where they have to be. Nothing crosses, so each is
/// there as a whole or not at all.
Result<std::vector<FaceSource>> boundary_of(const Mesh& mesh, Progress& progress) {
    const Mesh* operand = &mesh;
    const auto arrangement = arrange(std::span(&operand, 1), progress, Taken::as_proven);
    if (!arrangement) return arrangement.error();
    return taken_apart(*arrangement, extract(*arrangement, {}).front()).source;
}

}  // namespace

Result<std::optional<RoundedFaces>> enclosed_by(const RoundedFaces& faces, Precision precision, Progress& progress) {
    if (faces.faces.empty()) return std::optional(faces);
    if (const double thinnest = thickness_of_boundary(faces, precision, progress); thinnest > 0) {
        RoundedFaces out = faces;
        out.thinnest = thinnest;
        return std::optional(std::move(out));
    }
    if (progress.cancelled()) return cancelled_error();
    auto sources = boundary_of(as_mesh(faces), progress);
    if (!sources && sources.error().is_cancel()) return sources.error();
    if (!sources) return std::optional<RoundedFaces>();
    RoundedFaces out;
    out.points = faces.points;
    out.input = faces.input;
    out.moved = faces.moved;
    out.largest_move = faces.largest_move;
    for (const FaceSource& s : *sources) {
        const std::uint32_t f = s.face.value();
        out.faces.push_back(faces.faces[f]);
        if (s.reversed) std::swap(out.faces.back()[1], out.faces.back()[2]);
        out.source.push_back(faces.source[f]);
        out.source.back().reversed = faces.source[f].reversed != s.reversed;
        out.origin.push_back(faces.origin[f]);
    }
    drop_flakes(out, precision, progress);
    if (progress.cancelled()) return cancelled_error();
    return std::optional(std::move(out));
}

}  // namespace anvil
