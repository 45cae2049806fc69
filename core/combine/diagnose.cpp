#include "core/combine/diagnose.h"

#include <cstdio>

#include "core/spatial/nearest.h"

namespace anvil {
namespace {

/// How an operand lies to the body, told from the cells.
struct Relation {
    bool body = false, operand = false;                // encloses anything at all
    bool common = false;                               // have volume in common
    bool body_beyond = false, operand_beyond = false;  // has volume outside of the other
};

Relation relation(const CellPieces& body, const CellPieces& operand) {
    Relation r;
    for (std::size_t c = 0; c < body.of_cell.size(); ++c) {
        const bool in_body = body.of_cell[c] > 0, in_operand = operand.of_cell[c] > 0;
        r.body = r.body || in_body;
        r.operand = r.operand || in_operand;
        r.common = r.common || (in_body && in_operand);
        r.body_beyond = r.body_beyond || (in_body && !in_operand);
        r.operand_beyond = r.operand_beyond || (in_operand && !in_body);
    }
    return r;
}

/// Distance in mm between an operand and the surface of a body. Faces of the body that were cut count whole.
double distance_to_body(const Arrangement& a, std::uint32_t operand, std::span<const CombineStep> body) {
    std::vector<char> used_patch(a.patches.size(), 0), used_active(a.active.size(), 0);
    std::vector<char> used_operand(a.soup.size(), 0);
    for (const Extraction& piece : extract(a, body)) {
        for (const Extraction::Whole& w : piece.patches) {
            used_patch[w.patch] = 1;
            used_operand[a.patches.list[w.patch].operand] = 1;
        }
        for (FaceId f : piece.plane) {
            used_active[a.active.index_of[f.value()]] = 1;
            used_operand[a.soup.operand_of(f)] = 1;
        }
    }
    const Operand& own = a.soup.operand(operand);
    double least2 = HUGE_VAL;
    for (std::uint32_t o = 0; o < a.soup.size(); ++o) {
        if (!used_operand[o] || o == operand) continue;
        const Operand& other = a.soup.operand(o);
        auto is_used = [&](std::uint32_t f) {
            const std::uint32_t active = a.active.index_of[a.soup.global(o, FaceId(f)).value()];
            return active != ActiveFaces::none ? used_active[active] : used_patch[a.patches.of(a.soup, o, FaceId(f))];
        };
        // From the faces of the smaller one into the tree of the larger one.
        const bool from_own = own.mesh.faces.size() <= other.mesh.faces.size();
        const Operand &from = from_own ? own : other, &into = from_own ? other : own;
        for (std::uint32_t f = 0; f < from.mesh.faces.size(); ++f) {
            if (!from_own && !is_used(f)) continue;
            const CornerPoints corners = corner_points(from.mesh.points.raw(), from.mesh.faces[FaceId(f)]);
            Box box;
            for (const Vec3* p : corners) box.add(*p);
            const FloatBox around(box);
            least2 =
                into.tree.nearest2([&](const FloatBox& b) { return around.distance2(b); }, least2,
                                   [&](std::uint32_t g) {
                                       if (from_own && !is_used(g)) return HUGE_VAL;
                                       return triangle_distance2(
                                           corners, corner_points(into.mesh.points.raw(), into.mesh.faces[FaceId(g)]));
                                   });
        }
    }
    return std::sqrt(least2);
}

std::string apart_by(double distance) {
    if (distance == 0) return "it only touches the body";
    char text[64];
    std::snprintf(text, sizeof text, "it is %.3g mm away from the body", distance);
    return text;
}

std::string_view verb(Operation operation) {
    switch (operation) {
        case Operation::difference: return "removes nothing";
        case Operation::union_of: return "adds nothing";
        case Operation::split: return "cuts nothing";
        default: return "changes nothing";
    }
}

}  // namespace

std::string diagnose_step(const Arrangement& arrangement, std::span<const CombineStep> before,
                          const CombineStep& step) {
    if (step.operation == Operation::gather) return "";
    const Cells& cells = arrangement.cells;
    const CellPieces body = pieces_of(cells, before), operand = pieces_of(cells, step.bundle, step.operand);
    const Relation r = relation(body, operand);
    const std::string nothing = "It " + std::string(verb(step.operation)) + ": ";
    if (!r.body) return nothing + "the steps before leave no body.";
    if (!r.operand) return nothing + "it encloses nothing.";
    std::vector<CombineStep> with(before.begin(), before.end());
    with.push_back(step);
    const bool changes = pieces_of(cells, with).of_cell != body.of_cell;
    if (changes && step.operation == Operation::union_of && !r.body_beyond) return "It swallows the whole body.";
    if (changes || step.operation == Operation::scribe) {
        if (!r.common && step.operation != Operation::union_of && step.operation != Operation::inlay)
            return "It has nothing in common with the body: " +
                   apart_by(distance_to_body(arrangement, step.operand, before)) + ".";
        return "";
    }
    if (!r.common) return nothing + apart_by(distance_to_body(arrangement, step.operand, before)) + ".";
    if (!r.body_beyond) return nothing + "the body lies wholly inside it.";
    return nothing + "it lies wholly inside the body.";
}

}  // namespace anvil
