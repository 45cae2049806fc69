// Choosing elements: kinds into each other, growing, shrinking, what hangs together, what lies between creases.
#include "core/mesh/selection.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

const Mesh box = make_box({0, 0, 0}, {1, 1, 1});
Selection of(ElementKind kind, std::vector<Element> elements) {
    Selection s{kind, {}};
    s.add(elements);
    return s;
}
Selection face(const Mesh& m, std::size_t f) { return of(ElementKind::faces, {face_element(m.faces[FaceId(f)])}); }

}  // namespace

TEST_CASE("a box has 8 points, 18 edges and 12 faces, each once") {
    CHECK(all_elements(box, ElementKind::points).size() == 8);
    CHECK(all_elements(box, ElementKind::edges).size() == 18);
    CHECK(all_elements(box, ElementKind::faces).size() == 12);
}

TEST_CASE("faces go over into their edges and corners; points into the faces all of whose corners they are") {
    const Selection one = face(box, 3);
    CHECK(converted(box, one, ElementKind::edges).elements.size() == 3);
    CHECK(converted(box, one, ElementKind::points).elements.size() == 3);
    CHECK(converted(box, converted(box, one, ElementKind::points), ElementKind::faces) == one);
    CHECK(converted(box, converted(box, one, ElementKind::edges), ElementKind::faces) == one);
    CHECK(converted(box, of(ElementKind::points, {point_element(VertexId(0))}), ElementKind::faces).empty());
    CHECK(converted(box, of(ElementKind::points, all_elements(box, ElementKind::points)), ElementKind::edges)
              .elements.size() == 18);
}

TEST_CASE("connected takes a whole shell, a region stops at creases") {
    Mesh two = box;
    append(two, make_box({3, 0, 0}, {4, 1, 1}));
    CHECK(connected(two, face(two, 0)).elements.size() == 12);
    CHECK(within_creases(two, face(two, 0), 28).elements.size() == 2);
    CHECK(within_creases(two, face(two, 0), 100).elements.size() == 12);
    const Selection point = of(ElementKind::points, {point_element(VertexId(0))});
    CHECK(connected(two, point).elements.size() == 8);
}

TEST_CASE("growing and shrinking by a ring; shrinking takes off what growing put on") {
    const Mesh ball = make_icosphere({0, 0, 0}, 1, 3);
    Selection s = face(ball, 100);
    const Selection one_ring = grown(ball, s);
    CHECK(one_ring.elements.size() > 10);
    CHECK(one_ring.contains(s.elements.front()));
    const Selection two_rings = grown(ball, one_ring);
    CHECK(two_rings.elements.size() > one_ring.elements.size());
    CHECK(shrunk(ball, two_rings) == one_ring);
    CHECK(shrunk(ball, one_ring) == s);
    CHECK(shrunk(ball, s).empty());
    const Selection all = of(ElementKind::faces, all_elements(ball, ElementKind::faces));
    CHECK(shrunk(ball, all) == all);
    const Selection points = converted(ball, s, ElementKind::points);
    CHECK(shrunk(ball, grown(ball, points)) == points);
}

TEST_CASE("what is chosen goes over to a changed mesh by where its points are") {
    Mesh less = box;
    less.faces.raw().erase(less.faces.begin());
    less.points.push_back({9, 9, 9});
    const Selection two = [&] {
        Selection s = face(box, 0);
        s.add(face(box, 5).elements);
        return s;
    }();
    CHECK(carried_over(two, box, less).elements == face(box, 5).elements);
    CHECK(carried_over(two, box, moved(box, {1, 0, 0})).empty());
    const Selection edges = converted(box, two, ElementKind::edges);
    CHECK(carried_over(edges, box, less).elements.size() >= 3);
}

TEST_CASE("inverting twice gives the same; taking away what was added, too") {
    const Selection one = face(box, 3);
    CHECK(inverted(box, one).elements.size() == 11);
    CHECK(inverted(box, inverted(box, one)) == one);
    Selection more = one;
    more.add(face(box, 5).elements);
    CHECK(more.elements.size() == 2);
    more.take(face(box, 5).elements);
    CHECK(more == one);
}

TEST_CASE("elements named by their points are found again, with their rim and the box round them") {
    const Mesh box = make_box({0, 0, 0}, {2, 3, 4});
    for (const ElementKind kind : {ElementKind::points, ElementKind::edges, ElementKind::faces}) {
        Selection all{kind, {}};
        all.add(all_elements(box, kind));
        const std::vector<Vec3> points = points_at(box, all);
        CHECK(points.size() == all.elements.size() * static_cast<std::size_t>(points_of(kind)));
        const NamedElements named = elements_at(kind, points);
        CHECK(named.selection.elements.size() == all.elements.size());
        CHECK(carried_over(named.selection, named.mesh, box) == all);
        // What is left over names none.
        if (kind != ElementKind::points)
            CHECK(elements_at(kind, std::span(points).first(points.size() - 1)).selection.elements.size() ==
                  all.elements.size() - 1);
    }
    const std::vector<Vec3> square{{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 0, 0}, {1, 1, 0}, {0, 1, 0}};
    const NamedElements rim = rim_of(elements_at(ElementKind::faces, square));
    CHECK(rim.selection.kind == ElementKind::edges);
    CHECK(rim.selection.elements.size() == 4);  // not the diagonal
    for (const Element& e : rim.selection.elements) CHECK(norm(rim.mesh.points[e[0]] - rim.mesh.points[e[1]]) == 1);
    const NamedElements edges = box_round(square);
    CHECK(edges.selection.elements.size() == 12);
    Box around;
    for (const Vec3& p : edges.mesh.points) around.add(p);
    CHECK(around.low == Vec3{0, 0, 0});
    CHECK(around.high == Vec3{1, 1, 0});
    CHECK(box_round({}).selection.empty());
}
