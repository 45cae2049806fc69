// Repairs that are limited to chosen places: what lies elsewhere stays bit for bit as it was.
#include "core/mend/mend.h"
#include "tests/support/mending.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Mends one finding, and checks that there is one less of its kind.
Mended mend_one(const Mesh& mesh, FindingKind kind, std::size_t which) {
    const Inspection before = inspected(mesh);
    std::vector<const Finding*> of_kind;
    for (const Finding& f : before.findings)
        if (f.kind == kind) of_kind.push_back(&f);
    REQUIRE(of_kind.size() > which);
    Progress progress;
    auto out = mend(mesh, repairs_for(kind), {.places = places_of(*of_kind[which], before.mesh)}, progress);
    REQUIRE(out);
    return std::move(*out);
}
Mesh two_bodies() {
    Mesh m = make_icosphere({0, 0, 0}, 10, 2);
    append(m, make_icosphere({40, 0, 0}, 10, 2));
    return m;
}

}  // namespace

TEST_CASE("one of two holes is filled, the other stays") {
    Mesh m = two_bodies();
    drop_face(m, 400);
    drop_face(m, 10);
    for (const std::size_t which : {0, 1}) {
        const Mended done = mend_one(m, FindingKind::holes, which);
        CHECK(done.after.count(FindingKind::holes) == 1);
        CHECK(done.mesh.faces.size() == m.faces.size() + 1);
        CHECK(done.largest_move == 0);
    }
    // An edge of a hole is enough to choose it.
    CHECK(mend_one(m, FindingKind::open_edges, 4).after.count(FindingKind::open_edges) == 3);
}

TEST_CASE("holes that touch in a point are filled one by one") {
    Mesh m = make_icosphere({0, 0, 0}, 10, 2);
    const VertexId v = m.faces[FaceId(0)][0];
    std::vector<std::size_t> round;  // the faces round a point; every other one of two goes
    for (std::size_t f = 0; f < m.faces.size(); ++f)
        if (std::ranges::find(m.faces[FaceId(f)], v) != m.faces[FaceId(f)].end()) round.push_back(f);
    auto share_edge = [&](std::size_t f, std::size_t g) {
        int common = 0;
        for (const VertexId p : m.faces[FaceId(f)]) common += std::ranges::count(m.faces[FaceId(g)], p) > 0;
        return common == 2;
    };
    std::size_t other = 0;
    for (const std::size_t f : round)
        if (f != round[0] && !share_edge(f, round[0])) other = f;
    REQUIRE(other != 0);
    drop_face(m, other);
    drop_face(m, round[0]);
    REQUIRE(inspected(m).count(FindingKind::holes) == 2);
    CHECK(mend_one(m, FindingKind::holes, 0).after.count(FindingKind::holes) == 1);
    CHECK(mend_one(m, FindingKind::holes, 1).after.count(FindingKind::holes) == 1);
}

TEST_CASE("one doubled face goes, the other stays; the same of faces without area and of fins") {
    Mesh m = two_bodies();
    m.faces.push_back(m.faces[FaceId(5)]);
    m.faces.push_back(m.faces[FaceId(500)]);
    CHECK(mend_one(m, FindingKind::duplicate_faces, 0).after.count(FindingKind::duplicate_faces) == 1);

    Mesh flat = two_bodies();
    for (const std::size_t f : {7, 450}) {
        const Triangle t = flat.faces[FaceId(f)];
        flat.faces.push_back({t[0], t[1], t[0]});
    }
    REQUIRE(inspected(flat).count(FindingKind::zero_length_edges) == 2);
    CHECK(mend_one(flat, FindingKind::zero_length_edges, 1).after.count(FindingKind::zero_length_edges) == 1);

    Mesh fins = two_bodies();
    for (const std::size_t f : {3, 480}) {
        const Triangle t = fins.faces[FaceId(f)];
        const VertexId out = fins.points.push_back(fins.points[t[0]] + Vec3{0, 0, 30});
        fins.faces.push_back({t[0], t[1], out});
    }
    const Inspection before = inspected(fins);
    REQUIRE(before.count(FindingKind::nonmanifold_edges) == 2);
    const Mended done = mend_one(fins, FindingKind::nonmanifold_edges, 0);
    CHECK(done.after.count(FindingKind::nonmanifold_edges) == 1);
    CHECK(done.mesh.faces.size() == fins.faces.size() - 1);
}

TEST_CASE("one body is turned, or freed of its crossing, and the other is as it was") {
    Mesh m = two_bodies();
    std::swap(m.faces[FaceId(20)][0], m.faces[FaceId(20)][1]);
    std::swap(m.faces[FaceId(520)][0], m.faces[FaceId(520)][1]);
    const Mended turned = mend_one(m, FindingKind::misoriented_edges, 0);
    CHECK(turned.after.count(FindingKind::misoriented_edges) == 3);

    Mesh pairs = make_box({0, 0, 0}, {4, 4, 4});
    append(pairs, make_box({2, 1, 1}, {6, 3, 3}));
    Mesh far = make_box({20, 0, 0}, {24, 4, 4});
    append(far, make_box({22, 1, 1}, {26, 3, 3}));
    append(pairs, far);
    // Only the bodies that hold the chosen faces are resolved: one of a pair alone has no crossing.
    const Mended done = mend_one(pairs, FindingKind::self_intersections, 0);
    CHECK(done.after.count(FindingKind::self_intersections) * 2 == done.before.count(FindingKind::self_intersections));
    CHECK(signed_volume(done.mesh) == Approx(64 + 8 + 64 + 16));
}

TEST_CASE("of points to weld only the chosen ones go") {
    Mesh m = make_box({0, 0, 0}, {4, 4, 4});
    append(m, make_box({4 + 1e-3, 0, 0}, {8, 4, 4}));
    append(m, make_box({0, 20, 0}, {4, 24, 4}));
    append(m, make_box({4 + 1e-3, 20, 0}, {8, 24, 4}));
    Progress progress;
    Mesh own = m;
    const MendOptions near_first{.weld_distance = 1e-2, .places = {{4, 0, 0}, {4, 4, 0}, {4, 0, 4}, {4, 4, 4}}};
    const auto done = weld_near(own, near_first, progress);
    REQUIRE(done);
    CHECK(done->changed == 4);
    CHECK(own.points.size() == 32 - 4);
}

TEST_CASE("every kind that has a repair is made less by it, or explained") {
    for (int k = 0; k < finding_kinds; ++k)
        for (const Repair r : repairs_for(static_cast<FindingKind>(k)))
            CHECK(std::ranges::find(whole_plan(), r) != whole_plan().end());
    CHECK(repairs_for(FindingKind::thin_skins).empty());
}
