#pragma once

#include <vector>

#include "core/arrange/crossings.h"

namespace anvil {

/// The faces that an arrangement has to look at one by one: those that meet others, and those at irregular edges. All
/// other faces hang together in patches (see patches.h).
struct ActiveFaces {
    static constexpr std::uint32_t none = 0xffffffffu;
    std::vector<FaceId> faces;            ///< sorted
    std::vector<std::uint32_t> index_of;  ///< per face of the soup: its place in `faces`, or none

    std::size_t size() const { return faces.size(); }
    bool contains(FaceId f) const { return index_of[f.value()] != none; }
};

inline ActiveFaces find_active(const Soup& soup, const Crossings& crossings) {
    ActiveFaces active;
    auto& list = active.faces;
    for (const Crossing& c : crossings.segments) list.insert(list.end(), {c.a, c.b});
    for (const auto& [a, b] : crossings.coplanar) list.insert(list.end(), {a, b});
    list.insert(list.end(), crossings.at_common_edge.begin(), crossings.at_common_edge.end());
    for (std::uint32_t o = 0; o < soup.size(); ++o)
        for (FaceId f : soup.operand(o).irregular) list.push_back(soup.global(o, f));
    std::sort(list.begin(), list.end());
    list.erase(std::unique(list.begin(), list.end()), list.end());
    active.index_of.assign(soup.face_count(), ActiveFaces::none);
    for (std::uint32_t i = 0; i < list.size(); ++i) active.index_of[list[i].value()] = i;
    return active;
}

}  // namespace anvil
