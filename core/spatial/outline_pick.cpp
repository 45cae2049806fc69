#include "core/spatial/outline_pick.h"

#include <algorithm>

#include "core/spatial/nearest.h"

namespace anvil {
namespace {

std::optional<Point2> pixel(const ViewMap& view, const Vec3& p) {
    auto row = [&](std::size_t r) {
        const auto& m = view.rows[r];
        return m[0] * p.x + m[1] * p.y + m[2] * p.z + m[3];
    };
    const double w = row(2);
    if (!(w > 0)) return std::nullopt;
    return Point2{row(0) / w, row(1) / w};
}

Vec3 middle_of(const Mesh& mesh, ElementKind kind, const Element& e) {
    Vec3 sum;
    const int n = points_of(kind);
    for (std::size_t k = 0; k < static_cast<std::size_t>(n); ++k) sum = sum + mesh.points[e[k]];
    return sum * (1.0 / n);
}

}  // namespace

std::vector<Element> elements_in(const Mesh& mesh, ElementKind kind, const ViewMap& view,
                                 std::span<const Point2> outline, bool visible_only, const Picker& picker) {
    std::vector<Element> out;
    if (outline.size() < 3) return out;
    Point2 low = outline[0], high = outline[0];
    for (const Point2& p : outline) {
        low = {std::min(low.u, p.u), std::min(low.v, p.v)};
        high = {std::max(high.u, p.u), std::max(high.v, p.v)};
    }
    for (const Element& e : all_elements(mesh, kind)) {
        const Vec3 middle = middle_of(mesh, kind, e);
        const auto at = pixel(view, middle);
        if (!at || at->u < low.u || at->u > high.u || at->v < low.v || at->v > high.v || !is_inside(outline, *at))
            continue;
        if (visible_only) {
            // The picker works in single precision: what is hit a hair before the middle is the element itself.
            constexpr double hair = 1e-4;
            const auto hit = picker.first_hit(view.eye, middle - view.eye);
            if (hit && hit->distance < 1 - hair) continue;
        }
        out.push_back(e);
    }
    return out;
}

Element nearest_element(const Mesh& mesh, ElementKind kind, FaceId face, const Vec3& at) {
    const Triangle& t = mesh.faces[face];
    if (kind == ElementKind::faces) return face_element(t);
    std::size_t best = 0;
    double least = HUGE_VAL;
    for (std::size_t k = 0; k < 3; ++k) {
        const Vec3 &a = mesh.points[t[k]], &b = mesh.points[t[(k + 1) % 3]];
        const double d = kind == ElementKind::points ? norm2(a - at) : segment_distance2(at, at, a, b);
        if (d < least) least = d, best = k;
    }
    return kind == ElementKind::points ? point_element(t[best]) : edge_element(t[best], t[(best + 1) % 3]);
}

}  // namespace anvil
