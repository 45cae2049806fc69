// The pieces of a result, picked out of an arrangement.
#include "core/combine/extract.h"

#include "core/mesh/primitives.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Arrangement two_balls() {
    const Mesh a = make_sphere({0, 0, 0}, 5, 24, 48), b = make_sphere({0, 0, 0.01}, 5, 24, 48);
    const Mesh* operands[] = {&a, &b};
    Progress progress;
    auto made = arrange(operands, progress);
    REQUIRE(made);
    return std::move(*made);
}

/// One list for each of its parts, as long as the others.
void check_even(const Extraction& piece) {
    CHECK(piece.source.size() == piece.corners.size());
    CHECK(piece.plane.size() == piece.corners.size());
    CHECK(piece.against_plane.size() == piece.corners.size());
    CHECK(piece.cells.size() == piece.corners.size());
}

}  // namespace

TEST_CASE("each wall of an arrangement bounds the piece before it and the piece behind it") {
    const Arrangement arrangement = two_balls();
    const CombineStep step{Operation::pieces, 1, {}};
    const auto pieces = extract(arrangement, std::span(&step, 1));
    REQUIRE(pieces.size() == 3);
    const CellPieces of = pieces_of(arrangement.cells, std::span(&step, 1));
    std::size_t sides = 0, faces = 0;
    for (const Cells::Sides& wall : arrangement.cells.of_face)
        if (of.of_cell[wall[0]] != of.of_cell[wall[1]]) sides += (of.of_cell[wall[0]] > 0) + (of.of_cell[wall[1]] > 0);
    for (const Extraction& piece : pieces) {
        check_even(piece);
        CHECK(piece.has_sub_faces());
        faces += piece.corners.size();
    }
    CHECK(faces == sides);
    CHECK(faces > 1000);
}

TEST_CASE("picking pieces out, and taking patches apart, end where they are stopped") {
    const Arrangement arrangement = two_balls();
    const CombineStep step{Operation::union_of, 1, {}};
    const Extraction whole = extract(arrangement, std::span(&step, 1)).front();
    REQUIRE(whole.corners.size() > 300);
    Progress stopped;
    stopped.cancel();
    const Extraction none = extract(arrangement, std::span(&step, 1), 0, stopped).front();
    CHECK(none.corners.empty());
    check_even(none);

    // A bar through the side of a ball: what no crossing touches are patches.
    const Mesh a = make_sphere({0, 0, 0}, 5, 24, 48), b = make_box({4, -1, -1}, {8, 1, 1});
    const Mesh* operands[] = {&a, &b};
    Progress progress;
    const auto cut = arrange(operands, progress);
    REQUIRE(cut);
    const Extraction result = extract(*cut, std::span(&step, 1)).front();
    REQUIRE(!result.patches.empty());
    const Extraction apart = taken_apart(*cut, result), early = taken_apart(*cut, result, stopped);
    CHECK(apart.patches.empty());
    CHECK(apart.corners.size() > result.corners.size() + 1000);
    CHECK(early.corners.size() == result.corners.size());
}
