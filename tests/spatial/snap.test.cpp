#include "core/spatial/snap.h"

#include "core/mesh/primitives.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

std::vector<SnapPlace> of_kind(const std::vector<SnapPlace>& places, SnapPlace::Kind kind) {
    std::vector<SnapPlace> out;
    for (const SnapPlace& place : places)
        if (place.kind == kind) out.push_back(place);
    return out;
}
/// A face whose normal looks that way.
FaceId face_towards(const Mesh& mesh, const Vec3& normal) {
    for (const FaceId f : ids<FaceId>(mesh.faces.size()))
        if (dot(normalized(cross(mesh.corner(f, 1) - mesh.corner(f, 0), mesh.corner(f, 2) - mesh.corner(f, 0))),
                normal) > 0.999)
            return f;
    FAIL("no such face");
    return {};
}

}  // namespace

TEST_CASE("snapping: corners, middles of the outline's edges and of the whole flat face, not of its triangles") {
    const Mesh box = make_box({0, 0, 0}, {10, 20, 30});
    const auto places = SnapPlaces(box).about(face_towards(box, {0, 0, 1}));
    CHECK(of_kind(places, SnapPlace::Kind::corner).size() == 3);
    // The diagonal that parts the face into triangles is no edge of it.
    const auto edges = of_kind(places, SnapPlace::Kind::edge_middle);
    CHECK(edges.size() == 2);
    for (const SnapPlace& edge : edges) CHECK((edge.place.x == 5 || edge.place.y == 10));
    const auto middle = of_kind(places, SnapPlace::Kind::face_middle);
    REQUIRE(middle.size() == 1);
    CHECK(norm(middle[0].place - Vec3{5, 10, 30}) < 1e-12);
    CHECK(middle[0].normal == Vec3{0, 0, 1});
    CHECK(of_kind(places, SnapPlace::Kind::circle_centre).empty());
}

TEST_CASE("snapping: the centres of bores and of round ends, with their radius") {
    const Mesh plate = make_box({-20, -10, 0}, {20, 10, 5});
    const Mesh bore = make_frustum(3, 3, -1, 6, 32);
    Mesh second = make_frustum(2, 2, -1, 6, 24);
    for (Vec3& p : second.points.raw()) p.x += 12;
    const Mesh drilled = combined(Operation::difference, {plate, bore, second}).mesh;
    auto circles = of_kind(SnapPlaces(drilled).about(face_towards(drilled, {0, 0, 1})), SnapPlace::Kind::circle_centre);
    REQUIRE(circles.size() == 2);
    std::ranges::sort(circles, {}, [](const SnapPlace& c) { return c.place.x; });
    CHECK(norm(circles[0].place - Vec3{0, 0, 5}) < 1e-9);
    CHECK(circles[0].radius == Approx(3));
    CHECK(norm(circles[1].place - Vec3{12, 0, 5}) < 1e-9);
    CHECK(circles[1].radius == Approx(2));
}

TEST_CASE("circles are fitted within a thousandth of their radius; ovals, squares and few points are none") {
    std::vector<Vec3> round, oval;
    for (int k = 0; k < 40; ++k) {
        const double a = 0.157079632679 * k;
        round.push_back({5 + 7 * std::cos(a), 2, 7 * std::sin(a)});
        oval.push_back({7 * std::cos(a), 0, 7.1 * std::sin(a)});
    }
    const FittedCircle circle = circle_through(round);
    CHECK(circle.radius == Approx(7));
    CHECK(norm(circle.centre - Vec3{5, 2, 0}) < 1e-9);
    CHECK(circle_through(oval).radius == 0);
    CHECK(circle_through({{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}}).radius == 0);
    CHECK(circle_through(std::vector<Vec3>(12, {1, 1, 1})).radius == 0);
    CHECK(angle_between({0, 0, 1}, {0, 0, 1}) == 0);
    CHECK(angle_between({0, 0, 1}, {1, 0, 0}) == Approx(90));
    CHECK(angle_between({0, 0, 1}, {0, 0, -1}) == Approx(180));
    CHECK(angle_between({0, 0, 1}, {1, 0, 1}) == Approx(45));
}

TEST_CASE("along a direction a body comes onto a face of another or flush with one, the nearer to where it was drawn") {
    const FlatSide own[] = {{{0, 0, 10}, {0, 0, 1}, 1}, {{0, 0, 0}, {0, 0, -1}, 1}, {{5, 0, 5}, {1, 0, 0}, 1}};
    const FlatSide others[] = {{{50, 0, 30}, {0, 0, -1}, 1}, {{50, 0, 34}, {0, 0, 1}, 1}, {{9, 0, 0}, {-1, 0, 0}, 1}};
    const Vec3 up{0, 0, 1};
    auto to = [&](double freely) { return face_to_face(own, others, up, freely, 3); };
    // The top meets the ceiling at 20, the foot lies on the plate at 34; flush with its top side at 24.
    REQUIRE(to(21));
    CHECK(to(21)->travel == 20);
    CHECK(to(21)->onto);
    CHECK(to(21)->other == 0);
    CHECK(to(23)->travel == 24);
    CHECK_FALSE(to(23)->onto);
    CHECK(to(33)->travel == 34);
    CHECK(to(33)->other == 1);
    CHECK_FALSE(to(10));
    // Square to the way there is nothing to meet, and aslant it is met at its own distance.
    CHECK(face_to_face(own, others, {1, 0, 0}, 5, 3)->travel == 4);
    const Vec3 aslant = normalized(Vec3{1, 0, 1});
    CHECK(face_to_face(own, others, aslant, 28, 3)->travel == Approx(20 * std::sqrt(2.0)));
    // Turned by a quarter, the side that looked along x looks along y.
    const FlatSide turned =
        placed(own[2], Transform(translation({1, 2, 3}) * rotation(std::acos(-1.0) / 2, {0, 0, 1})));
    CHECK(norm(turned.normal - Vec3{0, 1, 0}) < 1e-15);
    CHECK(norm(turned.place - Vec3{1, 7, 8}) < 1e-15);
}
