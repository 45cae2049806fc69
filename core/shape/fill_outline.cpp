// What loops enclose, by a constrained Delaunay triangulation (CGAL), in a file of its own since that compiles slowly.
#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>

#include <algorithm>
#include <map>
#include <vector>

#include "core/shape/outline.h"

namespace anvil {
namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using VertexBase = CGAL::Triangulation_vertex_base_with_info_2<std::uint32_t, Kernel>;
using FaceBase =
    CGAL::Triangulation_face_base_with_info_2<int, Kernel, CGAL::Constrained_triangulation_face_base_2<Kernel>>;
// Crossings are worked out in doubles; what hangs together stays exact.
using Triangulation =
    CGAL::Constrained_Delaunay_triangulation_2<Kernel, CGAL::Triangulation_data_structure_2<VertexBase, FaceBase>,
                                               CGAL::Exact_predicates_tag>;

/// How often the loops go round a point, counter-clockwise.
int winding(const Outline& outline, double u, double v) {
    int out = 0;
    for (const auto& loop : outline)
        for (std::size_t k = 0; k < loop.size(); ++k) {
            const Point2 &a = loop[k], &b = loop[(k + 1) % loop.size()];
            if ((a.v <= v) == (b.v <= v)) continue;
            const double side = (b.u - a.u) * (v - a.v) - (u - a.u) * (b.v - a.v);
            if (a.v <= v && side > 0) ++out;
            if (a.v > v && side < 0) --out;
        }
    return out;
}

/// Whether a drawing fills a point.
bool is_filled(const Drawing& drawing, double u, double v) {
    return std::ranges::any_of(drawing, [&](const FilledLoops& part) {
        const int n = winding(part.loops, u, v);
        return part.rule == FillRule::even_odd ? n % 2 != 0 : n != 0;
    });
}

/// Constrains edges along lines u = `cuts`, across all of the triangulation.
void cut_along(Triangulation& t, std::span<const double> cuts) {
    double least = 0, most = 0;
    for (auto v = t.finite_vertices_begin(); v != t.finite_vertices_end(); ++v) {
        least = std::min(least, v->point().y());
        most = std::max(most, v->point().y());
    }
    for (const double u : cuts) t.insert_constraint(Kernel::Point_2{u, least - 1}, Kernel::Point_2{u, most + 1});
}

/// Faces that no part of a loop parts; they are marked with the number of their region.
std::vector<Triangulation::Face_handle> region_from(Triangulation::Face_handle first, int number) {
    std::vector<Triangulation::Face_handle> region{first};
    first->info() = number;
    for (std::size_t k = 0; k < region.size(); ++k) {
        const auto face = region[k];
        for (int i = 0; i < 3; ++i)
            if (const auto other = face->neighbor(i); !face->is_constrained(i) && other->info() < 0) {
                other->info() = number;
                region.push_back(other);
            }
    }
    return region;
}

}  // namespace

FilledOutline filled(const Drawing& drawing, std::span<const double> cuts) {
    Triangulation t;
    for (const FilledLoops& part : drawing)
        for (const auto& loop : part.loops) {
            std::vector<Triangulation::Vertex_handle> at;
            for (const Point2& p : loop) at.push_back(t.insert({p.u, p.v}));
            for (std::size_t k = 0; k < at.size(); ++k)
                if (const auto a = at[k], b = at[(k + 1) % at.size()]; a != b) t.insert_constraint(a, b);
        }
    FilledOutline out;
    if (t.dimension() < 2) return out;
    cut_along(t, cuts);
    for (auto f = t.all_faces_begin(); f != t.all_faces_end(); ++f) f->info() = -1;
    constexpr std::uint32_t none = ~0u;
    for (auto v = t.finite_vertices_begin(); v != t.finite_vertices_end(); ++v) v->info() = none;
    int regions = 0;
    for (auto first = t.finite_faces_begin(); first != t.finite_faces_end(); ++first) {
        if (first->info() >= 0) continue;
        const auto region = region_from(first, regions++);
        // Told in the middle of its largest triangle, where rounding matters least.
        Triangulation::Face_handle largest;
        double area = 0;
        bool outside = false;
        for (const auto face : region) {
            if (t.is_infinite(face)) {
                outside = true;
                continue;
            }
            const double a = t.triangle(face).area();
            if (a > area) area = a, largest = face;
        }
        if (outside || area == 0) continue;
        const auto middle = CGAL::centroid(t.triangle(largest));
        if (!is_filled(drawing, middle.x(), middle.y())) continue;
        for (const auto face : region) {
            std::array<std::uint32_t, 3> triangle;
            for (std::size_t k = 0; k < 3; ++k) {
                const auto v = face->vertex(static_cast<int>(k));
                if (v->info() == none) {
                    v->info() = static_cast<std::uint32_t>(out.points.size());
                    out.points.push_back({v->point().x(), v->point().y()});
                }
                triangle[k] = v->info();
            }
            out.triangles.push_back(triangle);
        }
    }
    return out;
}

}  // namespace anvil
