// What is pushed or mirrored by what is selected of the body: slots along edges, holes at points, outlines of edges,
// and features once more.
#include <cmath>
#include <numbers>

#include "core/job/cutting.h"
#include "core/job/new_cut.h"
#include "tests/job/cutting.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// 40 x 30 x 20, each side in triangles of a tenth of its length.
Mesh fine_block() { return in_smaller_faces(make_box({0, 0, 0}, {40, 30, 20}), 10); }

/// Area of a regular polygon of n corners on a circle of that radius: n r2 sin(2 pi / n) / 2 (Bronshtein, Semendyayev,
/// "Handbook of Mathematics", planimetry).
double polygon_area(int n, double r) { return n * r * r * std::sin(2 * std::numbers::pi / n) / 2; }
double round_area(double r) { return polygon_area(faces_around(r, {0.02}), r); }

/// A block with something round of diameter 6 at (10, 15): a hole or a peg.
Holding with_round(Operation operation, double low, double high) {
    Mesh bar = round_bar(6, high - low, 32);
    for (Vec3& p : bar.points) p = p + Vec3{10, 15, low};
    const Mesh block = make_box({0, 0, 0}, {40, 30, 20});
    const Mesh* operands[] = {&block, &bar};
    Progress progress;
    auto made = combine(operation, operands, progress);
    REQUIRE(made);
    return Holding(std::move(made->mesh));
}
bool in_round(const Vec3& p) { return std::hypot(p.x - 10, p.y - 15) < 3 + 1e-6; }

}  // namespace

TEST_CASE("a broach at points is a round hole as wide as was asked for, along edges a slot with round ends") {
    Holding h(fine_block());
    const auto points = h.hold(ElementKind::points, [&](const Element& e) { return h.at(e[0]) == Vec3{20, 15, 20}; });
    REQUIRE(!points.empty());
    h.cut("broach", {{"of", std::string("points")}, {"points", points}, {"thickness", 4.0}});
    CHECK(h.taken() == Approx(round_area(2) * 20));
    h.set("down_to", std::string("depth")).set("depth", 6.0);
    CHECK(h.taken() == Approx(round_area(2) * 6));
    h.set("makes", std::string("boss"));
    CHECK(-h.taken() == Approx(round_area(2) * 6));
    h.set("makes", std::string("hole")).set("along", std::string("x"));
    CHECK(h.taken() == Approx(round_area(2) / 2 * (6 + 2.01)).epsilon(1e-6));  // half of it in the air
    // Two edges in line, each 4 long: their slots meet.
    Holding s(fine_block());
    const auto edges = s.hold(ElementKind::edges, [&](const Element& e) {
        const Vec3 &p = s.at(e[0]), &q = s.at(e[1]);
        return p.z == 20 && q.z == 20 && p.y == 15 && q.y == 15 && std::min(p.x, q.x) >= 12 && std::max(p.x, q.x) <= 20;
    });
    s.cut("broach", {{"of", std::string("edges")}, {"edges", edges}, {"thickness", 3.0}});
    CHECK(s.taken() == Approx((8 * 3 + round_area(1.5)) * 20));
    s.set("down_to", std::string("depth")).set("depth", 2.5);
    CHECK(s.taken() == Approx((8 * 3 + round_area(1.5)) * 2.5));
    s.set("along", std::string("own normals"));
    CHECK(s.taken() == Approx((8 * 3 + round_area(1.5)) * 2.5));
    // Through the rim of a box each edge by its own normal, at 45 degrees.
    Holding r(make_box({0, 0, 0}, {40, 30, 20}));
    r.cut("broach", {{"of", std::string("edges")},
                     {"edges", r.edges([](const Vec3& p) { return p.z == 20; })},
                     {"thickness", 2.0},
                     {"along", std::string("own normals")}});
    CHECK(r.taken() > 0);
}

TEST_CASE(
    "an outline of edges: a ring of the rim takes a slice off, two rings leave what is between them, a line splits") {
    Holding h(make_box({0, 0, 0}, {40, 30, 20}));
    const auto top = h.edges([](const Vec3& p) { return p.z == 20; });
    h.cut("cut-outline",
          {{"shape", std::string("edges")}, {"edges", top}, {"way", std::string("depth")}, {"depth", 5.0}});
    CHECK(h.taken() == Approx(40 * 30 * 5));
    h.set("does", std::string("union"));
    CHECK(-h.taken() == Approx(40 * 30 * 5));
    Holding ring = with_round(Operation::difference, -1, 21);
    const auto both = ring.edges([](const Vec3& p) { return p.z == 20; });
    ring.cut("cut-outline",
             {{"shape", std::string("edges")}, {"edges", both}, {"way", std::string("depth")}, {"depth", 5.0}});
    CHECK(ring.taken() == Approx((40 * 30 - polygon_area(32, 3)) * 5));
    // The hole is plugged by its own rim.
    Holding plug = with_round(Operation::difference, -1, 21);
    const auto rim = plug.edges([](const Vec3& p) { return p.z == 20 && in_round(p); });
    plug.cut("cut-outline", {{"shape", std::string("edges")}, {"edges", rim}, {"does", std::string("union")}});
    CHECK(volume(plug.sound()) > 40 * 30 * 20);  // through all: it stands out a little on both sides
    Holding line(fine_block());
    const auto across = line.hold(ElementKind::edges, [&](const Element& e) {
        const Vec3 &p = line.at(e[0]), &q = line.at(e[1]);
        return p.z == 20 && q.z == 20 && p.x == 20 && q.x == 20;
    });
    line.cut("cut-outline", {{"shape", std::string("edges")}, {"edges", across}});
    const Evaluation halves = line.sound();
    REQUIRE(halves.combined->pieces() == 2);
    CHECK(signed_volume(halves.combined->piece(0)) == Approx(12000));
    // Rings and lines at once mean nothing.
    Holding mixed(fine_block());
    auto some = mixed.edges([](const Vec3& p) { return p.z == 20; });
    const auto more = mixed.hold(ElementKind::edges, [&](const Element& e) {
        return mixed.at(e[0]).z == 0 && mixed.at(e[1]).z == 0 && mixed.at(e[0]).y == 0 && mixed.at(e[1]).y == 0;
    });
    some.insert(some.end(), more.begin(), more.end());
    mixed.cut("cut-outline", {{"shape", std::string("edges")}, {"edges", some}});
    CHECK(mixed.trouble() == "some of the edges go round and some do not: choose closed rings, or open lines");
}

