// Edges known by their numbers in the arrangement are those that sorting finds, in the same order.
#include "core/combine/surface_edges.h"

#include "core/mesh/primitives.h"
#include "core/mesh/transform.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

std::vector<EdgeUse> uses_of(const SurfaceEdges& edges) {
    std::vector<EdgeUse> out;
    edges.for_each([&](std::span<const EdgeUse> here) { out.insert(out.end(), here.begin(), here.end()); });
    return out;
}

}  // namespace

TEST_CASE("edges by number are those that sorting finds") {
    // Crossing and flush, so that edges have two faces and more, and pieces have faces that are turned over.
    const Mesh box = make_box({0, 0, 0}, {4, 4, 4});
    for (const Mesh& other : {make_box({2, 2, 2}, {6, 6, 6}), make_box({4, 1, 0}, {6, 3, 4}),
                              transformed(box, rotation(0.3, normalized(Vec3{1, 2, 3})))}) {
        const Mesh* operands[] = {&box, &other};
        Progress progress;
        const auto arrangement = arrange(operands, progress);
        REQUIRE(arrangement);
        for (const Operation operation : {Operation::union_of, Operation::difference, Operation::pieces}) {
            const std::vector<CombineStep> steps{{operation, 1, {}}};
            for (Extraction piece : extract(*arrangement, steps)) {
                REQUIRE(piece.has_sub_faces());
                const std::vector<EdgeUse> by_number = uses_of({*arrangement, piece, progress});
                piece.sub_face.clear();
                const std::vector<EdgeUse> sorted = uses_of({*arrangement, piece, progress});
                REQUIRE(by_number.size() == sorted.size());
                for (std::size_t i = 0; i < sorted.size(); ++i) {
                    REQUIRE(same_edge(by_number[i], sorted[i]));
                    REQUIRE(by_number[i].face == sorted[i].face);
                    REQUIRE(by_number[i].forward == sorted[i].forward);
                }
            }
        }
    }
}
