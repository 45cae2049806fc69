#pragma once

#include <limits>
#include <optional>
#include <string>
#include <string_view>

#include "core/arrange/surface_parts.h"
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/combine/pinches.h"
#include "core/mesh/mesh.h"

namespace anvil {

/// The repairs in the order in which the plan runs them: each leaves the mesh so that the next can do its work. Points
/// come first, then faces that are none, then borders, then what needs neighbours, last what needs a closed surface.
enum class Repair {
    weld,         ///< points no farther apart than a set distance become one
    degenerate,   ///< edges of zero length and faces without area go, without opening the surface
    duplicates,   ///< of faces with the same corners one stays; faces back to back go
    fins,         ///< faces that hang on the surface by one side only are cut off
    t_junctions,  ///< borders are split where points of others lie on them
    borders,      ///< borders that lie on each other are joined
    orient,       ///< neighbours are turned to run alike, shells to look outward
    bridges,      ///< borders that run near each other are joined by a strip of faces
    holes,        ///< holes are filled; loose sheets beside a solid go
    shells,       ///< closed shells smaller than a set volume go
    thicken,      ///< a sheet becomes a solid of a set thickness
    crossings,    ///< crossing faces, faces inside, and bodies that touch are resolved by the exact arrangement
};
inline constexpr int repair_kinds = 12;

/// "weld", "degenerate" and so on.
std::string_view word(Repair repair);
std::optional<Repair> repair_from(std::string_view word);
/// What it does, as a sentence.
std::string_view sentence(Repair repair);

/// How holes are closed.
enum class FillStyle {
    smallest,  ///< by the smallest surface over the rim
    flat,      ///< as it lies in its plane, islands left out; by the smallest where the rims cross there
    smooth,    ///< going on from the surface round it; by the smallest where that is not manifold
};
std::string_view word(FillStyle style);
std::optional<FillStyle> fill_style_from(std::string_view word);

struct MendOptions {
    double weld_distance = 0;  ///< mm; 0: only points with equal coordinates
    /// Borders no farther apart than this are taken for one, mm; where it is negative, a hundred-thousandth of the
    /// diagonal.
    double border_reach = -1;
    /// mm round its rim; longer ones stay open, unless sheets are closed.
    double longest_hole = std::numeric_limits<double>::infinity();
    double bridge_within = 0;  ///< mm; two borders nowhere farther apart than this are bridged; 0: none are
    FillStyle fill = FillStyle::smallest;
    double smallest_shell = 0;  ///< mm3; closed shells of less volume go
    SheetRule sheets = SheetRule::leave;
    double thickness = 0;                               ///< mm, of sheets that are thickened, half to each side
    Precision precision = Precision::double_precision;  ///< what crossings are rounded to
    ContactRule contact = ContactRule::separate;
    /// Points of the mesh: where there are any, a repair touches only faces all of whose corners are among them, edges
    /// both of whose ends are, and the holes, fins and shells that have such an edge or face.
    std::vector<Vec3> places{};

    bool operator==(const MendOptions&) const = default;
};

/// What one repair did.
struct Repaired {
    Repair repair{};
    std::size_t changed = 0;     ///< points, edges, faces, holes or shells: what the sentence counts
    double largest_move = 0;     ///< mm, how far points of the surface went at most
    std::vector<Vec3> places{};  ///< some point of each thing that was changed, where there are not too many
    std::string said{};          ///< in one sentence; empty where there was nothing to do
    bool sheet = false;          ///< the surface was found to be a sheet, and left open
    bool flat = false;           ///< and flat, so that closing it encloses nothing
    bool refused = false;        ///< it had something to do and could not; `said` says why
};
inline constexpr std::size_t most_places = 1000;

/// One repair each, on a welded mesh whose faces may be anything; materials stay with their faces. Where one fails or
/// is stopped the mesh is as it was.
Result<Repaired> weld_near(Mesh& mesh, const MendOptions& options, Progress& progress);
Result<Repaired> drop_degenerate(Mesh& mesh, const MendOptions& options, Progress& progress);
Result<Repaired> drop_duplicates(Mesh& mesh, const MendOptions& options, Progress& progress);
Result<Repaired> cut_fins(Mesh& mesh, const MendOptions& options, Progress& progress);
Result<Repaired> split_t_junctions(Mesh& mesh, const MendOptions& options, Progress& progress);
Result<Repaired> join_matching_borders(Mesh& mesh, const MendOptions& options, Progress& progress);
Result<Repaired> orient_faces(Mesh& mesh, const MendOptions& options, Progress& progress);
Result<Repaired> bridge_near_borders(Mesh& mesh, const MendOptions& options, Progress& progress);
Result<Repaired> fill_holes(Mesh& mesh, const MendOptions& options, Progress& progress);
Result<Repaired> drop_small_shells(Mesh& mesh, const MendOptions& options, Progress& progress);
Result<Repaired> resolve_crossings(Mesh& mesh, const MendOptions& options, Progress& progress);
Result<Repaired> thicken_sheet(Mesh& mesh, const MendOptions& options, Progress& progress);

/// How many points `weld_near` would take to others.
std::size_t count_weldable(const Mesh& mesh, double distance);

}  // namespace anvil
