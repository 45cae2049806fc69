#pragma once

#include <optional>
#include <vector>

#include "core/base/result.h"
#include "core/mesh/transform.h"

namespace anvil {

/// What is done to a mesh to put it somewhere, in this order. Mirrored, scaled and turned is about the origin.
struct Placing {
    std::optional<int> mirror{};  ///< the axis along which it is mirrored: 0, 1 or 2
    Vec3 scale{1, 1, 1};          ///< factors along the axes, none of them 0
    Vec3 size{};                  ///< mm along the axes that it is scaled to; 0: in proportion to the others
    Vec3 angles{};                ///< degrees about x, then y, then z; quarter turns are exact
    bool centre = false;          ///< the middle of its box comes to x = 0, y = 0
    bool drop = false;            ///< its lowest point comes to z = 0
    Vec3 move{};                  ///< mm
};
/// Several as one: boxes and sizes are those of all together. Fails: out_of_range, where a factor is 0, a size is below
/// 0, or what is to be scaled to a size has none.
Result<std::vector<Mesh>> placed(std::vector<Mesh> meshes, const Placing& placing);

}  // namespace anvil
