// An outline carried through a body: prisms, or frustums with a draft.
#include "core/cut/outline_cut.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/number_text.h"

namespace anvil {
namespace {

/// For each point of a rim, the one before it and the one behind it: one pair for each loop through it.
using Neighbours = std::map<std::uint32_t, std::vector<std::pair<std::uint32_t, std::uint32_t>>>;

struct FillRim {
    std::vector<std::pair<std::uint32_t, std::uint32_t>> edges;  // counter-clockwise
    Neighbours round;
};

FillRim rim_of(const FilledOutline& fill) {
    FillRim out{rim_edges(fill.triangles), {}};
    std::map<std::uint32_t, std::vector<std::uint32_t>> behind, before;
    for (const auto& [a, b] : out.edges) {
        behind[a].push_back(b);
        before[b].push_back(a);
    }
    for (const auto& [point, next] : behind)
        for (std::size_t k = 0; k < next.size() && k < before[point].size(); ++k)
            out.round[point].push_back({before[point][k], next[k]});
    return out;
}

double side_of(const Point2& a, const Point2& b, const Point2& c) {
    return (b.u - a.u) * (c.v - a.v) - (b.v - a.v) * (c.u - a.u);
}

/// The points moved inwards so that every edge of the rim moves by that, and stays as it runs; below 0 outwards.
/// Nothing where a point lies on several loops, or something turns over.
std::optional<std::vector<Point2>> moved_inwards(const FilledOutline& fill, const FillRim& rim, double by) {
    std::vector<Point2> out = fill.points;
    for (const auto& [point, loops] : rim.round) {
        if (loops.size() != 1) return std::nullopt;
        const Point2 &p = fill.points[point], &a = fill.points[loops[0].first], &b = fill.points[loops[0].second];
        const double la = std::hypot(p.u - a.u, p.v - a.v), lb = std::hypot(b.u - p.u, b.v - p.v);
        // Normals to the left, where the inside is.
        const Point2 na{-(p.v - a.v) / la, (p.u - a.u) / la}, nb{-(b.v - p.v) / lb, (b.u - p.u) / lb};
        const double along = 1 + na.u * nb.u + na.v * nb.v;
        if (!(along > 1e-9)) return std::nullopt;
        out[point] = {p.u + by * (na.u + nb.u) / along, p.v + by * (na.v + nb.v) / along};
    }
    // What has passed its own middle looks as it did, but turned round.
    for (const auto& [a, b] : rim.edges) {
        const Point2 &p = fill.points[a], &q = fill.points[b];
        if ((q.u - p.u) * (out[b].u - out[a].u) + (q.v - p.v) * (out[b].v - out[a].v) <= 0) return std::nullopt;
    }
    for (const auto& [a, b, c] : fill.triangles)
        if (side_of(out[a], out[b], out[c]) <= 0) return std::nullopt;
    return out;
}

/// Lines hung down between two levels.
Solid curtain(const std::vector<std::vector<Point2>>& lines, double z_low, double z_high) {
    Solid out;
    std::uint32_t side = 2;
    for (const auto& line : lines) {
        const auto first = static_cast<std::uint32_t>(out.mesh.points.size());
        for (const Point2& p : line) {
            out.mesh.points.push_back({p.u, p.v, z_low});
            out.mesh.points.push_back({p.u, p.v, z_high});
        }
        for (std::uint32_t k = 0; k + 1 < line.size(); ++k) {
            const std::uint32_t a = first + 2 * k;
            out.mesh.faces.push_back({VertexId(a), VertexId(a + 2), VertexId(a + 3)});
            out.mesh.faces.push_back({VertexId(a), VertexId(a + 3), VertexId(a + 1)});
            out.side.push_back(side);
            out.side.push_back(side++);
        }
    }
    return out;
}

}  // namespace

Result<Cut> outline_cut(const OutlineCut& cut, const Transform& frame, const Box& box) {
    const Box seen = placed(box, Transform(frame.inverse()));
    const double beyond = 0.01 * box.diagonal() + over_travel;
    double high = over_travel, low = -cut.to;
    switch (cut.way) {
        case OutlineCut::Way::all:
            low = std::min(seen.low.z, 0.0) - beyond;
            high = std::max(seen.high.z, 0.0) + beyond;
            break;
        case OutlineCut::Way::to_depth: break;
        case OutlineCut::Way::between:
            high = -cut.from;
            if (cut.from >= cut.to)
                return Error{ErrorCode::out_of_range,
                             "it begins " + short_text(cut.from) + " mm below its plane and ends at " +
                                 short_text(cut.to) + " mm: the end has to be deeper",
                             ""};
            break;
    }
    // What is raised stands on the plane, and goes into the body a little so that it is one with that.
    const bool raised = cut.does == Operation::union_of && cut.way != OutlineCut::Way::all;
    if (raised) {
        low = cut.way == OutlineCut::Way::between ? cut.from : -over_travel;
        high = cut.to;
    }
    Cutter cutter{cut.does, {}};
    bool crosses = false;
    if (cut.drawing.empty() && !cut.lines.empty()) {
        if (cut.does != Operation::split && cut.does != Operation::scribe)
            return Error{ErrorCode::out_of_range,
                         "an open line can split or scribe only: it encloses nothing that could be taken away or added",
                         ""};
        cutter.solid = curtain(cut.lines, low, high);
    } else {
        const FilledOutline fill = filled(cut.drawing);
        if (fill.triangles.empty()) return Error{ErrorCode::out_of_range, "the outline encloses nothing", ""};
        if (auto fit = check_face_count(4.0 * static_cast<double>(fill.triangles.size())); !fit) return fit.error();
        std::size_t drawn = 0;
        for (const FilledLoops& part : cut.drawing)
            for (const auto& loop : part.loops) drawn += loop.size();
        crosses = cut.drawing.size() == 1 && fill.points.size() > drawn;
        std::vector<Point2> at_low = fill.points, at_high = fill.points;
        if (cut.draft != 0) {
            // The outline is as wide as drawn in its plane; it narrows away from that.
            const FillRim rim = rim_of(fill);
            const double slope = std::tan(cut.draft * std::numbers::pi / 180);
            auto level = [&](double z) { return moved_inwards(fill, rim, (raised ? z : -z) * slope); };
            const auto lower = level(low), upper = level(high);
            if (!lower || !upper)
                return Error{ErrorCode::out_of_range,
                             "a draft of " + short_text(cut.draft) +
                                 "° closes the outline on its way: take a smaller angle or less depth",
                             ""};
            at_low = *lower;
            at_high = *upper;
        }
        cutter.solid = lofted(fill, at_low, at_high, low, high, Walls::each_a_side);
    }
    for (Vec3& p : cutter.solid.mesh.points) p = apply(frame, p);
    Cut out;
    if (crosses)
        out.said = "The outline crosses itself: what it goes round an odd number of times counts as its inside.";
    out.shown = cutter.solid.mesh;
    out.cutters.push_back(std::move(cutter));
    return out;
}

}  // namespace anvil
