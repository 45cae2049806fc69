#include "core/combine/diagnose.h"

#include <cstdio>

#include "core/base/place_text.h"
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

/// What steps make of an operand, and how it came about.
struct Body {
    std::span<const CombineStep> steps;
    std::uint32_t base;
};

/// Which faces the surface of a body is made of. Faces that were cut count whole.
class SurfaceFaces {
  public:
    SurfaceFaces(const Arrangement& a, const Body& body)
        : a_(a), patch_(a.patches.size(), 0), active_(a.active.size(), 0), operand_(a.soup.size(), 0) {
        for (const Extraction& piece : extract(a, body.steps, body.base)) {
            for (const Extraction::Whole& w : piece.patches) {
                patch_[w.patch] = 1;
                operand_[a.patches.list[w.patch].operand] = 1;
            }
            for (FaceId f : piece.plane) {
                active_[a.active.index_of[f.value()]] = 1;
                operand_[a.soup.operand_of(f)] = 1;
            }
        }
    }
    bool any(std::uint32_t operand) const { return operand_[operand]; }
    bool has(std::uint32_t operand, std::uint32_t own) const {
        const std::uint32_t active = a_.active.index_of[a_.soup.global(operand, FaceId(own)).value()];
        return active != ActiveFaces::none ? active_[active] : patch_[a_.patches.of(a_.soup, operand, FaceId(own))];
    }

  private:
    const Arrangement& a_;
    std::vector<char> patch_, active_, operand_;
};

/// Least squared distance between the faces of two operands that two surfaces are made of, where it is under `least2`.
double distance2(const Arrangement& a, const SurfaceFaces& x, std::uint32_t of_x, const SurfaceFaces& y,
                 std::uint32_t of_y, double least2) {
    const Operand &from = a.soup.operand(of_x), &into = a.soup.operand(of_y);
    for (std::uint32_t f = 0; f < from.mesh.faces.size(); ++f) {
        if (!x.has(of_x, f)) continue;
        const CornerPoints corners = corner_points(from.mesh.points.raw(), from.mesh.faces[FaceId(f)]);
        const FloatBox around(box_of(corners));
        least2 = into.tree.nearest2([&](const FloatBox& b) { return around.distance2(b); }, least2,
                                    [&](std::uint32_t g) {
                                        if (!y.has(of_y, g)) return HUGE_VAL;
                                        return triangle_distance2(
                                            corners, corner_points(into.mesh.points.raw(), into.mesh.faces[FaceId(g)]));
                                    });
    }
    return least2;
}

/// Distance in mm between the surfaces of two bodies.
double distance(const Arrangement& a, const Body& one, const Body& other) {
    const SurfaceFaces x(a, one), y(a, other);
    double least2 = HUGE_VAL;
    for (std::uint32_t o = 0; o < a.soup.size(); ++o)
        for (std::uint32_t p = 0; p < a.soup.size(); ++p) {
            if (!x.any(o) || !y.any(p) || o == p) continue;
            // From the faces of the smaller one into the tree of the larger one.
            const bool turn = a.soup.operand(o).mesh.faces.size() > a.soup.operand(p).mesh.faces.size();
            least2 = turn ? distance2(a, y, p, x, o, least2) : distance2(a, x, o, y, p, least2);
        }
    return std::sqrt(least2);
}
Body operand_of(const CombineStep& step) { return {step.bundle, step.operand}; }

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
           (edges == 1 ? " edge" : " edges") + ", at " + place_text(middle);
}

