#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include "core/base/vec3.h"
#include "core/exact/predicates.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// A point in which two triangles A (side 0) and B (side 1) meet, by what defines it.
struct ContactPoint {
    enum Kind : std::uint8_t {
        vertex,     ///< corner `i` of `side` lies on the other triangle (or is a corner of both)
        edge_face,  ///< edge `i` of `side` crosses the inside of the other triangle
        edge_edge,  ///< edge `i` of A and edge `j` of B cross inside both
    };
    Kind kind = vertex;
    std::uint8_t side = 0, i = 0, j = 0;
    bool operator==(const ContactPoint&) const = default;
};

/// How two triangles meet. Edge k runs from corner k to corner (k + 1) % 3.
struct Contact {
    enum Kind : std::uint8_t {
        apart,       ///< no common point
        conforming,  ///< exactly a common corner or a common edge, as neighbours in a mesh should
        crossing,    ///< planes differ; they meet in `count` points: 1 a touch, 2 the ends of a segment
        coplanar,    ///< one plane, and they meet in more than a common corner or edge
    };
    Kind kind = apart;
    std::uint8_t count = 0;
    ContactPoint points[2];

    bool beyond_shared() const { return kind == crossing || kind == coplanar; }
};

/// The three corners of a triangle, wherever they are kept.
using CornerPoints = std::array<const Vec3*, 3>;

/// Decides exactly how the triangles a and b meet. Corners with equal coordinates are one corner.
/// Precondition: neither is degenerate (`collinear` checks).
/// `plane_a`, `plane_b`: their planes where the caller keeps them (`face_planes`) and hardly any of its triangles meet;
/// they only make it faster.
Contact triangle_contact(const CornerPoints& a, const CornerPoints& b, const PlaneFilter* plane_a = nullptr,
                         const PlaneFilter* plane_b = nullptr);

struct FloatBox;
/// Whether the plane of a triangle certainly does not meet a box; false where that is not sure.
bool plane_surely_misses(const CornerPoints& triangle, const FloatBox& box);

inline Box box_of(const CornerPoints& corners) {
    Box box;
    for (const Vec3* p : corners) box.add(*p);
    return box;
}

inline CornerPoints corner_points(std::span<const Vec3> points, const Triangle& t) {
    return {&points[t[0].value()], &points[t[1].value()], &points[t[2].value()]};
}

std::vector<PlaneFilter> face_planes(std::span<const Vec3> points, std::span<const Triangle> faces);

}  // namespace anvil
