#include "core/cut/plane_section.h"

#include <algorithm>
#include <cmath>

namespace anvil {
namespace {

double distance2(const Point2& p, const Point2& a, const Point2& b) {
    const double du = b.u - a.u, dv = b.v - a.v, length2 = du * du + dv * dv;
    const double t = length2 > 0 ? std::clamp(((p.u - a.u) * du + (p.v - a.v) * dv) / length2, 0.0, 1.0) : 0.0;
    const double u = a.u + t * du - p.u, v = a.v + t * dv - p.v;
    return u * u + v * v;
}

}  // namespace

PlaneSection::PlaneSection(const Mesh& mesh, const Transform& frame) {
    const Transform into(frame.inverse());
    IdVector<VertexId, Vec3> points;
    points.reserve(mesh.points.size());
    for (const Vec3& p : mesh.points) points.push_back(apply(into, p));
    low_ = {HUGE_VAL, HUGE_VAL};
    high_ = {-HUGE_VAL, -HUGE_VAL};
    for (const Triangle& t : mesh.faces) {
        // What lies in the plane counts as above it, so that lines hang together.
        Point2 ends[2];
        int found = 0;
        for (int k = 0; k < 3 && found < 2; ++k) {
            Vec3 a = points[t[k]], b = points[t[(k + 1) % 3]];
            if ((a.z >= 0) == (b.z >= 0)) continue;
            if (a.z >= 0) std::swap(a, b);  // so that both faces of the edge tell the same point
            const double s = a.z / (a.z - b.z);
            ends[found++] = {a.x + s * (b.x - a.x), a.y + s * (b.y - a.y)};
        }
        if (found < 2) continue;
        segments_.push_back({ends[0], ends[1]});
        for (const Point2& p : ends) {
            low_ = {std::min(low_.u, p.u), std::min(low_.v, p.v)};
            high_ = {std::max(high_.u, p.u), std::max(high_.v, p.v)};
        }
    }
}

bool PlaneSection::is_inside(const Point2& p) const {
    bool inside = false;
    for (const Segment& s : segments_)
        if ((s.a.v > p.v) != (s.b.v > p.v) && p.u < s.a.u + (p.v - s.a.v) / (s.b.v - s.a.v) * (s.b.u - s.a.u))
            inside = !inside;
    return inside;
}

double PlaneSection::depth(const Point2& p) const {
    double least = HUGE_VAL;
    for (const Segment& s : segments_) least = std::min(least, distance2(p, s.a, s.b));
    return is_inside(p) ? std::sqrt(least) : -std::sqrt(least);
}

}  // namespace anvil