/// What there is to say about a sheet as an operand.
std::string diagnose_sheet(const Arrangement& a, const Body& before, const CombineStep& step, const CellPieces& body,
                           const CellPieces& behind) {
    if (step.operation == Operation::scribe) return "";
    const std::string nothing = "It " + std::string(verb(step.operation)) + ": ";
    if (step.operation != Operation::split && step.operation != Operation::pieces)
        return nothing + "it is a sheet and encloses nothing. Split cuts along a sheet.";
    if (std::ranges::all_of(body.of_cell, [](std::uint32_t p) { return p == 0; }))
        return nothing + "the steps before leave no body.";
    const std::string ends = stops_short(a, step.operand, body);
    if (behind.count > body.count) return ends.empty() ? "" : "It " + ends + "; there it cuts nothing.";
    if (!ends.empty()) return nothing + "it " + ends + ".";
    const double apart = distance(a, operand_of(step), before);
    return nothing + (apart == 0 ? "it only touches the body or an earlier cut" : apart_by(apart)) + ".";
}

/// What there is to say about a trim. The base's own faces count, or the body's where it is one.
std::string diagnose_trim(const Arrangement& a, const Body& before, const CombineStep& step) {
    auto size = [](const std::vector<Extraction>& pieces) {
        return pieces.front().corners.size() + pieces.front().patches.size();
    };
    std::vector<CombineStep> with(before.steps.begin(), before.steps.end()), other = with;
    with.push_back(step);
    other.push_back(step);
    const bool outside = step.operation == Operation::trim_outside;
    other.back().operation = outside ? Operation::trim_inside : Operation::trim_outside;
    const bool keeps = size(extract(a, with, before.base)) > 0, drops = size(extract(a, other, before.base)) > 0;
    if (!keeps && !drops) return "It trims nothing: the steps before leave no surface.";
    if (keeps && drops) return "";
    if (!keeps) return outside ? "The whole surface lies inside it." : "The whole surface lies outside of it.";
    if (!outside) return "It trims nothing: the whole surface lies inside it.";
    return "It trims nothing: " + apart_by(distance(a, operand_of(step), before)) + ".";
}

}  // namespace

std::string diagnose_step(const Arrangement& arrangement, std::span<const CombineStep> before, const CombineStep& step,
                          std::uint32_t base) {
    const CellPieces body = pieces_of(arrangement.cells, before, base);
    return diagnose_step(arrangement, before, step, base, body, pieces_after(arrangement.cells, body, step));
}

std::string diagnose_step(const Arrangement& arrangement, std::span<const CombineStep> before, const CombineStep& step,
                          std::uint32_t base, const CellPieces& body, const CellPieces& behind) {
    if (step.operation == Operation::gather) return "";
    const Cells& cells = arrangement.cells;
    if (comes_too_late(before, step.operation))
        return "It changes nothing: a trim before it left a surface without an inside.";
    const CellPieces operand = pieces_of(cells, step.bundle, step.operand);
    const Body body_before{before, base};
    if (cells.sheet(step.operand)) return diagnose_sheet(arrangement, body_before, step, body, behind);
    const Relation r = relation(body, operand);
    if (is_trim(step.operation) && r.operand) return diagnose_trim(arrangement, body_before, step);
    const std::string nothing = "It " + std::string(verb(step.operation)) + ": ";
    if (!r.body && cells.sheet(base) && step.operation != Operation::union_of)
        return nothing + "the base is a sheet and encloses nothing. The trims cut sheets.";
    if (!r.body && step.operation != Operation::union_of) return nothing + "the steps before leave no body.";
    if (!r.operand) return nothing + "it encloses nothing.";
    const bool changes = behind.of_cell != body.of_cell;
    if (changes && step.operation == Operation::union_of && r.body && !r.body_beyond)
        return "It swallows the whole body.";
    if (changes || step.operation == Operation::scribe) {
        if (!r.common && step.operation != Operation::union_of && step.operation != Operation::inlay)
            return "It has nothing in common with the body: " +
                   apart_by(distance(arrangement, operand_of(step), body_before)) + ".";
        return "";
    }
    if (!r.common) return nothing + apart_by(distance(arrangement, operand_of(step), body_before)) + ".";
    if (!r.body_beyond) return nothing + "the body lies wholly inside it.";
    return nothing + "it lies wholly inside the body.";
}

}  // namespace anvil
