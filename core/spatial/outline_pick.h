#pragma once

#include <array>
#include <span>

#include "core/mesh/polygon.h"
#include "core/mesh/selection.h"
#include "core/spatial/pick.h"

namespace anvil {

/// How a view shows space: a point's pixel is (u, v) / w of the rows times (x, y, z, 1); behind the eye w is not
/// positive.
struct ViewMap {
    std::array<std::array<double, 4>, 3> rows{};
    Vec3 eye;  ///< in the same space
};

/// The elements whose middles a view shows within an outline of pixels. `visible_only`: not those that the mesh itself
/// hides; `picker` is of the same mesh. In doubles, for choosing.
std::vector<Element> elements_in(const Mesh& mesh, ElementKind kind, const ViewMap& view,
                                 std::span<const Point2> outline, bool visible_only, const Picker& picker);

/// The element of a face that is nearest to a point on it.
Element nearest_element(const Mesh& mesh, ElementKind kind, FaceId face, const Vec3& at);

}  // namespace anvil
