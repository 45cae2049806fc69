// What goes by the numbers that edges have in the arrangement comes out as it does without them: cleaned pieces, curves
// and half-edges. And no face is turned over by rounding where none is in any piece.
#include "core/arrange/half_edges.h"
#include "core/combine/clean.h"
#include "core/combine/report.h"
#include "core/combine/rounding.h"
#include "core/combine/surface_edges.h"
#include "core/combine/turned.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Bodies that cross, are flush, touch along an edge, and nearly coincide; the last three at once.
std::vector<std::vector<Mesh>> cases() {
    const Mesh box = make_box({0, 0, 0}, {4, 4, 4}), ball = make_icosphere({1, 2, 3}, 2.5, 3);
    const Transform askew = rotation(0.3, normalized(Vec3{1, 2, 3})), hair = rotation(1e-9, normalized(Vec3{1, 2, 3}));
    return {{box, make_box({2, 2, 2}, {6, 6, 6})}, {box, make_box({4, 1, 0}, {6, 3, 4})},
            {box, make_box({4, 4, 0}, {6, 6, 4})}, {box, transformed(box, askew)},
            {ball, transformed(ball, hair)},       {box, ball, transformed(box, askew)}};
}

struct Made {
    Arrangement arrangement;
    std::vector<Extraction> pieces, without;  ///< the same, without numbers
};
Made made(const std::vector<Mesh>& bodies, Operation operation) {
    std::vector<const Mesh*> operands;
    for (const Mesh& m : bodies) operands.push_back(&m);
    Progress progress;
    auto arrangement = arrange(operands, progress);
    REQUIRE(arrangement);
    std::vector<CombineStep> steps;
    for (std::uint32_t o = 1; o < bodies.size(); ++o) steps.push_back({operation, o, {}});
    Made out{std::move(*arrangement), {}, {}};
    out.pieces = out.without = extract(out.arrangement, steps);
    for (Extraction& piece : out.without) {
        REQUIRE((piece.corners.empty() || has_edge_numbers(out.arrangement, piece)));
        piece.sub_face.clear();
    }
    return out;
}

constexpr Operation tried[] = {Operation::union_of, Operation::difference, Operation::pieces};

}  // namespace

TEST_CASE("edges by number: cleaned pieces and curves are the same without") {
    Progress progress;
    std::size_t cleaned_some = 0, curves = 0;
    for (const auto& bodies : cases())
        for (const Operation operation : tried) {
            const Made m = made(bodies, operation);
            for (std::size_t k = 0; k < m.pieces.size(); ++k) {
                const Extraction by_number = cleaned(m.arrangement, m.pieces[k], false, {}, progress);
                CHECK(by_number.corners == cleaned(m.arrangement, m.without[k], false, {}, progress).corners);
                cleaned_some += by_number.corners.size() < m.pieces[k].corners.size();
            }
            const auto by_number = crossing_curves(m.arrangement, m.pieces, {}, progress);
            const auto sorted = crossing_curves(m.arrangement, m.without, {}, progress);
            REQUIRE(by_number.size() == sorted.size());
            for (std::size_t i = 0; i < sorted.size(); ++i) {
                CHECK(std::tie(by_number[i].a, by_number[i].b, by_number[i].closed, by_number[i].points) ==
                      std::tie(sorted[i].a, sorted[i].b, sorted[i].closed, sorted[i].points));
            }
            curves += sorted.size();
        }
    CHECK(cleaned_some > 0);
    CHECK(curves > 10);
}

TEST_CASE("edges by number: rounded faces hang together as they are found to without") {
    Progress progress;
    for (const auto& bodies : cases())
        for (const Operation operation : tried) {
            const Made m = made(bodies, operation);
            for (const Extraction& piece : m.pieces) {
                const RoundedSurface s =
                    round_points(m.arrangement, piece, Precision::double_precision, false, progress);
                const HalfEdges found = find_half_edges(s.faces.faces, s.faces.points.size());
                CHECK(s.edges.twin == found.twin);
                CHECK(s.edges.start == found.start);
            }
        }
}

TEST_CASE("half-edges by number: edges with one face, with two that run alike, with three and four, have no twins") {
    const VertexId a(0), b(1), c(2), d(3), e(4), f(5);
    // Round the edge a-b: one face more each time, by turns one way and the other; and two that run alike at last.
    const std::vector<Triangle> round{{a, b, c}, {b, a, d}, {a, b, e}, {b, a, f}};
    for (std::size_t count = 1; count <= round.size(); ++count)
        for (const bool alike : {false, true}) {
            std::vector<Triangle> faces(round.begin(), round.begin() + static_cast<long>(count));
            if (alike) faces.push_back({a, b, VertexId(6)});
            std::map<std::pair<VertexId, VertexId>, std::uint32_t> numbers;
            std::vector<std::uint32_t> number;
            for (const Triangle& t : faces)
                for (std::size_t k = 0; k < 3; ++k) {
                    const auto edge = std::minmax(t[k], t[(k + 1) % 3]);
                    number.push_back(numbers.try_emplace(edge, numbers.size()).first->second);
                }
            const HalfEdges by_number = find_half_edges(faces, 7, number, numbers.size());
            CHECK(by_number.twin == find_half_edges(faces, 7).twin);
            const bool paired = count == 2 && !alike;
            CHECK((by_number.twin[0] == 3) == paired);
        }
}

TEST_CASE("turned over: told of the arrangement as of its pieces") {
    std::size_t none = 0, some = 0;
    const Mesh ball = make_icosphere({1, 2, 3}, 2.5, 3);
    for (const double by : {1e-3, 1e-9, 1e-12, 1e-14}) {
        const Made m = made({ball, transformed(ball, rotation(by, normalized(Vec3{1, 2, 3})))}, Operation::pieces);
        for (const Precision precision : {Precision::double_precision, Precision::single_precision}) {
            bool any = false;
            for (const Extraction& piece : m.pieces)
                any = any || !turned_over(m.arrangement, piece, precision, 1).empty();
            // Between these bodies every sub-face bounds a piece.
            CHECK(none_turned_over(m.arrangement, precision) == !any);
            ++(any ? some : none);
        }
    }
    CHECK(none > 0);
    CHECK(some > 0);
}
