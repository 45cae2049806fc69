// Based on: C. Ericson, "Real-Time Collision Detection" (2005), sections 5.1.5 and 5.1.9, for the closest points on a
// triangle and on two segments.
#include "core/spatial/nearest.h"

namespace anvil {

Vec3 closest_on_triangle(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 ab = b - a, ac = c - a;
    const double d1 = dot(ab, p - a), d2 = dot(ac, p - a);
    if (d1 <= 0 && d2 <= 0) return a;
    const double d3 = dot(ab, p - b), d4 = dot(ac, p - b);
    if (d3 >= 0 && d4 <= d3) return b;
    const double vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) return a + ab * (d1 / (d1 - d3));
    const double d5 = dot(ab, p - c), d6 = dot(ac, p - c);
    if (d6 >= 0 && d5 <= d6) return c;
    const double vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) return a + ac * (d2 / (d2 - d6));
    const double va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return b + (c - b) * ((d4 - d3) / ((d4 - d3) + (d5 - d6)));
    const double sum = va + vb + vc;
    return a + ab * (vb / sum) + ac * (vc / sum);
}

double point_triangle_distance2(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 d = p - closest_on_triangle(p, a, b, c);
    return dot(d, d);
}

double segment_distance2(const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s) {
    const Vec3 u = q - p, v = s - r, w = p - r;
    const double a = dot(u, u), e = dot(v, v), f = dot(v, w), c = dot(u, w), b = dot(u, v), det = a * e - b * b;
    auto clamped = [](double t) { return std::clamp(t, 0.0, 1.0); };
    double along_u = det > 0 ? clamped((b * f - c * e) / det) : 0, along_v = e > 0 ? (b * along_u + f) / e : 0;
    if (along_v < 0 || along_v > 1) {
        along_v = clamped(along_v);
        along_u = a > 0 ? clamped((b * along_v - c) / a) : 0;
    }
    const Vec3 d = w + u * along_u - v * along_v;
    return dot(d, d);
}

double triangle_distance2(const CornerPoints& a, const CornerPoints& b) {
    double least = HUGE_VAL;
    for (std::size_t i = 0; i < 3; ++i) {
        least = std::min(least, point_triangle_distance2(*a[i], *b[0], *b[1], *b[2]));
        least = std::min(least, point_triangle_distance2(*b[i], *a[0], *a[1], *a[2]));
        for (std::size_t j = 0; j < 3; ++j)
            least = std::min(least, segment_distance2(*a[i], *a[(i + 1) % 3], *b[j], *b[(j + 1) % 3]));
    }
    return least;
}

NearestFace::NearestFace(const Mesh& mesh) : mesh_(mesh), tree_(mesh.points.raw(), mesh.faces.raw()) {}

NearestFace::Found NearestFace::nearest(const Vec3& p) const {
    FaceId face;
    double least = HUGE_VAL;
    tree_.nearest2([&](const FloatBox& box) { return box.distance2(p); }, HUGE_VAL,
                   [&](std::uint32_t item) {
                       const FaceId f(item);
                       const double d2 =
                           point_triangle_distance2(p, mesh_.corner(f, 0), mesh_.corner(f, 1), mesh_.corner(f, 2));
                       if (d2 < least) least = d2, face = f;
                       return d2;
                   });
    return {face, std::sqrt(least)};
}

}  // namespace anvil
