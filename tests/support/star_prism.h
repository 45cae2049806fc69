#pragma once

#include <cmath>
#include <numbers>

#include "core/mesh/mesh.h"

namespace anvil::test {

/// A prism over the star polygon {corners/k}, k just under half of the corners, 10 in radius and 5 high, with fans of
/// its centre as caps: walls and caps all cross each other, about corners^2 times. `corners` is odd.
inline Mesh star_prism(int corners) {
    Mesh mesh;
    for (const double z : {0.0, 5.0})
        for (int i = 0; i < corners; ++i) {
            const double turn = 2 * std::numbers::pi * i / corners;
            mesh.points.push_back({10 * std::cos(turn), 10 * std::sin(turn), z});
        }
    mesh.points.push_back({0, 0, 0});
    mesh.points.push_back({0, 0, 5});
    auto face = [&](int a, int b, int c) { mesh.faces.push_back({VertexId(a), VertexId(b), VertexId(c)}); };
    for (int n = 0, i = 0; n < corners; ++n) {
        const int j = (i + corners / 2) % corners;
        face(i, j, corners + j);
        face(i, corners + j, corners + i);
        face(2 * corners, j, i);
        face(2 * corners + 1, corners + i, corners + j);
        i = j;
    }
    return mesh;
}

}  // namespace anvil::test
