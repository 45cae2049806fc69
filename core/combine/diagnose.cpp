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

Mesh rounded_body(const Arrangement& arrangement, std::span<const CombineStep> steps) {
    Mesh mesh;
    mesh.points.reserve(arrangement.points.size());
    for (VertexId v : ids<VertexId>(arrangement.points.size())) mesh.points.push_back(arrangement.points.approx(v));
    for (const Extraction& extraction : extract(arrangement, steps)) {
        const Extraction piece = taken_apart(arrangement, extraction);
        mesh.faces.raw().insert(mesh.faces.raw().end(), piece.corners.begin(), piece.corners.end());
    }
    return mesh;
}

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
                   apart_by(
                       mesh_distance(arrangement.soup.operand(step.operand).mesh, rounded_body(arrangement, before))) +
                   ".";
        return "";
    }
    if (!r.common)
        return nothing +
               apart_by(
                   mesh_distance(arrangement.soup.operand(step.operand).mesh, rounded_body(arrangement, before))) +
               ".";
    if (!r.body_beyond) return nothing + "the body lies wholly inside it.";
    return nothing + "it lies wholly inside the body.";
}

}  // namespace anvil
