// Each repair on a body that has its kind of defect and no other: what it changed, how far the surface moved, and that
// the body is what it was. Facts marked (common practice) are the trade's.
#include "core/combine/rounding.h"
#include "core/mend/mend.h"
#include "tests/support/mending.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Mesh ball() { return make_icosphere({1, 2, 3}, 10, 3); }

const Repaired& of(const Mended& m, Repair repair) {
    const auto at = std::ranges::find(m.repairs, repair, &Repaired::repair);
    REQUIRE(at != m.repairs.end());
    return *at;
}
/// Sound as a whole, and of the given volume.
void check_sound(const Mended& m, double volume, double epsilon = 1e-12) {
    INFO(findings_text(m.after));
    INFO(m.remains());
    CHECK(m.after.print_ready);
    CHECK(m.remains().empty());
    CHECK(signed_volume(m.mesh) == Approx(volume).epsilon(epsilon));
}

}  // namespace

TEST_CASE("a sound body is left bit for bit as it is") {
    const Mesh sound = ball();
    const Mended m = mended(sound);
    CHECK(m.mesh == sound);
    CHECK(m.repairs.empty());
    CHECK(m.after.print_ready);
}

TEST_CASE("words of repairs are told apart, and lead back") {
    CHECK(whole_plan().size() == repair_kinds);
    for (const Repair r : whole_plan()) {
        CHECK(repair_from(word(r)) == r);
        CHECK(!sentence(r).empty());
    }
    CHECK(!repair_from("no such repair"));
}

TEST_CASE("weld: near points become one, and the count before says how many") {
    Mesh soup;  // each face with points of its own, 1e-4 mm apart at most
    std::mt19937 random(5);
    std::uniform_real_distribution<double> shake(-2e-5, 2e-5);
    const Mesh whole = ball();
    for (const Triangle& t : whole.faces) {
        Triangle own;
        for (std::size_t k = 0; k < 3; ++k)
            own[k] = soup.points.push_back(whole.points[t[k]] + Vec3{shake(random), shake(random), shake(random)});
        soup.faces.push_back(own);
    }
    CHECK(count_weldable(soup, 1e-4) == soup.points.size() - whole.points.size());
    CHECK(count_weldable(soup, 1e-7) == 0);
    const Mended m = mended(soup, {.weld_distance = 1e-4});
    check_sound(m, signed_volume(whole), 1e-5);
    CHECK(m.mesh.points.size() == whole.points.size());
    CHECK(of(m, Repair::weld).changed == soup.points.size() - whole.points.size());
    CHECK(of(m, Repair::weld).largest_move <= 1e-4);
}

TEST_CASE("degenerate: extruding a face by nothing leaves edges of zero length, which go (common practice)") {
    Mesh m = ball();
    const Triangle t = m.faces[FaceId(40)];
    drop_face(m, 40);
    Triangle up;
    for (std::size_t k = 0; k < 3; ++k) up[k] = m.points.push_back(m.points[t[k]]);
    m.faces.push_back(up);
    for (std::size_t k = 0; k < 3; ++k) {
        m.faces.push_back({t[k], t[(k + 1) % 3], up[(k + 1) % 3]});
        m.faces.push_back({t[k], up[(k + 1) % 3], up[k]});
    }
    const Mended done = mended(m);
    check_sound(done, signed_volume(ball()));
    CHECK(done.mesh.faces.size() == ball().faces.size());
    CHECK(of(done, Repair::degenerate).changed == 6);
    CHECK(done.largest_move == 0);
}

TEST_CASE("degenerate: a face without area between two others goes without opening the surface") {
    // The middle of an edge, kept by one side only: the other side reaches it by a flat face.
    Mesh m = make_box({0, 0, 0}, {2, 2, 2});
    const Triangle t = m.faces[FaceId(0)];
    const VertexId middle = m.points.push_back((m.points[t[0]] + m.points[t[1]]) * 0.5);
    m.faces[FaceId(0)] = {t[0], middle, t[2]};
    m.faces.push_back({middle, t[1], t[2]});
    m.faces.push_back({t[0], t[1], middle});
    REQUIRE(inspected(m).count(FindingKind::degenerate_faces) == 1);
    const Mended done = mended(m);
    check_sound(done, 8);
    CHECK(of(done, Repair::degenerate).changed == 1);
    CHECK(done.mesh.faces.size() == 14);
    CHECK(done.largest_move == 0);
}

