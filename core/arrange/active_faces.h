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
    std::vector<std::uint32_t>& index_of = active.index_of;
    index_of.assign(soup.face_count(), ActiveFaces::none);
    auto mark = [&](FaceId f) { index_of[f.value()] = 0; };
    for (const Crossing& c : crossings.segments) mark(c.a), mark(c.b);
    for (const auto& [a, b] : crossings.coplanar) mark(a), mark(b);
    for (const FaceId f : crossings.at_common_edge) mark(f);
    for (std::uint32_t o = 0; o < soup.size(); ++o)
        for (const FaceId f : soup.operand(o).irregular) mark(soup.global(o, f));
    for (std::uint32_t f = 0; f < index_of.size(); ++f) {
        if (index_of[f] == ActiveFaces::none) continue;
        index_of[f] = static_cast<std::uint32_t>(active.faces.size());
        active.faces.push_back(FaceId(f));
    }
    return active;
}

}  // namespace anvil
