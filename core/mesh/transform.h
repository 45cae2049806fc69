#pragma once

#include <Eigen/Geometry>

#include "core/mesh/mesh.h"

namespace anvil {

/// A placement: p -> linear * p + offset.
using Transform = Eigen::Transform<double, 3, Eigen::AffineCompact>;

inline Vec3 apply(const Transform& t, const Vec3& p) {
    const Eigen::Vector3d q = t * Eigen::Vector3d(p.x, p.y, p.z);
    return {q.x(), q.y(), q.z()};
}
inline Transform scaling(double factor) { return Transform(Eigen::Scaling(factor)); }
/// Factors along the axes.
inline Transform scaling(const Vec3& f) { return Transform(Eigen::Scaling(f.x, f.y, f.z)); }
inline Transform translation(const Vec3& d) { return Transform(Eigen::Translation3d(d.x, d.y, d.z)); }
/// Angle in radians, axis of any length but 0, through the origin.
inline Transform rotation(double angle, const Vec3& axis) {
    return Transform(Eigen::AngleAxisd(angle, Eigen::Vector3d(axis.x, axis.y, axis.z).normalized()));
}

/// A box round a box at its place.
inline Box placed(const Box& b, const Transform& t) {
    Box out;
    for (int k = 0; k < 8; ++k)
        out.add(apply(t, {k & 1 ? b.high.x : b.low.x, k & 2 ? b.high.y : b.low.y, k & 4 ? b.high.z : b.low.z}));
    return out;
}

/// The mesh at its place. A mirroring transform turns the faces over, so that outward stays outward.
inline Mesh transformed(Mesh mesh, const Transform& t) {
    if (t.isApprox(Transform::Identity(), 0)) return mesh;
    for (Vec3& p : mesh.points) p = apply(t, p);
    if (t.linear().determinant() < 0) turn_over(mesh);
    return mesh;
}

}  // namespace anvil