TEST_CASE("duplicates: of equal faces one stays, faces back to back go") {
    Mesh m = ball();
    m.faces.push_back(m.faces[FaceId(7)]);
    Triangle turned = m.faces[FaceId(9)];
    std::swap(turned[0], turned[1]);
    m.faces.push_back(turned);
    m.faces.push_back(m.faces[FaceId(9)]);
    const Mended done = mended(m);
    check_sound(done, signed_volume(ball()));
    CHECK(of(done, Repair::duplicates).changed == 3);
    CHECK(done.mesh.faces.size() == ball().faces.size());
}

TEST_CASE("fins: a flap on an edge is cut off, and the body is as before") {
    Mesh m = ball();
    const Triangle t = m.faces[FaceId(3)];
    const VertexId out = m.points.push_back(m.points[t[0]] * 2 - Vec3{1, 2, 3});
    const VertexId more = m.points.push_back(m.points[t[1]] * 2 - Vec3{1, 2, 3});
    m.faces.push_back({t[0], t[1], out});
    m.faces.push_back({out, t[1], more});
    const Mended done = mended(m);
    check_sound(done, signed_volume(ball()));
    CHECK(of(done, Repair::fins).changed == 1);
    CHECK(of(done, Repair::fins).said == "1 fin of 2 faces was cut off.");
}

TEST_CASE("t-junctions and cracks: borders that lie on each other are split and joined") {
    // A box whose top is a lid of its own, finer than the walls' rim and 1e-6 mm above it.
    Mesh m = make_box({0, 0, 0}, {4, 4, 4});
    Mesh lid;
    std::vector<Triangle> rest;
    for (const FaceId f : ids<FaceId>(m.faces.size())) {
        bool top = true;
        for (int k = 0; k < 3; ++k) top = top && m.corner(f, k).z == 4;
        if (!top) rest.push_back(m.faces[f]);
    }
    m.faces.raw() = rest;
    const VertexId center = lid.points.push_back({2, 2, 4 + 1e-6});
    const Vec3 rim[] = {{0, 0, 4}, {2, 0, 4}, {4, 0, 4}, {4, 2, 4}, {4, 4, 4}, {2, 4, 4}, {0, 4, 4}, {0, 2, 4}};
    std::vector<VertexId> points;
    for (const Vec3& p : rim) points.push_back(lid.points.push_back(p + Vec3{0, 0, 1e-6}));
    for (std::size_t i = 0; i < 8; ++i) lid.faces.push_back({center, points[i], points[(i + 1) % 8]});
    append(m, lid);
    const Mended done = mended(m);
    check_sound(done, 64, 1e-6);
    CHECK(of(done, Repair::t_junctions).changed == 4);
    CHECK(of(done, Repair::borders).changed > 0);
    CHECK(done.largest_move < 1e-5);
}

TEST_CASE("orient: flipped faces and an inside-out body are turned") {
    Mesh m = ball();
    for (const std::size_t f : {1, 2, 50, 200}) std::swap(m.faces[FaceId(f)][0], m.faces[FaceId(f)][1]);
    check_sound(mended(m), signed_volume(ball()));
    CHECK(of(mended(m), Repair::orient).changed == 4);
    Mesh inside_out = ball();
    turn_over(inside_out);
    const Mended done = mended(inside_out);
    check_sound(done, signed_volume(ball()));
    CHECK(of(done, Repair::orient).said == "1 shell that was inside out was turned.");
}

TEST_CASE("holes: filled, and those longer than asked for left open") {
    Mesh m = make_box({0, 0, 0}, {8, 8, 8});
    drop_face(m, 11);
    drop_face(m, 0);
    check_sound(mended(m), 512);
    CHECK(of(mended(m), Repair::holes).changed == 2);
    const Mended left = mended(m, {.longest_hole = 20});  // each rim is 8 + 8 + 11.3 mm long
    CHECK(left.after.count(FindingKind::open_edges) == 6);
    CHECK(left.remains() == "Crossings were left alone: the surface is open. It still has 6 open edges, 2 holes.");
    CHECK(!left.after.print_ready);
}

