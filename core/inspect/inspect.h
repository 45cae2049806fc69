#pragma once

#include <string_view>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/mesh/measures.h"

namespace anvil {

/// Kinds of defect, in the order of the report. The words are fixed: files and scripts rely on them.
enum class FindingKind {
    open_edges,            ///< edges with one face
    holes,                 ///< closed loops of open edges
    nonmanifold_edges,     ///< edges with more than two faces
    nonmanifold_vertices,  ///< points whose faces form more than one fan
    misoriented_edges,     ///< edges with two faces that run the same way
    zero_length_edges,     ///< faces' edges whose two ends are one point
    degenerate_faces,      ///< faces with three distinct corners in line
    duplicate_faces,       ///< faces with the corners of an earlier face
    self_intersections,    ///< pairs of faces that meet in more than the corners and the edge that they share
    t_junctions,           ///< points of open edges that lie inside another open edge
    interior_faces,        ///< faces of closed shells with the solid on both sides
    inverted_shells,       ///< closed shells whose faces look inward
};
inline constexpr int finding_kinds = 12;

/// "open_edges" and so on.
std::string_view word(FindingKind kind);

/// One defect with its place. Which of the numbers are given depends on the kind: an edge has two vertices, a pair of
/// crossing faces has two faces, a shell has its first face.
struct Finding {
    FindingKind kind{};
    Vec3 place;  ///< a point to look at
    std::vector<VertexId> vertices;
    std::vector<FaceId> faces;
};

struct Inspection {
    Mesh mesh;  ///< the mesh as it was counted: bit-equal points welded. Findings use its numbers.
    Measures measures;
    std::array<std::size_t, finding_kinds> counts{};
    std::vector<Finding> findings;  ///< by kind; all of them
    bool closed = false;            ///< has faces and no open edge
    bool print_ready = false;       ///< has faces and no finding of any kind
    double seconds = 0;

    std::size_t count(FindingKind kind) const { return counts[static_cast<std::size_t>(kind)]; }
};

/// Counts every kind of defect, exactly, after welding bit-equal points.
/// Precondition: coordinates are finite. Fails only where it was stopped.
Result<Inspection> inspect(const Mesh& mesh, Progress& progress);

/// The inspections of several pieces as one, for pieces that are judged each by itself: a wall that two of them have in
/// common is no finding. Points and faces are numbered through, piece after piece.
Inspection joined(std::vector<Inspection> pieces);

}  // namespace anvil
