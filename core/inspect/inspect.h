#pragma once

#include <functional>
#include <optional>
#include <string>
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
    thin_skins,            ///< connected places where two facing walls are nearer than a given thickness
    doubled_faces,         ///< those of the duplicate faces that lie back to back with the earlier one
    fins,          ///< faces that hang on the surface by one side only, and end freely: per group that hangs together
    cracks,        ///< open edges that lie along others, within a given distance, without being joined to them
    stray_sheets,  ///< parts that enclose nothing beside others that do
    touching_bodies,  ///< pairs of closed bodies that share points or edges, and nothing else
    tiny_shells,      ///< closed shells of less than a given volume
    narrow_gaps,      ///< connected places where two walls face each other across less than a given width of air
    short_edges,      ///< edges shorter than a given length, but not of none
    needle_faces,     ///< faces more than so many times as long as high, but with an area
    loose_points,     ///< points that no face uses
};
inline constexpr int finding_kinds = 23;

/// A fault keeps a mesh from being print-ready. With a caution it is sound, but worth a look; a note is there to be
/// known.
enum class Severity { fault, caution, note };
Severity severity(FindingKind kind);
inline bool is_fault(FindingKind kind) { return severity(kind) == Severity::fault; }
/// Kinds that are found in one pass over faces, edges and borders.
bool is_cheap(FindingKind kind);

/// "open_edges" and so on.
std::string_view word(FindingKind kind);
/// What people call so many of them: "open edge", "open edges".
std::string_view plain_name(FindingKind kind, std::size_t count);
std::optional<FindingKind> finding_kind_from(std::string_view word);

/// One defect with its place. Which of the numbers are given depends on the kind: an edge has two vertices, a pair of
/// crossing faces has two faces, a shell has its first face.
struct Finding {
    FindingKind kind{};
    Vec3 place;  ///< a point to look at
    std::vector<VertexId> vertices;
    std::vector<FaceId> faces;
    double thickness = 0, area = 0;  ///< of skins and gaps: the least thickness in mm, and how far they reach in mm2
    std::size_t count = 1;           ///< how many it stands for: pairs among copies of the same faces are one place
    bool of_sheet = false;           ///< of a hole: the border of a sheet, known where the inspection is complete
};

/// From where on things are worth telling. Kinds whose threshold is 0 are not looked for.
struct InspectOptions {
    double thin_below = 0;    ///< mm, of walls
    double gap_below = 0;     ///< mm, of gaps
    double short_below = 0;   ///< mm, of edges
    double needle_above = 0;  ///< length by height of faces
    double tiny_below = 0;    ///< mm3, of shells
    double crack_below = 0;   ///< mm, between borders
    bool operator==(const InspectOptions&) const = default;
};
/// From the size of the part: walls and gaps under 0.2 mm, which a printer's nozzle does not resolve (common practice),
/// or under a 500th of the diagonal of smaller parts; edges under 0.01 mm or a 10,000th of it; shells smaller than a
/// cube of five times that wall; faces a hundred times as long as high; borders as near as mending joins them.
InspectOptions usual_options(const Mesh& mesh);

/// What a surface is, whether it has holes or not.
enum class Form {
    empty,
    solid,  ///< what it encloses is more than what is missing of it
    sheet,  ///< encloses nothing
    mixed,  ///< solids, and sheets beside them
};
std::string_view word(Form form);
/// Of a mesh with faces.
Form form_of(std::size_t solids, std::size_t sheets);

struct Inspection {
    Mesh mesh;  ///< the mesh as it was counted: bit-equal points welded. Findings use its numbers.
    Measures measures;
    std::array<std::size_t, finding_kinds> counts{};
    std::vector<Finding> findings;       ///< by kind; all of them
    bool closed = false;                 ///< has faces and no open edge
    bool print_ready = false;            ///< has faces and no fault
    bool complete = false;               ///< else only the cheap kinds were looked for yet
    Form form = Form::empty;             ///< known where it is complete
    std::size_t solids = 0, sheets = 0;  ///< parts that hang together in points
    InspectOptions options;              ///< what was looked for
    double seconds = 0;

    std::size_t count(FindingKind kind) const { return counts[static_cast<std::size_t>(kind)]; }
    /// How many kinds of fault it has.
    std::size_t fault_kinds() const;
};

/// Counts every kind of defect, exactly, after welding bit-equal points. `quick`: called once with the cheap kinds,
/// while the others are still looked for. Precondition: coordinates are finite. Fails only where it was stopped.
Result<Inspection> inspect(const Mesh& mesh, Progress& progress, const InspectOptions& options = {},
                           const std::function<void(const Inspection&)>& quick = {});

/// Whether it is closed, and a solid, a sheet or both: "An open solid with 2 holes." Precondition: it is complete.
std::string form_sentence(const Inspection& inspection);

/// How long the rim of a hole is, and how far its points are from a plane through their middle that lies as its edges
/// turn, mm.
struct Rim {
    double length = 0, flatness = 0;
};
Rim measure_rim(const Mesh& mesh, std::span<const VertexId> rim);

/// The faces that findings name, or those of one kind, each once and in order.
std::vector<FaceId> faces_of(const Inspection& inspection, std::optional<FindingKind> kind = std::nullopt);

/// The inspections of several pieces as one, for pieces that are judged each by itself: a wall that two of them have in
/// common is no finding. Points and faces are numbered through, piece after piece.
Inspection joined(std::vector<Inspection> pieces);

}  // namespace anvil
