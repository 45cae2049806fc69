#include "core/combine/rounding.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <array>
#include <bit>
#include <limits>
#include <numbers>

#include "core/base/number_text.h"
#include "core/base/sort.h"
#include "core/combine/flakes.h"
#include "core/combine/surface_edges.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

/// Upper bound of the distance between a point and its rounded coordinates; 0 where it is exactly there.
double rounding_move(const PointView& p) {
    if (is_rounded_point(p)) return 0;
    auto half_ulp = [](double v) {
        const double amount = std::fabs(v);  // the next number has the next bits
        return (std::bit_cast<double>(std::bit_cast<std::uint64_t>(amount) + 1) - amount) / 2;
    };
    // Not by squares, which are 0 where coordinates are tiny: then no face would be suspected.
    return std::numbers::sqrt3 * largest_component({half_ulp(p.approx.x), half_ulp(p.approx.y), half_ulp(p.approx.z)});
}

/// The points that faces have, sorted, and per face the places of its corners among them.
struct UsedPoints {
    std::vector<VertexId> points;
    std::vector<std::array<std::uint32_t, 3>> index;
};
/// `count`: of all points. Where most are used they are marked in a list of all.
UsedPoints used_points(std::span<const Triangle> faces, std::size_t count) {
    UsedPoints out;
    out.index.resize(faces.size());
    if (count < 12 * faces.size()) {
        std::vector<std::uint32_t> number(count, 0);
        for (const Triangle& t : faces)
            for (const VertexId v : t) number[v.value()] = 1;
        for (std::size_t v = 0; v < count; ++v) {
            if (number[v] == 0) continue;
            number[v] = static_cast<std::uint32_t>(out.points.size());
            out.points.push_back(VertexId(v));
        }
        for (std::size_t f = 0; f < faces.size(); ++f)
            for (std::size_t k = 0; k < 3; ++k) out.index[f][k] = number[faces[f][k].value()];
        return out;
    }
    struct PointUse {
        VertexId v;
        std::uint32_t place;
    };
    std::vector<PointUse> corners;
    corners.reserve(3 * faces.size());
    for (const Triangle& t : faces)
        for (VertexId v : t) corners.push_back({v, static_cast<std::uint32_t>(corners.size())});
    sort_by_number(
        corners, [](const PointUse& c) { return c.v.value(); },
        [](const PointUse& a, const PointUse& b) { return a.place < b.place; });
    for (const PointUse& c : corners) {
        if (out.points.empty() || out.points.back() != c.v) out.points.push_back(c.v);
        out.index[c.place / 3][c.place % 3] = static_cast<std::uint32_t>(out.points.size() - 1);
    }
    return out;
}

/// Points that faces had which collapsed or were dropped.
void drop_unused_points(RoundedFaces& rounded) {
    std::vector<std::uint32_t> number(rounded.points.size(), 0);
    for (const Triangle& t : rounded.faces)
        for (const VertexId v : t) number[v.value()] = 1;
    std::uint32_t kept = 0;
    for (std::size_t v = 0; v < number.size(); ++v) {
        if (number[v] == 0) continue;
        rounded.points[kept] = rounded.points[v];
        rounded.input[kept] = rounded.input[v];
        rounded.moved[kept] = rounded.moved[v];
        number[v] = kept++;
    }
    if (kept == number.size()) return;
    rounded.points.resize(kept);
    rounded.input.resize(kept);
    rounded.moved.resize(kept);
    for (Triangle& t : rounded.faces)
        for (VertexId& v : t) v = VertexId(number[v.value()]);
}

/// The sub-faces with their points rounded, without those that have lost an edge. `as_arranged`: no two points fell
/// on each other. Of no use where it was stopped.
struct Rounding {
    RoundedFaces faces;
    bool as_arranged = false;
};
Rounding rounded_faces(const PointTable& points, const Extraction& extraction, Precision precision,
                       const Progress& progress) {
    const auto [used, index] = used_points(extraction.corners, points.size());
    if (progress.cancelled()) return {};
    std::vector<Vec3> approx(used.size());
    std::vector<double> moves(used.size());
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, used.size(), 1024), [&](const auto& range) {
        if (progress.cancelled()) return;
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            const Vec3& p = points.approx(used[i]);
            approx[i] = precision == Precision::single_precision ? in_single_precision(p) : p;
            moves[i] = approx[i] == p ? rounding_move(points.view(used[i])) : norm(approx[i] - p);
        }
    });
    if (progress.cancelled()) return {};
    const WeldMap weld = weld_map(approx);
    if (progress.cancelled()) return {};

    Rounding rounding{{}, weld.groups == used.size()};
    RoundedFaces& out = rounding.faces;
    out.points.resize(weld.groups);
    out.input.resize(weld.groups);
    out.moved.assign(weld.groups, 0);
    for (std::size_t i = 0; i < used.size(); ++i) {
        const std::uint32_t group = weld.group[i];
        out.points[group] = approx[i];
        const double move = moves[i];
        if (move > 0) out.moved[group] = 1;
        if (move == 0 && points.is_input(used[i]) && !out.input[group].valid()) out.input[group] = used[i];
        out.largest_move = std::max(out.largest_move, move);
    }
    auto number = [&](std::uint32_t i) { return VertexId(weld.group[i]); };
    out.faces.reserve(extraction.corners.size());
    out.source.reserve(extraction.corners.size());
    out.origin.reserve(extraction.corners.size());
    for (std::size_t f = 0; f < extraction.corners.size(); ++f) {
        const Triangle r{number(index[f][0]), number(index[f][1]), number(index[f][2])};
        if (repeats_corner(r)) continue;
        out.faces.push_back(r);
        out.source.push_back(extraction.source[f]);
        out.origin.push_back(static_cast<std::uint32_t>(f));
    }
    if (out.faces.size() < extraction.corners.size()) drop_unused_points(out);
    return rounding;
}

