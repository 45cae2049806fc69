// Elements within an outline in the view, hidden ones or not.
#include "core/spatial/outline_pick.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Looks down from z = 100 with parallel-like perspective: pixel = 1000 * (x, y) / (100 - z).
ViewMap from_above() {
    ViewMap view;
    view.rows = {{{1000, 0, 0, 0}, {0, 1000, 0, 0}, {0, 0, -1, 100}}};
    view.eye = {0, 0, 100};
    return view;
}
const std::vector<Point2> all{{-500, -500}, {500, -500}, {500, 500}, {-500, 500}};

}  // namespace

TEST_CASE("all faces of a box are in an outline round it; from above only the top is visible") {
    const Mesh box = make_box({-5, -5, 0}, {5, 5, 10});
    const Picker picker(box);
    CHECK(elements_in(box, ElementKind::faces, from_above(), all, false, picker).size() == 12);
    const auto seen = elements_in(box, ElementKind::faces, from_above(), all, true, picker);
    CHECK(seen.size() == 2);
    for (const Element& e : seen)
        for (const VertexId v : e) CHECK(box.points[v].z == 10);
    CHECK(elements_in(box, ElementKind::points, from_above(), all, true, picker).size() == 4);
    CHECK(elements_in(box, ElementKind::edges, from_above(), all, true, picker).size() == 5);
}

TEST_CASE("an outline of any shape takes the elements whose middles it holds; behind the eye there are none") {
    const Mesh box = make_box({-5, -5, 0}, {5, 5, 10});
    const Picker picker(box);
    // Right of the middle, at the height of the top: pixels up to 55.
    const std::vector<Point2> right{{20, -100}, {100, -100}, {100, 100}, {20, 100}};
    for (const Element& e : elements_in(box, ElementKind::points, from_above(), right, false, picker))
        CHECK(box.points[e[0]].x == 5);
    CHECK(elements_in(box, ElementKind::points, from_above(), right, false, picker).size() == 4);
    // A narrow star with nothing in its notch.
    const std::vector<Point2> notch{{0, 0}, {100, 140}, {0, 30}, {-100, 140}};
    CHECK(elements_in(box, ElementKind::points, from_above(), notch, false, picker).empty());
    CHECK(elements_in(moved(box, {0, 0, 200}), ElementKind::faces, from_above(), all, false, picker).empty());
    CHECK(
        elements_in(box, ElementKind::faces, from_above(), std::vector<Point2>{{0, 0}, {1, 1}}, false, picker).empty());
}

TEST_CASE("the element of a face that is nearest to a point on it") {
    Mesh m;
    m.points.raw() = {{0, 0, 0}, {10, 0, 0}, {0, 10, 0}};
    m.faces.push_back({VertexId(0), VertexId(1), VertexId(2)});
    CHECK(nearest_element(m, ElementKind::points, FaceId(0), {8, 1, 0}) == point_element(VertexId(1)));
    CHECK(nearest_element(m, ElementKind::edges, FaceId(0), {5, 1, 0}) == edge_element(VertexId(0), VertexId(1)));
    CHECK(nearest_element(m, ElementKind::edges, FaceId(0), {4.5, 4.5, 0}) == edge_element(VertexId(1), VertexId(2)));
    CHECK(nearest_element(m, ElementKind::faces, FaceId(0), {1, 1, 0}) == face_element(m.faces[FaceId(0)]));
}
