#include "core/arrange/sub_edges.h"

namespace anvil {

SubEdges number_edges(std::span<const Wing> wings, std::size_t faces) {
    SubEdges edges;
    edges.of_face.resize(faces);
    for_each_run(wings, same_edge, [&](std::span<const Wing> here) {
        for (const Wing& wing : here)
            if (wing.element < faces) edges.of_face[wing.element][wing.corner] = edges.count;  // else a patch
        ++edges.count;
    });
    return edges;
}

}  // namespace anvil
