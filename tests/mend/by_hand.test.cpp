// Tools for work by hand: what each does to a mesh, and what it refuses.
#include "core/mend/hand_tools.h"
#include "tests/support/mending.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;
using T = HandTool;

namespace {

const Mesh block = make_box({0, 0, 0}, {10, 10, 10});

HandDone edited(Mesh& mesh, T tool, std::vector<Vec3> points, FillStyle fill = FillStyle::smallest) {
    mesh = welded(mesh);
    Progress progress;
    auto done = edit_by_hand(mesh, {.tool = tool, .points = std::move(points), .fill = fill}, {}, progress);
    REQUIRE(done);
    return std::move(*done);
}
/// The diagonal of the block's top, and its other two corners.
struct Top {
    std::vector<Vec3> diagonal, others;
};
Top top() {
    std::map<std::pair<double, double>, int> uses;
    for (const Triangle& t : block.faces)
        if (block.points[t[0]].z == 10 && block.points[t[1]].z == 10 && block.points[t[2]].z == 10)
            for (const VertexId v : t) ++uses[{block.points[v].x, block.points[v].y}];
    Top out;
    for (const auto& [at, n] : uses) (n == 2 ? out.diagonal : out.others).push_back({at.first, at.second, 10});
    return out;
}

}  // namespace

TEST_CASE("words of hand tools are told apart, and lead back") {
    for (int k = 0; k < hand_tools; ++k) CHECK(hand_tool_from(word(static_cast<T>(k))) == static_cast<T>(k));
    CHECK(!hand_tool_from("lathe"));
}

TEST_CASE("faces are deleted and flipped by their corners, in any order") {
    Mesh m = block;
    const auto [diagonal, others] = top();
    CHECK(edited(m, T::delete_faces, {diagonal[0], others[0], diagonal[1]}).said == "1 face was deleted.");
    CHECK(inspected(m).count(FindingKind::open_edges) == 3);
    CHECK(edited(m, T::flip_faces, {others[1], diagonal[1], diagonal[0]}).said == "1 face was flipped.");
    CHECK(inspected(m).count(FindingKind::misoriented_edges) == 2);
    const Mesh before = m;
    const HandDone gone = edited(m, T::delete_faces, {diagonal[0], others[0], diagonal[1]});
    CHECK(gone.refused);
    CHECK(gone.said == "These faces are not there any more.");
    CHECK(m == before);
}

TEST_CASE("a border is filled at one of its edges, in the style asked for; a closed edge has none") {
    Mesh m = without_top(block, 10);
    CHECK(edited(m, T::fill_border, {{0, 0, 10}, {10, 0, 10}}).changed == 1);
    CHECK(inspected(m).print_ready);
    CHECK(edited(m, T::fill_border, {{0, 0, 10}, {10, 0, 10}}).refused);
    Mesh ring = combined(Operation::difference, {block, make_box({4, 4, -1}, {6, 6, 11})}).mesh;
    ring = without_top(ring, 10);
    CHECK(edited(ring, T::fill_border, {{0, 0, 10}, {10, 0, 10}}, FillStyle::flat).changed == 1);
    CHECK(inspected(ring).print_ready);
    CHECK(signed_volume(ring) == Approx(1000 - 40));
}

TEST_CASE("two borders are bridged by a strip: two open boxes become one body") {
    Mesh m = without_top(block, 10);
    Mesh upper = make_box({0, 0, 20}, {10, 10, 30});
    std::erase_if(upper.faces.raw(), [&](const Triangle& t) {
        return upper.points[t[0]].z == 20 && upper.points[t[1]].z == 20 && upper.points[t[2]].z == 20;
    });
    append(m, upper);
    const HandDone done = edited(m, T::bridge_borders, {{0, 0, 10}, {10, 0, 10}, {0, 0, 20}, {10, 0, 20}});
    CHECK(done.said == "Two borders were bridged.");
    CHECK(inspected(m).print_ready);
    CHECK(signed_volume(m) == Approx(3000));
    CHECK(surface_area(m) == Approx(2 * 100 + 4 * 300));
}

TEST_CASE("a bridge across one border parts it in two holes") {
    Mesh m = without_top(block, 10);
    for (const double y : {0.0, 10.0}) REQUIRE(!edited(m, T::split_edge, {{0, y, 10}, {10, y, 10}}).refused);
    CHECK(inspected(m).count(FindingKind::holes) == 1);
    CHECK(!edited(m, T::bridge_borders, {{0, 0, 10}, {5, 0, 10}, {0, 10, 10}, {5, 10, 10}}).refused);
    // The left half is covered: one hole is left there, of no width, none, and one on the right.
    CHECK(signed_volume(m) > 0);
    CHECK(inspected(m).count(FindingKind::holes) == 1);
    CHECK(!edited(m, T::fill_border, {{5, 0, 10}, {10, 0, 10}}).refused);
    CHECK(inspected(m).print_ready);
    CHECK(signed_volume(m) == Approx(1000));
}