TEST_CASE("crossings: a shell pushed into another is united with it") {
    Mesh m = make_box({0, 0, 0}, {4, 4, 4});
    append(m, make_box({2, 1, 1}, {6, 3, 3}));
    const Mended done = mended(m);
    check_sound(done, 64 + 2 * 2 * 2);
    CHECK(of(done, Repair::crossings).changed > 0);
    // A shell wholly inside is a stray inside, not a cavity: it looks outward.
    Mesh nested = make_box({0, 0, 0}, {4, 4, 4});
    append(nested, make_box({1, 1, 1}, {2, 2, 2}));
    check_sound(mended(nested), 64);
}

TEST_CASE("shells smaller than asked for go, and others stay") {
    Mesh m = make_box({0, 0, 0}, {4, 4, 4});
    append(m, make_box({9, 0, 0}, {9.1, 0.1, 0.1}));
    drop_face(m, 0);  // something to mend
    check_sound(mended(m), 64 + 0.001);
    check_sound(mended(m, {.smallest_shell = 0.01}), 64);
}

TEST_CASE("a sheet is told to be one, and becomes a solid by a thickness") {
    // A flat plate of 10 x 6 mm.
    Mesh sheet;
    for (const Vec3& p : {Vec3{0, 0, 0}, {10, 0, 0}, {10, 6, 0}, {0, 6, 0}}) sheet.points.push_back(p);
    sheet.faces.push_back({VertexId(0), VertexId(1), VertexId(2)});
    sheet.faces.push_back({VertexId(0), VertexId(2), VertexId(3)});
    const Mended open = mended(sheet);
    CHECK(open.sheet);
    CHECK(open.remains() == "It is flat, and encloses nothing; give it a thickness to print it.");
    check_sound(mended(sheet, {.sheets = SheetRule::thicken, .thickness = 0.5}), 10 * 6 * 0.5);
}

TEST_CASE("a repair by itself leaves what is not its matter") {
    Mesh m = ball();
    m.faces.push_back(m.faces[FaceId(7)]);
    drop_face(m, 100);
    const Repair only[] = {Repair::duplicates};
    const Mended done = mended(m, {}, only);
    CHECK(done.repairs.size() == 1);
    CHECK(done.after.count(FindingKind::duplicate_faces) == 0);
    CHECK(done.after.count(FindingKind::open_edges) == 3);
}

TEST_CASE("materials stay with their faces") {
    Mesh m = ball();
    m.materials = {{"shell", {}}, {"cap", {}}};
    for (std::size_t f = 0; f < m.faces.size(); ++f) m.material.push_back(f < 600 ? 0 : 1);
    m.faces.push_back(m.faces[FaceId(7)]);
    m.material.push_back(0);
    const Mended done = mended(m);
    REQUIRE(done.mesh.material.size() == done.mesh.faces.size());
    CHECK(std::ranges::count(done.mesh.material, 1u) == static_cast<long>(ball().faces.size()) - 600);
}

TEST_CASE("stopped, mending gives cancelled and nothing else") {
    Mesh m = ball();
    drop_face(m, 3);
    Progress progress;
    progress.cancel();
    const auto out = mend(m, whole_plan(), {}, progress);
    REQUIRE(!out);
    CHECK(out.error().is_cancel());
}

TEST_CASE("a body so far off that a file's numbers do not hold it is told so, whatever else is wrong") {
    // Its corners fall together; "The faces enclose nothing" was all that was said.
    const Mesh far_off = moved(make_box({0, 0, 0}, {1, 1, 1}), {3e8, 3e8, 3e8});
    Progress progress;
    const auto mended = mend(far_off, whole_plan(), {.precision = Precision::single_precision}, progress);
    REQUIRE(mended);
    CHECK(!mended->after.print_ready);
    CHECK(mended->remains().starts_with("It lies so far from the origin"));
    CHECK(mended->remains().find("steps of 32 mm") != std::string::npos);  // IEEE 754
    const auto held = mend(far_off, whole_plan(), {.precision = Precision::double_precision}, progress);
    REQUIRE(held);
    CHECK(held->remains().empty());

    const Mesh* operands[] = {&far_off, &far_off};
    const auto both = combine(Operation::union_of, operands, progress, {.precision = Precision::single_precision});
    REQUIRE(both);
    CHECK(both->empty);
    CHECK(both->reason == mended->remains());
    const Vec3 same[] = {{1, 2, 3}, {1, 2, 3}};  // no size at all is another matter
    CHECK(too_far_off(same, Precision::single_precision).empty());
    CHECK(too_far_off({}, Precision::single_precision).empty());
}
