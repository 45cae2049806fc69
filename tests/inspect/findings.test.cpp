// Each kind of finding, made on purpose and counted by hand.
#include "core/inspect/compare.h"
#include "demo/lantern.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;
using K = FindingKind;

namespace {
const Mesh box = make_box({0, 0, 0}, {2, 2, 2});

Mesh with_face(Mesh m, const Vec3& a, const Vec3& b, const Vec3& c) {
    const VertexId p = m.points.push_back(a), q = m.points.push_back(b), r = m.points.push_back(c);
    m.faces.push_back({p, q, r});
    return m;
}
}  // namespace

TEST_CASE("a sound body has no findings and is print-ready") {
    const Inspection i = inspected(box);
    CHECK(i.print_ready);
    CHECK(i.closed);
    CHECK(findings_text(i) == "none");
}

TEST_CASE("an empty mesh is neither closed nor print-ready") {
    const Inspection i = inspected(Mesh{});
    CHECK(!i.print_ready);
    CHECK(!i.closed);
}

TEST_CASE("a lost face leaves three open edges and a hole") {
    Mesh m = box;
    m.faces.raw().pop_back();
    CHECK(findings_text(inspected(m)) == "3 open_edges; 1 holes; ");
    m.faces.raw().pop_back();  // the other half of that side
    CHECK(findings_text(inspected(m)) == "4 open_edges; 1 holes; ");
}

TEST_CASE("holes that touch in a point are told apart") {
    Mesh m = make_icosphere({0, 0, 0}, 1, 1);
    // Two faces with one corner in common.
    const Triangle first = m.faces[FaceId(0)];
    for (FaceId f : ids<FaceId>(m.faces.size())) {
        int common = 0;
        for (VertexId v : m.faces[f]) common += v == first[0] || v == first[1] || v == first[2];
        if (common != 1) continue;
        m.faces.raw().erase(m.faces.begin() + f.value());
        m.faces.raw().erase(m.faces.begin());
        break;
    }
    const Inspection i = inspected(m);
    CHECK(i.count(K::open_edges) == 6);
    CHECK(i.count(K::holes) == 2);
}

TEST_CASE("a fin makes a non-manifold edge") {
    const Inspection i = inspected(with_face(box, {0, 0, 2}, {2, 0, 2}, {1, 0, 4}));
    CHECK(i.count(K::nonmanifold_edges) == 1);
    CHECK(i.count(K::open_edges) == 2);
}

TEST_CASE("two bodies that share a corner make a non-manifold point") {
    Mesh m = box;
    append(m, moved(box, {2, 2, 2}));
    CHECK(findings_text(inspected(m)) == "1 nonmanifold_vertices; 1 touching_bodies; ");
}

TEST_CASE("a turned face makes three misoriented edges") {
    Mesh m = box;
    std::swap(m.faces[FaceId(3)][0], m.faces[FaceId(3)][1]);
    CHECK(inspected(m).count(K::misoriented_edges) == 3);
}

TEST_CASE("degenerate faces and edges of no length") {
    const Inspection line = inspected(with_face(box, {5, 0, 0}, {6, 0, 0}, {8, 0, 0}));
    CHECK(line.count(K::degenerate_faces) == 1);
    CHECK(line.count(K::self_intersections) == 0);
    CHECK(inspected(with_face(box, {5, 0, 0}, {6, 0, 0}, {5, 0, 0})).count(K::zero_length_edges) == 1);
    CHECK(inspected(with_face(box, {5, 0, 0}, {5, 0, 0}, {5, 0, 0})).count(K::zero_length_edges) == 3);
    // In line to within a thousandth is not in line.
    CHECK(inspected(with_face(box, {5, 0, 0}, {6, 0, 1e-300}, {8, 0, 0})).count(K::degenerate_faces) == 0);
}

TEST_CASE("doubled faces, wound alike or against") {
    for (const bool turn : {false, true}) {
        Mesh m = box;
        Triangle twin = m.faces[FaceId(5)];
        if (turn) std::swap(twin[0], twin[1]);
        m.faces.push_back(twin);
        const Inspection i = inspected(m);
        CHECK(i.count(K::duplicate_faces) == 1);
        CHECK(i.count(K::nonmanifold_edges) == 3);
        CHECK(i.count(K::self_intersections) == 1);
    }
}