TEST_CASE("edges are split, collapsed and rotated; the body stays closed") {
    const auto [diagonal, others] = top();
    Mesh m = block;
    CHECK(edited(m, T::split_edge, diagonal).said == "1 edge was split.");
    CHECK(m.faces.size() == 14);
    CHECK(inspected(m).print_ready);
    CHECK(signed_volume(m) == Approx(1000));
    const Vec3 middle{5, 5, 10};
    const HandDone collapsed = edited(m, T::collapse_edge, {diagonal[0], middle});
    CHECK(collapsed.changed == 1);
    CHECK(collapsed.largest_move == Approx(norm(middle - diagonal[0]) / 2));
    CHECK(inspected(m).print_ready);
    CHECK(m.faces.size() == 12);

    Mesh rotated = block;
    CHECK(!edited(rotated, T::rotate_edge, diagonal).refused);
    CHECK(inspected(rotated).print_ready);
    CHECK(signed_volume(rotated) == Approx(1000));
    CHECK(!edited(rotated, T::rotate_edge, others).refused);
    CHECK(edited(rotated, T::rotate_edge, others).said == "There is no such edge any more.");
}

TEST_CASE("what would spoil the surface is refused with the reason, and nothing is changed") {
    // A tetrahedron's edges cannot be collapsed, nor rotated.
    Mesh m;
    m.points.raw() = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
    const auto v = [](std::size_t i) { return VertexId(i); };
    m.faces.raw() = {{v(0), v(2), v(1)}, {v(0), v(1), v(3)}, {v(0), v(3), v(2)}, {v(1), v(2), v(3)}};
    m = welded(m);
    const Mesh before = m;
    CHECK(edited(m, T::rotate_edge, {{0, 0, 0}, {1, 0, 0}}).said ==
          "The two other corners are joined by an edge already.");
    CHECK(m == before);
    CHECK(edited(m, T::merge_points, {{0, 0, 0}}).refused);
    CHECK(edited(m, T::join_points, {{0, 0, 0}, {1, 0, 0}}).said == "The two points are joined by an edge already.");
    CHECK(edited(m, T::bridge_borders, {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}}).said ==
          "Bridging takes an edge of a border at each end.");
    CHECK(m == before);
}

TEST_CASE("points are merged at their middle, and joined by an edge through the faces between them") {
    Mesh m = block;
    const HandDone merged = edited(m, T::merge_points, {{0, 0, 10}, {10, 0, 10}});
    CHECK(merged.changed == 2);
    CHECK(merged.largest_move == Approx(5));
    CHECK(inspected(m).print_ready);
    CHECK(std::ranges::find(m.points, Vec3{5, 0, 10}) != m.points.end());

    // Across a plate of two by two squares, from one end to the other, through several faces.
    Mesh plate;
    for (int y = 0; y <= 3; ++y)
        for (int x = 0; x <= 6; ++x) plate.points.push_back({double(x), double(y) + (y == 1 ? 0.3 : 0), 0});
    auto at = [](int x, int y) { return VertexId(static_cast<std::size_t>(7 * y + x)); };
    for (int y = 0; y < 3; ++y)
        for (int x = 0; x < 6; ++x) {
            plate.faces.push_back({at(x, y), at(x + 1, y), at(x + 1, y + 1)});
            plate.faces.push_back({at(x, y), at(x + 1, y + 1), at(x, y + 1)});
        }
    const double area = surface_area(plate);
    const std::size_t faces = plate.faces.size();
    const Vec3 from = plate.points[at(0, 0)], to = plate.points[at(5, 3)];
    CHECK(edited(plate, T::join_points, {from, to}).said == "Two points were joined by an edge.");
    CHECK(plate.faces.size() == faces);
    CHECK(surface_area(plate) == Approx(area));
    CHECK(inspected(plate).count(FindingKind::self_intersections) == 0);
    CHECK(edited(plate, T::join_points, {from, to}).said == "The two points are joined by an edge already.");
}

TEST_CASE("edits by hand one after the other, judged before and after; a stop stops them") {
    const auto [diagonal, others] = top();
    const std::vector<HandEdit> edits{{.tool = T::delete_faces, .points = {diagonal[0], others[0], diagonal[1]}},
                                      {.tool = T::rotate_edge, .points = {{1, 2, 3}, {4, 5, 6}}},
                                      {.tool = T::fill_border, .points = diagonal}};
    Progress progress;
    const auto done = mend_by_hand(block, edits, {}, progress);
    REQUIRE(done);
    REQUIRE(done->by_hand.size() == 3);
    CHECK(!done->by_hand[0].refused);
    CHECK(done->by_hand[1].refused);
    CHECK(!done->by_hand[2].refused);
    CHECK(done->before.print_ready);
    CHECK(done->after.print_ready);
    CHECK(signed_volume(done->mesh) == Approx(1000));
    Progress stopped;
    stopped.cancel();
    CHECK(!mend_by_hand(block, edits, {}, stopped));
}
