#pragma once

#include <algorithm>
#include <string>

#include "core/arrange/half_edges.h"
#include "core/combine/extract.h"
#include "core/combine/pinches.h"
#include "core/spatial/box_tree.h"

namespace anvil {

/// Sub-faces with their corners rounded to doubles, equal ones made one. Faces that collapse are gone.
struct RoundedFaces {
    std::vector<Vec3> points;
    std::vector<VertexId> input;  ///< per point: a point of the soup that it is; not valid for a new one
    std::vector<char> moved;      ///< per point: rounding moved it
    std::vector<Triangle> faces;
    std::vector<FaceSource> source;
    std::vector<std::uint32_t> origin;  ///< per face: which face of the extraction
    double largest_move = 0;            ///< mm
    std::vector<float> thickness;       ///< per face, mm, at most that of its closed shell; 0, or none, if not known

    /// Puts a face in the place of another one, turned over or as it is.
    void take(std::size_t to, std::size_t from, bool turned = false) {
        faces[to] = faces[from];
        source[to] = source[from];
        origin[to] = origin[from];
        if (!thickness.empty()) thickness[to] = thickness[from];
        if (!turned) return;
        std::swap(faces[to][1], faces[to][2]);
        source[to].reversed = !source[to].reversed;
    }
    /// Drops the faces from that number on.
    void resize(std::size_t size) {
        faces.resize(size);
        source.resize(size);
        origin.resize(size);
        if (!thickness.empty()) thickness.resize(size);
    }
    /// Drops the faces that are marked.
    void drop(std::span<const char> marked) {
        std::size_t kept = 0;
        for (std::size_t f = 0; f < marked.size(); ++f)
            if (!marked[f]) take(kept++, f);
        resize(kept);
    }
    /// Whether rounding moved a corner of the face.
    bool is_moved(std::size_t face) const {
        return std::ranges::any_of(faces[face], [&](VertexId v) { return moved[v.value()] != 0; });
    }
};

/// Rounded faces, how they hang together, and where they are.
struct RoundedSurface {
    RoundedFaces faces;
    HalfEdges edges;
    BoxTree tree;  ///< empty where it was not asked for, or no point was moved

    void find_tree();
};
/// Rounds the points of an extraction's sub-faces to a precision, and drops the flakes that come of it (see flakes.h).
/// `tree`: with a tree. Of no use where it was stopped.
RoundedSurface round_points(const Arrangement& arrangement, const Extraction& extraction, Precision precision,
                            bool tree, const Progress& progress);

/// The nearest multiple of `grid`, a power of two.
inline Vec3 on_grid(const Vec3& p, double grid) {
    return {std::nearbyint(p.x / grid) * grid, std::nearbyint(p.y / grid) * grid, std::nearbyint(p.z / grid) * grid};
}

/// Faces that are where they should be.
RoundedFaces unmoved(Mesh mesh, std::vector<FaceSource> source);

/// The rounded faces alone, welded.
Mesh as_mesh(const RoundedFaces& rounded);

/// The largest of all coordinates, by amount.
double reach_of(std::span<const Vec3> points);
double reach_of(const Soup& soup);

/// The place of the last digit of a coordinate as large as `reach`.
inline double last_digit(double reach, Precision precision) {
    return reach * (precision == Precision::single_precision ? 0x1p-23 : 0x1p-52);
}

/// mm; what rounding may bridge.
inline double a_few_digits(double reach, Precision precision) {
    return (precision == Precision::single_precision ? 16 : 1024) * last_digit(reach, precision);
}

/// A sentence where a body is so far from the origin for its size that single precision hardly tells its points apart;
/// else nothing.
std::string too_far_off(std::span<const Vec3> points, Precision precision);

}  // namespace anvil
