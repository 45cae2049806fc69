// Cuts by what is selected of the body: notches, broaches; and one half welded to its mirror image.
#include <cmath>
#include <numbers>

#include "core/cut/frame.h"
#include "core/cut/symmetry.h"
#include "core/job/anchors.h"
#include "core/mesh/chain.h"
#include "core/mesh/weld.h"
#include "core/shape/shapes.h"
#include "tests/job/cutting.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Mesh box() { return make_box({0, 0, 0}, {40, 30, 20}); }
auto edge_along_x() {
    return [](const Vec3& p) { return p.y == 0 && p.z == 20; };
}

}  // namespace

TEST_CASE("a notch along an edge of a box has the volume of its prism: V and square, equal and unequal, and by angle") {
    Holding h(box());
    h.cut("notch", {{"edges", h.edges(edge_along_x())}, {"width", 3.0}, {"depth", 2.0}});
    // The section: from the edge 3 over both faces, and 2 inwards along the diagonal: two triangles of sides 3 and 2 at
    // 45 degrees; area 2 * (3 * 2 * sin 45) / 2.
    const double s = std::sqrt(0.5);
    CHECK(h.taken() == Approx(40 * 3 * 2 * s));
    h.set("right", std::string("other")).set("width_right", 5.0);
    CHECK(h.taken() == Approx(40 * (3 + 5) * 2 * s / 2));
    // Square: down along the diagonal by the depth from both, and what lies above that.
    h.set("right", std::string("as wide")).set("form", std::string("square"));
    CHECK(h.taken() == Approx(40 * (3 * 3 / 2.0 + 3 * std::sqrt(2) * 2)));
    h.set("form", std::string("V")).set("by", std::string("angle")).set("angle", 90.0);
    CHECK(h.taken() == Approx(40 * 3 * 3 * s));
    // A rib: a triangle of sides 3 over both faces and a tip 2 out of the edge.
    h.set("by", std::string("depth")).set("makes", std::string("rib"));
    CHECK(-h.taken() == Approx(40.02 * 2 * 3 * s).epsilon(1e-4));  // its ends stand out by the over-travel
}

TEST_CASE("a notch round the top of a box is mitred at its corners, and closes to a ring") {
    Holding h(box());
    h.cut("notch", {{"edges", h.edges([](const Vec3& p) { return p.z == 20; })}, {"width", 2.0}, {"depth", 1.5}});
    // Of each side a prism cut at 45 degrees at both ends: the section's area times the length of its centre of area's
    // way round (Pappus holds for mitres of straight stretches): centroids of the two triangles lie in by
    // (0 + 2 + d) / 3 and (0 + 0 + d) / 3, d = 1.5 sin 45.
    const double d = 1.5 * std::sqrt(0.5), half = 2 * d / 2;
    const double in = ((2 + d) / 3 + d / 3) / 2;
    CHECK(h.taken() == Approx(2 * half * (2 * (40 + 30) - 8 * in)));
    const Evaluation e = h.sound();
    CHECK(e.row(h.step)->cut->said.empty());
    h.set("makes", std::string("rib"));
    CHECK(h.taken() < 0);
}

