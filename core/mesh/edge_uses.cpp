#include "core/mesh/edge_uses.h"

#include <tuple>

#include "core/base/sort.h"

namespace anvil {

std::vector<EdgeUse> edge_uses(std::span<const Triangle> faces) {
    std::vector<EdgeUse> uses;
    uses.reserve(3 * faces.size());
    for (std::uint32_t f = 0; f < faces.size(); ++f)
        for (std::size_t k = 0; k < 3; ++k) {
            const VertexId p = faces[f][k], q = faces[f][(k + 1) % 3];
            uses.push_back({std::min(p, q), std::max(p, q), f, p < q});
        }
    sort_by_number(
        uses, [](const EdgeUse& u) { return u.low.value(); },
        [](const EdgeUse& a, const EdgeUse& b) { return std::tie(a.high, a.face) < std::tie(b.high, b.face); });
    return uses;
}

}  // namespace anvil
