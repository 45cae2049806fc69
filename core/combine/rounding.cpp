#include "core/combine/rounding.h"

#include <algorithm>

#include "core/combine/flakes.h"
#include "core/mesh/weld.h"

namespace anvil {
namespace {

/// Upper bound of the distance between a point and its rounded coordinates; 0 where it is exactly there.
double rounding_move(const PointView& p) {
    if (p.is_explicit() || same_point(p, PointView{p.approx})) return 0;
    auto half_ulp = [](double v) { return (std::nextafter(std::fabs(v), HUGE_VAL) - std::fabs(v)) / 2; };
    return norm({half_ulp(p.approx.x), half_ulp(p.approx.y), half_ulp(p.approx.z)});
}

/// The nearest multiple of `grid`, a power of two.
Vec3 on_grid(const Vec3& p, double grid) {
    return {std::nearbyint(p.x / grid) * grid, std::nearbyint(p.y / grid) * grid, std::nearbyint(p.z / grid) * grid};
}

}  // namespace

RoundedFaces round_points(const PointTable& points, const Extraction& extraction, const std::vector<char>& coarse,
                          double grid, Precision precision) {
    std::vector<VertexId> used;
    used.reserve(3 * extraction.corners.size());
    for (const Triangle& t : extraction.corners) used.insert(used.end(), t.begin(), t.end());
    std::sort(used.begin(), used.end());
    used.erase(std::unique(used.begin(), used.end()), used.end());
    auto index = [&](VertexId v) {
        return static_cast<std::size_t>(std::lower_bound(used.begin(), used.end(), v) - used.begin());
    };
    std::vector<Vec3> approx;
    approx.reserve(used.size());
    for (VertexId v : used) approx.push_back(points.approx(v));
    std::vector<char> snapped(used.size(), 0);
    if (grid > 0) {
        for (std::size_t f = 0; f < coarse.size(); ++f)
            if (coarse[f])
                for (VertexId v : extraction.corners[f]) snapped[index(v)] = 1;
        for (std::size_t i = 0; i < used.size(); ++i)
            if (snapped[i]) approx[i] = on_grid(approx[i], grid);
    }
    std::vector<char> reduced(used.size(), 0);
    for (std::size_t i = 0; i < used.size(); ++i) {
        const Vec3 p = precision == Precision::single_precision ? in_single_precision(approx[i]) : approx[i];
        reduced[i] = !(p == approx[i]);
        approx[i] = p;
    }
    const WeldMap weld = weld_map(approx);

    RoundedFaces out;
    out.points.resize(weld.groups);
    out.input.resize(weld.groups);
    out.moved.assign(weld.groups, 0);
    for (std::size_t i = 0; i < used.size(); ++i) {
        const std::uint32_t group = weld.group[i];
        out.points[group] = approx[i];
        const double move =
            snapped[i] || reduced[i] ? norm(approx[i] - points.approx(used[i])) : rounding_move(points.view(used[i]));
        if (move > 0) out.moved[group] = 1;
        if (move == 0 && points.is_input(used[i]) && !out.input[group].valid()) out.input[group] = used[i];
        out.largest_move = std::max(out.largest_move, move);
    }
    auto number = [&](VertexId v) { return VertexId(weld.group[index(v)]); };
    for (std::size_t f = 0; f < extraction.corners.size(); ++f) {
        const Triangle& t = extraction.corners[f];
        const Triangle r{number(t[0]), number(t[1]), number(t[2])};
        if (repeats_corner(r)) continue;
        out.faces.push_back(r);
        out.source.push_back(extraction.source[f]);
        out.origin.push_back(static_cast<std::uint32_t>(f));
    }
    drop_flakes(out, precision, grid);
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

}  // namespace anvil
