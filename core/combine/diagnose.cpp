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
        case Operation::trim_outside:
        case Operation::trim_inside: return "trims nothing";
        case Operation::difference: return "removes nothing";
        case Operation::union_of: return "adds nothing";
        case Operation::split: return "cuts nothing";
        default: return "changes nothing";
    }
}

std::string place(const Vec3& p) {
    char text[96];
    std::snprintf(text, sizeof text, "(%.4g, %.4g, %.4g)", p.x, p.y, p.z);
    return text;
}

/// Where a sheet ends in the midst of the body; empty where it passes all the way through.
std::string stops_short(const Arrangement& a, std::uint32_t sheet, const CellPieces& body) {
    std::size_t edges = 0;
    double longest = -1;
    Vec3 middle;
    for (const Cells::OpenEnd& end : a.cells.open_ends) {
        if (end.sheet != sheet || body.of_cell[end.cell] == 0) continue;
        ++edges;
        const Vec3 p = a.points.approx(end.a), q = a.points.approx(end.b);
        if (norm(q - p) > longest) longest = norm(q - p), middle = (p + q) * 0.5;
    }
    if (edges == 0) return "";
    return "does not pass all the way through: it ends inside the body along " + std::to_string(edges) +
           (edges == 1 ? " edge" : " edges") + ", at " + place(middle);
}

/// What there is to say about a sheet as an operand.
std::string diagnose_sheet(const Arrangement& a, std::span<const CombineStep> before, const CombineStep& step,
                           const CellPieces& body) {
    if (step.operation == Operation::scribe) return "";
    const std::string nothing = "It " + std::string(verb(step.operation)) + ": ";
    if (step.operation != Operation::split && step.operation != Operation::pieces)
        return nothing + "it is a sheet and encloses nothing. Split cuts along a sheet.";
    if (std::ranges::all_of(body.of_cell, [](std::uint32_t p) { return p == 0; }))
        return nothing + "the steps before leave no body.";
    std::vector<CombineStep> with(before.begin(), before.end());
    with.push_back(step);
    const std::uint32_t parts = pieces_of(a.cells, with).count;
    const std::string ends = stops_short(a, step.operand, body);
    if (parts > body.count) return ends.empty() ? "" : "It " + ends + "; there it cuts nothing.";
    if (!ends.empty()) return nothing + "it " + ends + ".";
    const double distance = distance_to_body(a, step.operand, before);
    return nothing + (distance == 0 ? "it only touches the body or an earlier cut" : apart_by(distance)) + ".";
}

/// What there is to say about a trim. The base's own faces count, or the body's where it is one.
std::string diagnose_trim(const Arrangement& a, std::span<const CombineStep> before, const CombineStep& step) {
    auto size = [](const std::vector<Extraction>& pieces) {
        return pieces.front().corners.size() + pieces.front().patches.size();
    };
    std::vector<CombineStep> with(before.begin(), before.end()), other = with;
    with.push_back(step);
    other.push_back(step);
    const bool outside = step.operation == Operation::trim_outside;
    other.back().operation = outside ? Operation::trim_inside : Operation::trim_outside;
    const bool keeps = size(extract(a, with)) > 0, drops = size(extract(a, other)) > 0;
    if (!keeps && !drops) return "It trims nothing: the steps before leave no surface.";
    if (keeps && drops) return "";
    if (!keeps) return outside ? "The whole surface lies inside it." : "The whole surface lies outside of it.";
    if (!outside) return "It trims nothing: the whole surface lies inside it.";
    return "It trims nothing: " + apart_by(distance_to_body(a, step.operand, before)) + ".";
}

}  // namespace

std::string diagnose_step(const Arrangement& arrangement, std::span<const CombineStep> before,
                          const CombineStep& step) {
    if (step.operation == Operation::gather) return "";
    const Cells& cells = arrangement.cells;
    if (comes_too_late(before, step.operation))
        return "It changes nothing: a trim before it left a surface without an inside.";
    const CellPieces body = pieces_of(cells, before), operand = pieces_of(cells, step.bundle, step.operand);
    if (cells.sheet(step.operand)) return diagnose_sheet(arrangement, before, step, body);
    const Relation r = relation(body, operand);
    if (is_trim(step.operation) && r.operand) return diagnose_trim(arrangement, before, step);
    const std::string nothing = "It " + std::string(verb(step.operation)) + ": ";
    if (!r.body && cells.sheet(0) && step.operation != Operation::union_of)
        return nothing + "the base is a sheet and encloses nothing. The trims cut sheets.";
    if (!r.body && step.operation != Operation::union_of) return nothing + "the steps before leave no body.";
    if (!r.operand) return nothing + "it encloses nothing.";
    std::vector<CombineStep> with(before.begin(), before.end());
    with.push_back(step);
    const bool changes = pieces_of(cells, with).of_cell != body.of_cell;
    if (changes && step.operation == Operation::union_of && r.body && !r.body_beyond)
        return "It swallows the whole body.";
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
