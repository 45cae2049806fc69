#pragma once

#include <span>
#include <vector>

#include "core/mesh/mesh.h"
#include "core/mesh/polygon.h"

namespace anvil {

/// Closed, outward wound solids with shared vertices. Lengths in mm.

Mesh make_box(const Vec3& low, const Vec3& high);

/// A cylinder or cone frustum along z, from z0 (radius r0) to z1 (radius r1), `sides` >= 3 around. The corners lie on
/// the circle, so the solid is inscribed. A radius of 0 ends in a point.
Mesh make_frustum(double r0, double r1, double z0, double z1, int sides);

/// A sphere of rings and sides, corners on the sphere. rings >= 2, sides >= 3.
Mesh make_sphere(const Vec3& center, double radius, int rings, int sides);

/// An icosahedron whose faces are split in four `levels` times, corners on the sphere: 20 * 4^levels faces.
Mesh make_icosphere(const Vec3& center, double radius, int levels);

/// A ring around z. Major and minor radius, both counts >= 3.
Mesh make_torus(double major, double minor, int around, int across);

/// A prism over a simple polygon, counter-clockwise in (x, y), between z0 and z1.
Mesh make_prism(std::span<const Point2> outline, double z0, double z1);

/// A solid of revolution around z of a closed profile of (radius, z) pairs, counter-clockwise in that plane,
/// radius >= 0. Points with radius 0 lie on the axis.
Mesh make_revolution(std::span<const Point2> profile, int sides);

/// Not a solid: a flat rectangular sheet across z, its front up.
Mesh make_plate(const Vec3& center, double width, double depth);

}  // namespace anvil