TEST_CASE("a feature once more: pockets, through holes and pegs, across a plane and on the other side") {
    Holding pocket = with_round(Operation::difference, 12, 21);
    const double before = pocket.whole;
    const auto walls = pocket.faces([](const Vec3& p) { return in_round(p) && p.z > 11; });
    pocket.cut("mirror-feature", {{"faces", walls}, {"at", 20.0}});
    CHECK(pocket.taken() == Approx(polygon_area(32, 3) * 8));
    CHECK(pocket.sound().row(pocket.step)->cut->said == "A hollow: it is cut out of the other side.");
    // From a pocket on top one at the bottom.
    pocket.set("across", std::string("z")).set("at", 10.0);
    CHECK(pocket.taken() == Approx(polygon_area(32, 3) * 8));
    const Mesh both = pocket.sound().combined->mesh;
    auto points_at = [&](double z) {
        return std::ranges::count_if(both.points, [&](const Vec3& p) { return p.z == z; });
    };
    CHECK(points_at(8) == points_at(12));
    CHECK(before - signed_volume(both) == Approx(polygon_area(32, 3) * 8));
    Holding through = with_round(Operation::difference, -1, 21);
    through.cut("mirror-feature", {{"faces", through.faces([](const Vec3& p) { return in_round(p); })}, {"at", 20.0}});
    CHECK(through.taken() == Approx(polygon_area(32, 3) * 20));
    Holding peg = with_round(Operation::union_of, 19, 26);
    peg.cut("mirror-feature",
            {{"faces", peg.faces([](const Vec3& p) { return in_round(p) && p.z > 19.5; })}, {"at", 20.0}});
    CHECK(-peg.taken() == Approx(polygon_area(32, 3) * 6));
    CHECK(peg.sound().row(peg.step)->cut->said == "It stands out: it is added to the other side.");
    // Across any plane: at x = 20 but for the way it is told.
    peg.set("across", std::string("free")).set("origin", Vec3{20, 3, 4}).set("normal", Vec3{-2, 0, 0});
    CHECK(-peg.taken() == Approx(polygon_area(32, 3) * 6));
    Holding flat(make_box({0, 0, 0}, {40, 30, 20}));
    flat.cut("mirror-feature", {{"faces", flat.faces([](const Vec3& p) { return p.z == 20; })}, {"at", 20.0}});
    CHECK(flat.trouble() == "the faces enclose nothing, even closed where they end: choose more");
}

TEST_CASE("a cut that lies on a face tells where it stands now, whatever its numbers say") {
    Cutting c(make_box({0, 0, 0}, {40, 30, 20}));
    const Evaluation e = c.done();
    Mesh mesh = welded(e.combined->mesh);
    Selection top{ElementKind::faces, {}};
    for (const Triangle& t : mesh.faces)
        if (mesh.points[t[0]].z == 20 && mesh.points[t[1]].z == 20 && mesh.points[t[2]].z == 20)
            top.elements.push_back(face_element(t));
    std::ranges::sort(top.elements);
    c.cut("drill", {{"face", anchors_of(top, mesh, *tags_of(*e.lineages.at(c.job.work())))},
                    {"at", std::vector<Vec3>{{10, 10, 3}}}});
    const Evaluation drilled = c.sound();
    const auto cut = drilled.row(c.step)->cut;
    REQUIRE(cut->on);
    CHECK(cut->on->second == Vec3{0, 0, 1});
    const Kind& kind = *find_kind("drill");
    const Values stands = values_where_it_stands(kind, find_step(c.job, c.step).step->values, *cut);
    CHECK(std::get<std::vector<Vec3>>(stands.at("at")).front() == Vec3{10, 10, 20});
}

TEST_CASE("directions by an edge or the view: the nearer of both ways first, then the other") {
    CHECK(next_direction({0, 0, 1}, {0, 0, 3}) == Vec3{0, 0, -1});
    CHECK(next_direction({0, 0, 1}, {1, 0, -1e-15}) == Vec3{1, 0, 0});
    CHECK(next_direction({0, 0, 1}, {1, 0, -1}).z == Approx(std::sqrt(0.5)));
}