TEST_CASE("ends of a notch: straight, run out and tilted up to the surface") {
    // In the middle of a flat side: the line that a scribe leaves.
    Mesh body = box();
    Holding h(body);
    add_combining(h.job, Operation::scribe, add(h.job, "bar", make_box({10, 14, 15}, {30, 16, 25})));
    const Evaluation drawn = test::evaluated(h.evaluator, h.job);
    h.mesh = welded(drawn.combined->mesh);
    Selection line{ElementKind::edges, all_elements(h.mesh, ElementKind::edges)};
    std::erase_if(line.elements, [&](const Element& e) {
        return h.at(e[0]).y != 14 || h.at(e[1]).y != 14 || h.at(e[0]).z != 20 || h.at(e[1]).z != 20;
    });
    std::ranges::sort(line.elements);
    REQUIRE(!line.elements.empty());
    h.cut("notch", {{"edges", anchors_of(line, h.mesh, *tags_of(*drawn.lineages.at(h.job.work())))},
                    {"width", 1.5},
                    {"depth", 2.0}});
    // On a flat face: a triangle, 3 wide and 2 deep, 20 long and over at both ends.
    CHECK(h.taken() == Approx(3 * (20 + 0.02)));
    h.set("ends", std::string("run out"));
    CHECK(h.taken() == Approx(3 * (20 + 0.02 + 4)));
    // Tilted by 45 degrees the floor ends 2 before the surface does: at each end a tetrahedron less, with the section
    // for its base and 2 high.
    h.set("ends", std::string("tilted")).set("tilt", 45.0);
    CHECK(h.taken() == Approx(3 * (20 + 0.02) - 2 * 3 * 2 / 3.0));
    h.set("form", std::string("square")).set("ends", std::string("straight"));
    CHECK(h.taken() == Approx(6 * (20 + 0.02)));
}

TEST_CASE("a notch round the rim of a cylinder stays sound, and on a curved body tells where it is twisted") {
    Holding h(cylinder_shape({30, 20, {0.05}})->mesh);
    h.cut("notch", {{"edges", h.edges([](const Vec3& p) { return p.z == 20; })}, {"width", 2.0}, {"depth", 2.0}});
    const double s = std::sqrt(0.5), in = ((2 + 2 * s) / 3 + 2 * s / 3) / 2;
    CHECK(h.taken() == Approx(2 * 2 * s * 2 * std::numbers::pi * (15 - in)).epsilon(0.01));  // Pappus
    CHECK(h.sound().row(h.step)->cut->said.empty());
    // Round a corner of a body with a slanted top, from the edge over the front and the top to that over the front and
    // the side: the faces on one side of the line change, and what is between them turns.
    Mesh slanted = box();
    for (Vec3& p : slanted.points)
        if (p.z == 20 && p.y == 30) p.z = 44;
    Holding t(slanted);
    const Vec3 a{0, 0, 20}, b{40, 0, 20}, c{40, 0, 0};
    const auto line = t.hold(ElementKind::edges, [&](const Element& e) {
        const Vec3 &p = t.at(e[0]), &q = t.at(e[1]);
        return (p == a && q == b) || (p == b && q == a) || (p == b && q == c) || (p == c && q == b);
    });
    t.cut("notch",
          {{"edges", line}, {"width", 6.0}, {"right", std::string("other")}, {"width_right", 2.0}, {"depth", 4.0}});
    const Evaluation e = test::evaluated(t.evaluator, t.job);
    REQUIRE(e.row(t.step)->cut);
    CHECK(e.row(t.step)->cut->said.find("Twisted by up to") == 0);
    CHECK(!e.row(t.step)->cut->places.empty());
}

