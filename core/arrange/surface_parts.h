#pragma once

#include <optional>
#include <string_view>

#include "core/arrange/half_edges.h"

namespace anvil {

/// A surface whose smallest fill has more than this share of its own area is a sheet: a half sphere (1/2) is one, a
/// tube with open ends twice as long as wide (1/4) is a solid with two holes.
inline bool is_mostly_missing(double fill, double own) { return fill > 0.45 * own; }

/// How open surfaces are taken that enclose nothing as they are.
enum class SheetRule {
    leave,    ///< as sheets
    thicken,  ///< as solids of a set thickness
    close,    ///< as solids, every border filled; what is flat altogether stays a sheet
};
std::string_view word(SheetRule rule);
std::optional<SheetRule> sheet_rule_from(std::string_view word);

/// Whether all faces lie in one plane, but for a millionth of their size.
bool is_flat(const Mesh& mesh);

/// The parts of a surface that hang together in points, and what is missing of each.
struct SurfaceParts {
    struct Hole {
        std::vector<VertexId> rim;
        std::vector<Triangle> fill;  ///< the smallest
    };
    std::vector<std::uint32_t> of_face;
    std::vector<double> area, missing;     ///< mm2, per part: what is there, and what the fills have
    std::vector<std::vector<Hole>> holes;  ///< per part
    std::vector<char> flat;                ///< per part: it lies in one plane, but for a millionth of its size

    std::size_t count() const { return area.size(); }
    bool is_sheet(std::size_t part, SheetRule rule = SheetRule::leave) const {
        return rule == SheetRule::close ? flat[part] && !holes[part].empty()
                                        : is_mostly_missing(missing[part], area[part]);
    }
};
/// `unbalanced`: of the mesh's faces.
SurfaceParts find_surface_parts(const Mesh& mesh, std::span<const UnbalancedEdge> unbalanced);

}  // namespace anvil
