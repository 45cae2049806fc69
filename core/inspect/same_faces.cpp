#include "core/inspect/same_faces.h"

#include <algorithm>
#include <map>

namespace anvil::inspect_detail {

SameFaces find_same(std::span<const Triangle> faces) {
    SameFaces out;
    std::map<Triangle, std::uint32_t> known;
    out.times.assign(faces.size(), 0);
    out.another.resize(faces.size());
    for (std::uint32_t f = 0; f < faces.size(); ++f) {
        Triangle corners = faces[f];
        std::ranges::sort(corners);
        const auto [at, is_new] = known.try_emplace(corners, f);
        out.first.push_back(at->second);
        if (++out.times[at->second] == 2) out.another[at->second] = f;
        if (!is_new) continue;
        out.another[f] = f;
        out.faces.push_back(faces[f]);
        out.number.push_back(f);
    }
    return out;
}

bool has_copies(const CheckContext& context) {
    return std::ranges::any_of(context.findings,
                               [](const Finding& f) { return f.kind == FindingKind::duplicate_faces; });
}

}  // namespace anvil::inspect_detail