TEST_CASE("crossing bodies: pairs of faces, and their places are where they cross") {
    Mesh m = box;
    append(m, moved(box, {1, 1, 1}));
    const Inspection i = inspected(m);
    CHECK(i.count(K::self_intersections) > 0);
    CHECK(i.count(K::open_edges) == 0);
    for (const Finding& f : i.findings) {
        REQUIRE(f.kind == K::self_intersections);
        REQUIRE(f.faces.size() == 2);
        for (int k = 0; k < 3; ++k) CHECK((f.place[k] >= 0 && f.place[k] <= 3));
    }
}

TEST_CASE("a point on an open edge that it is not joined to is a T-junction") {
    Mesh m;
    auto p = [&](double x, double y) { return m.points.push_back({x, y, 0}); };
    const VertexId a = p(0, 0), b = p(4, 0), c = p(2, 3), d = p(2, 0), e = p(2, -3);
    m.faces.push_back({a, b, c});
    m.faces.push_back({a, e, d});
    m.faces.push_back({d, e, b});
    CHECK(inspected(m).count(K::t_junctions) == 1);
}

TEST_CASE("shells inside out, cavities, and faces inside the solid") {
    Mesh out = box;
    turn_over(out);
    CHECK(findings_text(inspected(out)) == "1 inverted_shells; ");
    Mesh cavity = make_box({-1, -1, -1}, {3, 3, 3});
    append(cavity, out);
    CHECK(findings_text(inspected(cavity)) == "none");
    Mesh inner = make_box({-1, -1, -1}, {3, 3, 3});
    append(inner, box);
    CHECK(findings_text(inspected(inner)) == "12 interior_faces; ");
    Mesh two = cavity;  // a body in the cavity is sound again
    append(two, make_box({0.5, 0.5, 0.5}, {1.5, 1.5, 1.5}));
    CHECK(findings_text(inspected(two)) == "none");
}

TEST_CASE("the demo's scanned bracket has what its story tells") {
    const Inspection i = inspected(demo::scanned_bracket());
    for (K kind : {K::open_edges, K::holes, K::nonmanifold_edges, K::misoriented_edges, K::degenerate_faces,
                   K::duplicate_faces, K::self_intersections})
        CHECK(i.count(kind) > 0);
    CHECK(!i.print_ready);
}

TEST_CASE("comparing: a moved body is as far as it was moved") {
    Progress progress;
    const auto same = compare(box, box, 0.1, progress);
    REQUIRE(same);
    CHECK(same->hausdorff() == Approx(0).margin(1e-12));
    const auto c = compare(box, moved(box, {0.25, 0, 0}), 0.1, progress);
    REQUIRE(c);
    CHECK(c->hausdorff() == Approx(0.25));
    CHECK(c->mean_a_to_b > 0);
    CHECK(c->b.volume - c->a.volume == Approx(0).margin(1e-12));
    // One-sided: a small body lies within a large one's reach, not the other way round.
    const auto d = compare(make_box({0, 0, 0}, {1, 1, 1}), make_box({0, 0, 0}, {10, 1, 1}), 0.1, progress);
    REQUIRE(d);
    CHECK(d->a_to_b < 1);
    CHECK(d->b_to_a == Approx(9));
    const auto nothing = compare(box, Mesh{}, 0, progress);
    REQUIRE(nothing);
    CHECK(std::isinf(nothing->hausdorff()));
}

TEST_CASE("inspection can be stopped") {
    Progress progress;
    progress.cancel();
    const auto result = inspect(box, progress);
    REQUIRE(!result.ok());
    CHECK(result.error().is_cancel());
}

TEST_CASE("pieces are judged each by itself: a common wall is no finding, a hole in one is") {
    Mesh open = make_box({1, 0, 0}, {2, 1, 1});
    open.faces.raw().pop_back();
    const Mesh sound = make_box({0, 0, 0}, {1, 1, 1});
    const Inspection good = joined({inspected(sound), inspected(make_box({1, 0, 0}, {2, 1, 1}))});
    CHECK(good.print_ready);
    CHECK(good.measures.volume == Approx(2));
    CHECK(good.measures.shells == 2);
    const Inspection bad = joined({inspected(sound), inspected(open)});
    CHECK(!bad.print_ready);
    CHECK(!bad.closed);
    CHECK(bad.count(FindingKind::open_edges) == 3);
    for (const Finding& f : bad.findings)
        for (VertexId v : f.vertices) CHECK(bad.mesh.points[v].x >= 1);
}