/// How faces hang together where rounding left all points apart: as the sub-faces do.
HalfEdges edges_as_arranged(const RoundedFaces& faces, const Arrangement& arrangement, const Extraction& extraction) {
    std::vector<std::uint32_t> number;
    number.reserve(3 * faces.faces.size());
    for (std::uint32_t f = 0; f < faces.faces.size(); ++f)
        for (std::uint32_t k = 0; k < 3; ++k) number.push_back(edge_number(arrangement, extraction, f, k));
    return find_half_edges(faces.faces, faces.points.size(), number, arrangement.edges.count);
}

}  // namespace

void RoundedSurface::find_tree() {
    if (std::ranges::find(faces.moved, 1) != faces.moved.end()) tree = BoxTree(faces.points, faces.faces);
}

RoundedSurface round_points(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                            bool tree, const Progress& progress) {
    Rounding rounding = rounded_faces(arrangement.points, extraction, precision, progress);
    if (progress.cancelled()) return {};
    RoundedSurface surface{std::move(rounding.faces), {}, {}};
    RoundedFaces& out = surface.faces;
    std::vector<char> flakes;
    tbb::parallel_invoke(
        [&] {
            surface.edges = rounding.as_arranged && has_edge_numbers(arrangement, extraction)
                                ? edges_as_arranged(out, arrangement, extraction)
                                : find_half_edges(out.faces, out.points.size());
            flakes = find_flakes(out, surface.edges, precision, progress);
        },
        [&] {
            if (tree) surface.find_tree();
        });
    if (progress.cancelled()) return {};
    if (flakes.empty()) return surface;
    out.drop(flakes);
    drop_unused_points(out);
    surface.edges = find_half_edges(out.faces, out.points.size());
    if (tree) surface.find_tree();
    return surface;
}

RoundedFaces unmoved(Mesh mesh, std::vector<FaceSource> source) {
    RoundedFaces out;
    out.points = std::move(mesh.points.raw());
    out.input.resize(out.points.size());
    out.moved.assign(out.points.size(), 0);
    out.faces = std::move(mesh.faces.raw());
    out.source = std::move(source);
    for (std::uint32_t f = 0; f < out.faces.size(); ++f) out.origin.push_back(f);
    return out;
}

Mesh as_mesh(const RoundedFaces& rounded) {
    Mesh mesh;
    mesh.points.raw() = rounded.points;
    mesh.faces.raw() = rounded.faces;
    return welded(mesh);
}

double reach_of(std::span<const Vec3> points) {
    double reach = 0;
    for (const Vec3& p : points) reach = std::max(reach, largest_component(p));
    return reach;
}

double reach_of(const Soup& soup) {
    double reach = 0;
    for (const auto& operand : soup.operands())
        if (!operand->bounds.empty())
            reach = std::max({reach, largest_component(operand->bounds.low), largest_component(operand->bounds.high)});
    return reach;
}

std::string too_far_off(std::span<const Vec3> points, Precision precision) {
    Box box;
    for (const Vec3& p : points) box.add(p);
    const double reach = reach_of(points);
    if (precision != Precision::single_precision || !(reach < double{std::numeric_limits<float>::max()})) return "";
    const auto place = static_cast<float>(reach);
    const double step = double{std::nextafter(place, HUGE_VALF)} - double{place};
    if (points.empty() || box.diagonal() == 0 || step < box.diagonal() / 512) return "";
    return "It lies so far from the origin that numbers of single precision, as STL has them, keep only steps of " +
           short_text(step) + " mm of it; move it nearer, or take OFF, PLY or OBJ.";
}

}  // namespace anvil