TEST_CASE("what a notch or a broach cannot do says why, and changes nothing") {
    Holding h(box());
    h.cut("notch", {{"edges", h.edges(edge_along_x())}, {"width", 0.0}});
    CHECK(h.trouble() == "a width of 0 on both sides cuts nothing: set one of them");
    h.set("width", 2.0).set("depth", 0.0);
    CHECK(h.trouble() == "a depth of 0 cuts nothing");
    h.set("edges", std::vector<Anchor>());
    CHECK(h.trouble().empty());  // it waits
    CHECK(test::evaluated(h.evaluator, h.job).row(h.step)->note == "Nothing is selected for it yet.");
    // An edge with one face only.
    Mesh open = box();
    open.faces.raw().resize(10);  // without a side
    Holding o(open);
    const auto rim = o.hold(ElementKind::edges, [&](const Element& e) {
        int faces = 0;
        for (const Triangle& t : o.mesh.faces) {
            int corners = 0;
            for (const VertexId v : t) corners += v == e[0] || v == e[1];
            faces += corners == 2;
        }
        return faces == 1;
    });
    REQUIRE(!rim.empty());
    o.cut("notch", {{"edges", rim}});
    const Evaluation e = test::evaluated(o.evaluator, o.job);
    REQUIRE(e.first_error);
    CHECK(e.first_error->text.find("has 1 face and not two: mend the body first") != std::string::npos);

    Holding b(box());
    b.cut("broach", {{"faces", b.faces([](const Vec3& p) { return p.z == 20; })}, {"makes", std::string("boss")}});
    CHECK(b.trouble().find("a boss has to have a height") == 0);
    b.set("makes", std::string("hole")).set("along", std::string("z")).set("turned", std::string("with it"));
    CHECK(b.trouble().find("it would meet its own beginning") != std::string::npos);
    // Through all of the body it leaves nothing.
    b.set("turned", std::string("against it"));
    CHECK(b.trouble() == "it would leave nothing of the body");
    // All faces at once look all ways.
    b.set("faces", b.faces([](const Vec3&) { return true; })).set("along", std::string("mean normal"));
    CHECK(!b.trouble().empty());
}

TEST_CASE(
    "a broach pushes the outline of a region through, to a depth, or out as a boss; regions with holes keep them") {
    // A square drawn on the top, with a smaller one in it.
    Holding h(box());
    add_combining(h.job, Operation::scribe, add(h.job, "outer", make_box({10, 5, 15}, {30, 25, 25})));
    add_combining(h.job, Operation::scribe, add(h.job, "inner", make_box({16, 11, 15}, {24, 19, 25})));
    const Evaluation drawn = test::evaluated(h.evaluator, h.job);
    h.mesh = welded(drawn.combined->mesh);
    auto region = [&](const std::function<bool(double, double)>& in) {
        Selection s{ElementKind::faces, all_elements(h.mesh, ElementKind::faces)};
        std::erase_if(s.elements, [&](const Element& e) {
            const Vec3 m = (h.at(e[0]) + h.at(e[1]) + h.at(e[2])) * (1 / 3.0);
            return std::fabs(m.z - 20) > 1e-9 || !in(m.x, m.y);
        });
        std::ranges::sort(s.elements);
        return anchors_of(s, h.mesh, *tags_of(*drawn.lineages.at(h.job.work())));
    };
    auto outer = [](double x, double y) { return x > 10 && x < 30 && y > 5 && y < 25; };
    auto inner = [](double x, double y) { return x > 16 && x < 24 && y > 11 && y < 19; };
    h.cut("broach", {{"faces", region(outer)}});
    CHECK(h.taken() == Approx(400 * 20));
    // A ring: what stands in its middle is a piece of its own.
    h.set("faces", region([&](double x, double y) { return outer(x, y) && !inner(x, y); }));
    CHECK(h.taken() == Approx((400 - 64) * 20));
    h.set("down_to", std::string("depth")).set("depth", 7.0);
    CHECK(h.taken() == Approx((400 - 64) * 7));
    h.set("makes", std::string("boss"));
    CHECK(-h.taken() == Approx((400 - 64) * 7));
    // Along a slanted direction: a prism of the same base; its height is what counts (Cavalieri).
    h.set("makes", std::string("hole")).set("along", std::string("direction")).set("way", Vec3{1, 0, -2});
    CHECK(h.taken() == Approx((400 - 64) * 7 * 2 / std::sqrt(5)).epsilon(2e-3));
    h.set("along", std::string("own normals"));
    CHECK(h.taken() == Approx((400 - 64) * 7));
}

