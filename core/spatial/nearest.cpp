// Based on: C. Ericson, "Real-Time Collision Detection" (2005), section 5.1.5, for the closest point on a triangle.
#include "core/spatial/nearest.h"

namespace anvil {

double point_triangle_distance2(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    auto to = [&](const Vec3& q) { return dot(p - q, p - q); };
    auto along = [&](const Vec3& from, const Vec3& edge, double t) { return to(from + edge * t); };
    const Vec3 ab = b - a, ac = c - a;
    const double d1 = dot(ab, p - a), d2 = dot(ac, p - a);
    if (d1 <= 0 && d2 <= 0) return to(a);
    const double d3 = dot(ab, p - b), d4 = dot(ac, p - b);
    if (d3 >= 0 && d4 <= d3) return to(b);
    const double vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) return along(a, ab, d1 / (d1 - d3));
    const double d5 = dot(ab, p - c), d6 = dot(ac, p - c);
    if (d6 >= 0 && d5 <= d6) return to(c);
    const double vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) return along(a, ac, d2 / (d2 - d6));
    const double va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return along(b, c - b, (d4 - d3) / ((d4 - d3) + (d5 - d6)));
    const double sum = va + vb + vc;
    return to(a + ab * (vb / sum) + ac * (vc / sum));
}

NearestFace::NearestFace(const Mesh& mesh) : mesh_(mesh), tree_(face_boxes(mesh.points.raw(), mesh.faces.raw())) {}

double NearestFace::distance(const Vec3& p) const {
    return std::sqrt(tree_.nearest2(p, HUGE_VAL, [&](std::uint32_t item) {
        const FaceId f(item);
        return point_triangle_distance2(p, mesh_.corner(f, 0), mesh_.corner(f, 1), mesh_.corner(f, 2));
    }));
}

}  // namespace anvil
