#include "core/mesh/edge_uses.h"

#include <tuple>

#include "core/base/sort.h"

namespace anvil {

std::vector<EdgeUse> edge_uses(std::span<const Triangle> faces) {
    auto for_each = [&](const auto& visit, bool) {
        for (std::uint32_t f = 0; f < faces.size(); ++f)
            for (std::size_t k = 0; k < 3; ++k) {
                const VertexId p = faces[f][k], q = faces[f][k == 2 ? 0 : k + 1];
                visit(EdgeUse{std::min(p, q), std::max(p, q), f, p < q});
            }
    };
    return sorted_by_number<EdgeUse>(
        3 * faces.size(), for_each, [](const EdgeUse& u) { return u.low.value(); },
        [](const EdgeUse& a, const EdgeUse& b) { return std::tie(a.high, a.face) < std::tie(b.high, b.face); });
}

}  // namespace anvil
