#pragma once

#include <set>

#include "core/arrange/planar_triangulation.h"

namespace anvil {

/// What lies over each face of a triangulation.
template <class List>
struct Covers {
    std::vector<std::uint32_t> of_face;  ///< number in `lists`
    std::vector<List> lists;             ///< each once
};

/// Spreads from where the first three points are, over which nothing lies: an empty list. `pass(list, face, i)` changes
/// the list over a face to what lies across its constrained edge i. Of no use where the triangulation was stopped.
template <class List, class Pass>
Covers<List> covers_of(const PlanarTriangulation& triangulation, const Pass& pass) {
    constexpr std::uint32_t unknown = 0xffffffffu;
    const auto& faces = triangulation.faces();
    Covers<List> out{std::vector<std::uint32_t>(faces.size(), unknown), {}};
    // Known by their numbers: there may be 100,000 lists of hundreds.
    auto comes_before = [&](std::uint32_t a, std::uint32_t b) { return out.lists[a] < out.lists[b]; };
    std::set<std::uint32_t, decltype(comes_before)> known(comes_before);
    auto intern = [&](List list) {
        out.lists.push_back(std::move(list));
        const auto [at, is_new] = known.insert(static_cast<std::uint32_t>(out.lists.size() - 1));
        if (!is_new) out.lists.pop_back();
        return *at;
    };
    std::vector<std::size_t> stack;
    for (std::size_t t = 0; t < faces.size() && stack.empty(); ++t)
        if (faces[t].v[0] < 3 || faces[t].v[1] < 3 || faces[t].v[2] < 3) {
            out.of_face[t] = intern({});
            stack.push_back(t);
        }
    while (!stack.empty()) {
        if (triangulation.stopped()) return {std::vector<std::uint32_t>(faces.size(), 0), {List{}}};
        const std::size_t t = stack.back();
        stack.pop_back();
        for (int i = 0; i < 3; ++i) {
            if (faces[t].n[i] < 0) continue;
            const auto u = static_cast<std::size_t>(faces[t].n[i]);
            if (out.of_face[u] != unknown) continue;
            if (faces[t].c[i] < 0) {
                out.of_face[u] = out.of_face[t];
            } else {
                List there = out.lists[out.of_face[t]];
                pass(there, faces[t], i);
                out.of_face[u] = intern(std::move(there));
            }
            stack.push_back(u);
        }
    }
    return out;
}

}  // namespace anvil
