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
    thin_skins,            ///< connected places where two facing walls are nearer than a given thickness: a caution
};
inline constexpr int finding_kinds = 13;

/// A caution is worth a look, but the mesh is sound: it does not keep it from being print-ready.
inline bool is_caution(FindingKind kind) { return kind == FindingKind::thin_skins; }

/// "open_edges" and so on.
std::string_view word(FindingKind kind);

/// One defect with its place. Which of the numbers are given depends on the kind: an edge has two vertices, a pair of
/// crossing faces has two faces, a shell has its first face.
struct Finding {
    FindingKind kind{};
    Vec3 place;  ///< a point to look at
    std::vector<VertexId> vertices;
    std::vector<FaceId> faces;
    double thickness = 0, area = 0;  ///< of a thin skin: its least thickness in mm, and how far it reaches in mm2
};

struct InspectOptions {
    /// Walls thinner than this many mm are thin skins; 0: not looked for.
    double thin_below = 0;
};
/// Thin below 0.2 mm, which a printer's nozzle does not resolve (common practice), or below a 500th of the diagonal of
/// smaller parts.
InspectOptions usual_options(const Mesh& mesh);

struct Inspection {
    Mesh mesh;  ///< the mesh as it was counted: bit-equal points welded. Findings use its numbers.
    Measures measures;
    std::array<std::size_t, finding_kinds> counts{};
    std::vector<Finding> findings;  ///< by kind; all of them
    bool closed = false;            ///< has faces and no open edge
    bool print_ready = false;       ///< has faces and no finding but cautions
    double thin_below = 0;          ///< mm: what was looked for; 0 where thin skins were not
    double seconds = 0;

    std::size_t count(FindingKind kind) const { return counts[static_cast<std::size_t>(kind)]; }
};

/// Counts every kind of defect, exactly, after welding bit-equal points.
/// Precondition: coordinates are finite. Fails only where it was stopped.
Result<Inspection> inspect(const Mesh& mesh, Progress& progress, const InspectOptions& options = {});

/// The inspections of several pieces as one, for pieces that are judged each by itself: a wall that two of them have in
/// common is no finding. Points and faces are numbered through, piece after piece.
Inspection joined(std::vector<Inspection> pieces);

}  // namespace anvil