TEST_CASE("mirror and weld: symmetric to the bit, nothing inside, loops across the seam, and half the volume twice") {
    Mesh body = combined(Operation::union_of,
                         {make_box({-10, -5, 0}, {10, 5, 8}), moved(sphere_shape({9, {0.1}})->mesh, {4, 0, 4})})
                    .mesh;
    const double front =
        signed_volume(combined(Operation::intersection, {body, make_box({0, -50, -50}, {50, 50, 50})}).mesh);
    Holding h(body);
    h.cut("symmetry", {});
    Evaluation e = h.sound();
    CHECK(volume(e) == Approx(2 * front));
    std::set<Vec3, ByCoordinates> points;
    for (const Vec3& p : e.combined->mesh.points) points.insert(p);
    for (const Vec3& p : points) CHECK(points.contains({-p.x, p.y, p.z}));
    CHECK(inspected(e.combined->mesh).measures.shells == 1);
    for (FaceId f : ids<FaceId>(e.combined->mesh.faces.size())) {
        const Mesh& m = e.combined->mesh;
        CHECK(!(m.corner(f, 0).x == 0 && m.corner(f, 1).x == 0 && m.corner(f, 2).x == 0));
    }
    CHECK(e.row(h.step)->treated->said.find("meet in the plane") != std::string::npos);
    h.set("keep", std::string("back"));
    CHECK(volume(h.sound()) == Approx(2 * (signed_volume(body) - front)));
    // Once more changes nothing, and says so.
    h.cut("symmetry", {});
    e = h.sound();
    CHECK(e.row(h.step)->treated->said == "It is symmetric across that plane already, to the bit.");
    CHECK(e.row(h.step)->treated->mesh == e.row(h.step)->from);
}

TEST_CASE("mirror and weld: a half that stops short of the plane is refused, or welded over the distance") {
    Mesh half = make_box({0.05, -5, 0}, {10, 5, 8});
    Holding h(half);
    h.cut("symmetry", {});
    CHECK(h.trouble() ==
          "the body does not reach the plane, which is 0.05 mm away: move the plane, or weld over that distance");
    h.set("weld", 0.1);
    const Evaluation e = h.sound();
    CHECK(volume(e) == Approx(20 * 10 * 8));
    CHECK(e.row(h.step)->treated->said == "4 points meet in the plane. 4 points were put onto it, by up to 0.05 mm.");
    h.set("keep", std::string("back")).set("weld", 0.0);
    CHECK(h.trouble() == "there is nothing of the body on the side of the plane that is kept");
    h.set("at", -20.0).set("keep", std::string("front"));
    CHECK(h.trouble().find("does not reach the plane") != std::string::npos);
    h.set("at", 20.0);
    CHECK(h.trouble() == "there is nothing of the body on the side of the plane that is kept");
}

TEST_CASE("mirror and weld across any plane, the bed, and where the half only touches the plane") {
    Holding ball(moved(sphere_shape({20, {0.05}})->mesh, {3, 2, -7}));
    ball.cut("symmetry", {{"across", std::string("free")}, {"normal", Vec3{1, 2, 0.5}}, {"origin", Vec3{3, 2, 1}}});
    CHECK(volume(ball.sound()) > 0);
    Holding box_on(make_box({0, 0, 3}, {10, 10, 9}));
    box_on.cut("symmetry", {{"across", std::string("bed")}});
    const Evaluation e = box_on.sound();
    CHECK(bounds(e.combined->mesh).low.z == -3);
    CHECK(volume(e) == Approx(2 * 600));
    // A wedge that touches the plane along an edge: its image is set back or bridged, not left with edges of four
    // faces.
    Mesh wedge = turned(make_box({0, 0, 0}, {10, 10, 10}), std::numbers::pi / 4, {0, 1, 0});
    double lowest = 0;
    for (const Vec3& p : wedge.points) lowest = std::min(lowest, p.x);
    for (Vec3& p : wedge.points)
        if (std::fabs(p.x - lowest) < 1e-9) p.x = lowest;
    Holding touching(moved(wedge, {-lowest, 0, 0}));
    touching.cut("symmetry", {});
    CHECK(volume(touching.sound()) == Approx(2000).epsilon(1e-3));
}
