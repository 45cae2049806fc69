// Grooves and ribs along edges: a bar over each edge, mitred where the line bends.
#include "core/cut/notch.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/number_text.h"
#include "core/base/place_text.h"
#include "core/cut/edge_lines.h"
#include "core/mesh/measures.h"

namespace anvil {
namespace {

constexpr double twisted = 5;  // degrees from which a face's two halves are told to be twisted

/// The cross section over an edge: corners as seen along its way, counter-clockwise, told from the edge, and the side
/// that each stretch from one corner to the next makes.
struct Section {
    std::vector<Vec3> corners;
    std::vector<std::uint32_t> sides;
};

/// Where a line from `from` through `to` has gone on by that.
Vec3 beyond(const Vec3& from, const Vec3& to, double by) { return to + normalized(to - from) * by; }

Section section_of(const LineEdge& e, const Notch& n) {
    const Vec3 left = e.left * n.width, right = e.right * n.width_right;
    Section out;
    if (n.rib) {
        // It stands on both faces, and goes into the body a little so that it is one with that.
        const Vec3 down = e.outward * -n.over, tip = e.outward * n.depth;
        if (n.square)
            out = {
                {beyond(right + tip, right, n.over), right + tip, left + tip, beyond(left + tip, left, n.over), down},
                {1, 4, 0, 2, 2}};
        else
            out = {{beyond(tip, right, n.over), tip, beyond(tip, left, n.over), down}, {1, 0, 2, 2}};
        return out;
    }
    const double up = n.over + 0.05 * (n.width + n.width_right);
    // Above both faces: their offsets by that meet over the edge.
    const Vec3 crest = e.outward * (up / std::max(0.2, dot(e.outward, e.right_normal)));
    if (!n.square) {
        const Vec3 floor = e.outward * -n.depth;
        out = {{floor, beyond(floor, right, up), right * 0.5 + e.right_normal * up, crest,
                left * 0.5 + e.left_normal * up, beyond(floor, left, up)},
               {1, 2, 2, 2, 2, 0}};
        return out;
    }
    const Vec3 down = e.outward * -n.depth;
    out = {{left + down, right + down, right + e.outward * up, crest, left + e.outward * up}, {4, 1, 2, 2, 0}};
    return out;
}

/// A corner of the section where two edges meet: on the plane that halves their angle, midway between where both run
/// into it.
Vec3 mitred(const Vec3& point, const LineEdge& a, const Vec3& corner_a, const LineEdge& b, const Vec3& corner_b) {
    const Vec3 plane = normalized(a.along + b.along);
    const Vec3 at_a = corner_a - a.along * (dot(corner_a, plane) / dot(a.along, plane));
    const Vec3 at_b = corner_b - b.along * (dot(corner_b, plane) / dot(b.along, plane));
    return point + (at_a + at_b) * 0.5;
}

/// At an open end.
std::vector<Vec3> end_of(const Vec3& point, const LineEdge& e, const Section& section, const Notch& n, bool last) {
    std::vector<Vec3> out;
    const double sign = last ? 1 : -1;
    double run = n.over;
    if (n.ends == Notch::Ends::run_out) run = std::max({n.width, n.width_right, n.depth}) + n.over;
    for (const Vec3& corner : section.corners) {
        double by = run;
        if (n.ends == Notch::Ends::tilted) {
            // What lies deep ends early: the floor rises to the surface at that angle.
            const double height = dot(corner, e.outward) * (n.rib ? -1 : 1);
            by = n.over + height / std::tan(n.tilt * std::numbers::pi / 180);
        }
        out.push_back(point + corner + e.along * (sign * by));
    }
    return out;
}

/// Degrees between the two halves of a four-cornered face.
double twist_of(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    const Vec3 m = normalized(cross(b - a, c - a)), n = normalized(cross(c - a, d - a));
    if (m == Vec3{} || n == Vec3{}) return 0;
    return std::acos(std::clamp(dot(m, n), -1.0, 1.0)) * 180 / std::numbers::pi;
}

struct Twists {
    std::vector<Vec3> places;
    double worst = 0;
};

Result<void> add_bar(const EdgeLine& line, const Notch& n, Solid& to, Twists& twists) {
    const std::size_t edges = line.edges.size(), rows = line.points.size();
    std::vector<Section> sections;
    for (const LineEdge& e : line.edges) sections.push_back(section_of(e, n));
    const std::size_t k = sections.front().corners.size();
    std::vector<std::vector<Vec3>> row(rows);
    for (std::size_t i = 0; i < rows; ++i) {
        const bool first = i == 0 && !line.closed, last = i + 1 == rows && !line.closed;
        if (first || last) {
            const std::size_t e = first ? 0 : edges - 1;
            row[i] = end_of(line.points[i], line.edges[e], sections[e], n, last);
            continue;
        }
        const std::size_t before = (i + edges - 1) % edges, behind = i % edges;
        const LineEdge &a = line.edges[before], &b = line.edges[behind];
        if (dot(a.along, b.along) < -0.95)
            return Error{
                ErrorCode::out_of_range,
                "the edges turn back on themselves at " + place_text(line.points[i]) + ": choose them in two steps",
                ""};
        for (std::size_t c = 0; c < k; ++c)
            row[i].push_back(mitred(line.points[i], a, sections[before].corners[c], b, sections[behind].corners[c]));
    }
    const auto offset = static_cast<std::uint32_t>(to.mesh.points.size());
    for (const auto& r : row)
        for (const Vec3& p : r) to.mesh.points.push_back(p);
    auto corner = [&](std::size_t i, std::size_t c) {
        return VertexId(offset + static_cast<std::uint32_t>((i % rows) * k + c % k));
    };
    auto add = [&](VertexId a, VertexId b, VertexId c, std::uint32_t side) {
        to.mesh.faces.push_back({a, b, c});
        to.side.push_back(side);
    };
    for (std::size_t i = 0; i < edges; ++i) {
        double worst = 0;
        for (std::size_t c = 0; c < k; ++c) {
            const VertexId p = corner(i, c), q = corner(i, c + 1), r = corner(i + 1, c + 1), s = corner(i + 1, c);
            const std::uint32_t side = sections[i].sides[c];
            add(p, q, r, side);
            add(p, r, s, side);
            const auto& at = to.mesh.points;
            if (side != 2) worst = std::max(worst, twist_of(at[p], at[q], at[r], at[s]));
        }
        if (worst > twisted) {
            twists.places.push_back((line.points[i] + line.points[(i + 1) % rows]) * 0.5);
            twists.worst = std::max(twists.worst, worst);
        }
    }
    if (line.closed) return {};
    for (std::size_t c = 2; c < k; ++c) {
        add(corner(0, 0), corner(0, c), corner(0, c - 1), 3);
        add(corner(rows - 1, 0), corner(rows - 1, c - 1), corner(rows - 1, c), 3);
    }
    return {};
}

}  // namespace

Result<Cut> notched(const Mesh& body, const Selection& chosen, const Notch& n) {
    auto lines = edge_lines(body, chosen);
    if (!lines) return lines.error();
    Cutter cutter{n.rib ? Operation::union_of : Operation::difference, {}};
    Twists twists;
    for (const EdgeLine& line : *lines) {
        Solid bar;
        if (auto added = add_bar(line, n, bar, twists); !added) return added.error();
        if (signed_volume(bar.mesh) < 0) turn_over(bar.mesh);
        append(cutter.solid.mesh, bar.mesh);
        for (const std::uint32_t side : bar.side) cutter.solid.side.push_back(side);
    }
    Cut out;
    out.shown = cutter.solid.mesh;
    out.cutters.push_back(std::move(cutter));
    if (!twists.places.empty()) {
        out.said = "Twisted by up to " + short_text(twists.worst) + "° along " +
                   count_text(twists.places.size(), "edge", "edges") + ", marked in the view.";
        out.places = std::move(twists.places);
    }
    return out;
}

}  // namespace anvil