namespace {
Inspection looked_for_thin(const Mesh& mesh, double below) {
    Progress progress;
    auto result = inspect(mesh, progress, {below});
    REQUIRE(result);
    return std::move(*result);
}
}  // namespace

TEST_CASE("thin skins: a pocket that stops short, with its thickness, extent and place, is a caution") {
    const Mesh block = make_box({0, 0, 0}, {20, 20, 10});
    Mesh pocket = make_box({5, 5, 0.08}, {15, 13, 12});
    const Combined result = combined(Operation::difference, {block, pocket});
    const Inspection i = looked_for_thin(result.mesh, 0.2);
    REQUIRE(i.count(FindingKind::thin_skins) == 1);
    const Finding& skin = i.findings.back();
    CHECK(skin.thickness == Approx(0.08));
    CHECK(skin.area == Approx(80));
    CHECK(skin.place.z == Approx(0.04));
    CHECK(skin.place.x > 5);
    CHECK(skin.place.x < 15);
    CHECK(i.print_ready);
    CHECK(looked_for_thin(result.mesh, 0.07).count(FindingKind::thin_skins) == 0);
    CHECK(inspected(result.mesh).count(FindingKind::thin_skins) == 0);
}

TEST_CASE("thin skins: two places are two skins; gaps and sound walls are none; slanted ones in part") {
    const Mesh block = make_box({0, 0, 0}, {40, 20, 10});
    const Mesh pockets[] = {make_box({5, 5, 0.1}, {10, 10, 12}), make_box({20, 5, 0.15}, {25, 10, 12})};
    const Combined two = combined(Operation::difference, {block, pockets[0], pockets[1]});
    CHECK(looked_for_thin(two.mesh, 0.2).count(FindingKind::thin_skins) == 2);
    // A gap of 0.1 mm is no skin: there is no material between the walls.
    const Combined gap = combined(Operation::difference, {block, make_box({20, -1, -1}, {20.1, 21, 11})});
    CHECK(looked_for_thin(gap.mesh, 0.2).count(FindingKind::thin_skins) == 0);
    CHECK(looked_for_thin(block, 9.9).count(FindingKind::thin_skins) == 0);
    CHECK(looked_for_thin(block, 10.1).count(FindingKind::thin_skins) > 0);
    // A floor that rises by one in ten: thinner than 0.2 over the first two millimetres only.
    Mesh wedge = make_box({5, 5, 0}, {15, 15, 12});
    for (Vec3& p : wedge.points)
        if (p.z == 0) p.z = 0.02 + 0.1 * (p.x - 5);
    const Inspection slanted = looked_for_thin(combined(Operation::difference, {block, wedge}).mesh, 0.2);
    REQUIRE(slanted.count(FindingKind::thin_skins) == 1);
    CHECK(slanted.findings.back().area == Approx(1.8 * 10).epsilon(0.01));
    CHECK(slanted.findings.back().thickness == Approx(0.02));
}

TEST_CASE("no skin or gap is thinner than nothing") {
    // Where sides meet, the least thickness was a rounding under zero, and was told as "-8.08e-28 mm".
    const Mesh ball = make_icosphere({0, 0, 0}, 10, 2);
    Progress progress;
    for (const double by : {1e-1, 1e-3, 1e-5, 1e-7}) {
        const Mesh other = turned(ball, by, {0.36, 0.48, 0.8});
        const Mesh* operands[] = {&ball, &other};
        const auto pieces = combine(Operation::inlay, operands, progress);  // they touch all over
        REQUIRE(pieces);
        const auto inspection = inspect(pieces->mesh, progress, {.thin_below = 0.2, .gap_below = 0.2});
        REQUIRE(inspection);
        double least = 0;
        for (const Finding& finding : inspection->findings) least = std::min(least, finding.thickness);
        CHECK(least == 0);
    }
}
