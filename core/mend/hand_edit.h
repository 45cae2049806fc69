#pragma once

#include "core/mend/repairs.h"
#include "core/mesh/selection.h"

namespace anvil {

enum class HandTool {
    merge_points,  ///< points become one, at their middle
    join_points,   ///< two points get an edge between them, through the faces that lie there
    delete_faces,
    flip_faces,
    fill_border,     ///< the hole that has the edge is filled
    bridge_borders,  ///< a strip of faces between the borders of two edges; of one border, between the two edges
    split_edge,      ///< a point in the middle of each edge
    collapse_edge,   ///< both ends of the edge become one, in its middle
    rotate_edge,     ///< the edge joins the two other corners of its faces
    rebuild_region,  ///< what the surface encloses in the box round the faces is put anew (core/recast)
};
inline constexpr int hand_tools = 10;
std::string_view word(HandTool tool);
std::optional<HandTool> hand_tool_from(std::string_view word);

/// What a tool is used on.
ElementKind elements_of(HandTool tool);

/// One use of a tool. Its elements are named by where their points are, which outlives renumbering: an edge by its
/// ends, a face by its corners, one behind the other. A region to rebuild is the box round its points.
struct HandEdit {
    HandTool tool{};
    std::vector<Vec3> points{};
    FillStyle fill = FillStyle::smallest;
    double cell = 0;  ///< mm, of a rebuilt region; 0: as its edges are long
    bool operator==(const HandEdit&) const = default;
};

/// What became of one edit.
struct HandDone {
    HandTool tool{};
    std::size_t changed = 0;  ///< elements
    double largest_move = 0;  ///< mm
    std::string said{};       ///< in one sentence; why, where it was refused
    bool refused = false;
};

}  // namespace anvil
