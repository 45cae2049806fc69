// The kinds that go by a size, and those that explain others: made on purpose, counted by hand.
#include "core/inspect/accepted.h"
#include "core/inspect/deviation.h"
#include "core/inspect/finding_lines.h"
#include "core/io/mesh_file.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;
using K = FindingKind;

namespace {

Inspection looked(const Mesh& mesh, const InspectOptions& options) {
    Progress progress;
    auto out = inspect(mesh, progress, options);
    REQUIRE(out);
    return std::move(*out);
}
const Finding& first_of(const Inspection& i, K kind) {
    const auto at = std::ranges::find(i.findings, kind, &Finding::kind);
    REQUIRE(at != i.findings.end());
    return *at;
}
const Mesh block = make_box({0, 0, 0}, {10, 10, 10});

/// The same faces, each with points of its own.
Mesh apart(const Mesh& mesh) {
    Mesh soup;
    for (const Triangle& t : mesh.faces) {
        Triangle own;
        for (std::size_t k = 0; k < 3; ++k) own[k] = soup.points.push_back(mesh.points[t[k]]);
        soup.faces.push_back(own);
    }
    return soup;
}

}  // namespace

TEST_CASE("words of kinds are told apart, and each has a severity; only faults keep from print-ready") {
    std::vector<std::string_view> words;
    for (int k = 0; k < finding_kinds; ++k) words.push_back(word(static_cast<K>(k)));
    std::ranges::sort(words);
    CHECK(std::ranges::adjacent_find(words) == words.end());
    CHECK(severity(K::open_edges) == Severity::fault);
    CHECK(severity(K::thin_skins) == Severity::caution);
    CHECK(severity(K::short_edges) == Severity::note);
    CHECK(is_cheap(K::holes));
    CHECK(!is_cheap(K::self_intersections));
}

TEST_CASE("short edges: those under the length, not those of none") {
    Mesh m = make_icosphere({0, 0, 0}, 10, 1);
    const Inspection i = looked(m, {.short_below = 5.5});
    std::size_t by_hand = 0;  // each edge is in two faces
    for (const Triangle& t : m.faces)
        for (std::size_t k = 0; k < 3; ++k) by_hand += norm(m.points[t[(k + 1) % 3]] - m.points[t[k]]) < 5.5;
    REQUIRE(by_hand > 0);
    REQUIRE(by_hand < 3 * m.faces.size());
    CHECK(i.count(K::short_edges) == by_hand / 2);
    CHECK(i.print_ready);
    m.faces.push_back({m.faces[FaceId(0)][0], m.faces[FaceId(0)][1], m.faces[FaceId(0)][0]});
    CHECK(looked(m, {.short_below = 1e-3}).count(K::short_edges) == 0);
}

TEST_CASE("needles: by length over height, exactly where the ratio says") {
    Mesh m;  // 100 long, 1 high
    m.points.raw() = {{0, 0, 0}, {100, 0, 0}, {50, 1, 0}};
    m.faces.push_back({VertexId(0), VertexId(1), VertexId(2)});
    CHECK(looked(m, {.needle_above = 99.9}).count(K::needle_faces) == 1);
    CHECK(looked(m, {.needle_above = 100.1}).count(K::needle_faces) == 0);
    // An obtuse one of the same height is longer still along its longest side.
    m.points[VertexId(2)] = {120, 1, 0};
    CHECK(looked(m, {.needle_above = 119}).count(K::needle_faces) == 1);
    CHECK(looked(m, {.needle_above = 145}).count(K::needle_faces) == 0);
}

TEST_CASE("faces back to back are doubled, copies that look alike are not") {
    Mesh m = block;
    Triangle t = m.faces[FaceId(4)];
    m.faces.push_back({t[1], t[2], t[0]});
    Inspection i = inspected(m);
    CHECK(i.count(K::duplicate_faces) == 1);
    CHECK(i.count(K::doubled_faces) == 0);
    m.faces.push_back({t[2], t[1], t[0]});
    i = inspected(m);
    CHECK(i.count(K::duplicate_faces) == 2);
    CHECK(i.count(K::doubled_faces) == 1);
    // A region extruded by nothing: each of its faces lies back to back on itself (common practice).
    Mesh sheet = make_plate({0, 0, 0}, 4, 4);
    const std::size_t faces = sheet.faces.size();
    for (std::size_t f = 0; f < faces; ++f) {
        const Triangle own = sheet.faces[FaceId(f)];
        sheet.faces.push_back({own[2], own[1], own[0]});
    }
    CHECK(inspected(sheet).count(K::doubled_faces) == faces);
}

TEST_CASE("a flap is one fin with all its faces, a wall within the solid is none") {
    Mesh m = block;
    const Triangle t = m.faces[FaceId(0)];
    const VertexId a = m.points.push_back({0, 0, 20}), b = m.points.push_back({10, 0, 30});
    m.faces.push_back({t[0], t[1], a});
    m.faces.push_back({a, t[1], b});
    const Inspection i = inspected(m);
    REQUIRE(i.count(K::fins) == 1);
    CHECK(first_of(i, K::fins).faces == std::vector{FaceId(12), FaceId(13)});
    // Two boxes with a common wall: three faces at its edges, none free.
    Mesh wall = block;
    append(wall, make_box({10, 0, 0}, {20, 10, 10}));
    CHECK(inspected(wall).count(K::fins) == 0);
}

TEST_CASE("cracks: borders that lie beside each other, within the distance only; a hole's own rim is none") {
    Mesh soup = apart(block);
    CHECK(looked(soup, {.crack_below = 1e-3}).count(K::cracks) == 0);  // bit-equal: welded, no crack
    Mesh lid = block;
    std::vector<Triangle> top, rest;
    for (const Triangle& t : block.faces)
        (block.points[t[0]].z == 10 && block.points[t[1]].z == 10 && block.points[t[2]].z == 10 ? top : rest)
            .push_back(t);
    lid.faces.raw() = rest;
    Mesh cover;
    cover.points = block.points;
    cover.faces.raw() = top;
    append(lid, moved(welded(cover), {0, 0, 1e-4}));
    const Inspection i = looked(lid, {.crack_below = 1e-3});
    CHECK(i.count(K::cracks) == 8);  // four edges of the rim, four of the lid
    CHECK(looked(lid, {.crack_below = 1e-5}).count(K::cracks) == 0);
    Mesh open = block;
    open.faces.raw() = rest;
    CHECK(looked(open, {.crack_below = 1e-3}).count(K::cracks) == 0);
    CHECK(inspected(open).count(K::open_edges) == 4);
}

TEST_CASE("solid, sheet or both is said in a sentence; sheets beside a solid are stray") {
    const Inspection closed = inspected(block);
    CHECK(closed.form == Form::solid);
    CHECK(form_sentence(closed) == "A closed solid, in 1 shell.");
    Mesh open = block;
    open.faces.raw().pop_back();
    CHECK(form_sentence(inspected(open)) == "An open solid, with 1 hole.");
    const Mesh plate = make_plate({50, 0, 0}, 4, 4);
    CHECK(inspected(plate).form == Form::sheet);
    CHECK(form_sentence(inspected(plate)) == "An open sheet: it encloses nothing.");
    Mesh both = block;
    append(both, plate);
    const Inspection mixed = inspected(both);
    CHECK(mixed.form == Form::mixed);
    CHECK(form_sentence(mixed) == "Mixed: 1 solid, and 1 open sheet beside.");
    REQUIRE(mixed.count(K::stray_sheets) == 1);
    CHECK(first_of(mixed, K::stray_sheets).faces.size() == plate.faces.size());
    CHECK(inspected(plate).count(K::stray_sheets) == 0);
    CHECK(first_of(inspected(plate), K::holes).of_sheet);
    CHECK(!first_of(inspected(open), K::holes).of_sheet);
    CHECK(form_sentence(inspected(Mesh{})) == "Empty: there are no faces.");
}

TEST_CASE("bodies that share a point or an edge touch; those with a common side, or a flap, do not") {
    auto touching = [](const Mesh& m) { return inspected(m).count(K::touching_bodies); };
    Mesh point = block, edge = block, side = block;
    append(point, make_box({10, 10, 10}, {20, 20, 20}));
    append(edge, make_box({10, 10, 0}, {20, 20, 10}));
    append(side, make_box({10, 0, 0}, {20, 10, 10}));
    CHECK(touching(point) == 1);
    CHECK(touching(edge) == 1);
    CHECK(touching(side) == 0);  // they have faces in common: those are doubled
    Mesh row = edge;
    append(row, make_box({20, 20, 0}, {30, 30, 10}));
    CHECK(touching(row) == 2);
    CHECK(touching(block) == 0);
    Mesh fin = block;
    fin.faces.push_back({VertexId(0), VertexId(1), fin.points.push_back({0, 0, 40})});
    CHECK(touching(fin) == 0);
}

TEST_CASE("tiny shells: closed ones under the volume, inside out or not") {
    Mesh m = block;
    append(m, make_box({20, 0, 0}, {20.5, 0.5, 0.5}));
    Mesh inverted = make_box({30, 0, 0}, {30.5, 0.5, 0.5});
    turn_over(inverted);
    append(m, inverted);
    CHECK(looked(m, {.tiny_below = 0.126}).count(K::tiny_shells) == 2);
    CHECK(looked(m, {.tiny_below = 0.124}).count(K::tiny_shells) == 0);
    Mesh open = m;
    open.faces.raw().pop_back();
    CHECK(looked(open, {.tiny_below = 0.126}).count(K::tiny_shells) == 1);
}

TEST_CASE("narrow gaps: air between walls, with width, extent and place; skins are none") {
    Mesh two = block;
    append(two, make_box({10.05, 2, 2}, {20, 8, 8}));
    const Inspection i = looked(two, {.thin_below = 0.2, .gap_below = 0.2});
    REQUIRE(i.count(K::narrow_gaps) == 1);
    CHECK(i.count(K::thin_skins) == 0);
    const Finding& gap = first_of(i, K::narrow_gaps);
    CHECK(gap.thickness == Approx(0.05));
    CHECK(gap.area == Approx(36));
    CHECK(gap.place.x == Approx(10.025));
    CHECK(looked(two, {.gap_below = 0.04}).count(K::narrow_gaps) == 0);
    CHECK(i.print_ready);
    // A slot within one body.
    const Combined slot = combined(Operation::difference, {block, make_box({5, -1, 3}, {5.1, 11, 11})});
    CHECK(looked(slot.mesh, {.gap_below = 0.2}).count(K::narrow_gaps) == 1);
}

TEST_CASE("loose points are counted in the mesh as it came") {
    Mesh m = block;
    m.points.push_back({1, 2, 3});
    m.points.push_back({4, 5, 6});
    const Inspection i = inspected(m);
    CHECK(i.count(K::loose_points) == 2);
    CHECK(first_of(i, K::loose_points).place == Vec3{1, 2, 3});
    CHECK(i.print_ready);
    CHECK(i.mesh.points.size() == 8);
}

TEST_CASE("what is cheap is told first, and is the same then as in the end") {
    Mesh m = make_icosphere({0, 0, 0}, 10, 3);
    m.faces.raw().pop_back();
    append(m, make_box({8, -2, -2}, {14, 2, 2}));
    Progress progress;
    int times = 0;
    Inspection first;
    const auto full = inspect(m, progress, usual_options(m), [&](const Inspection& quick) {
        first = quick;
        ++times;
    });
    REQUIRE(full);
    CHECK(times == 1);
    CHECK(!first.complete);
    CHECK(full->complete);
    CHECK(first.count(K::self_intersections) == 0);
    CHECK(full->count(K::self_intersections) > 0);
    for (int k = 0; k < finding_kinds; ++k)
        if (is_cheap(static_cast<K>(k))) CHECK(first.count(static_cast<K>(k)) == full->count(static_cast<K>(k)));
}

TEST_CASE("the rim of a hole: its length and how far it is from flat") {
    const Mesh m = make_plate({0, 0, 0}, 4, 3);
    Inspection i = inspected(m);
    const Rim flat = measure_rim(i.mesh, first_of(i, K::holes).vertices);
    CHECK(flat.length == Approx(14));
    CHECK(flat.flatness == Approx(0).margin(1e-12));
    Mesh bent;  // a saddle over a square: corners up and down by one
    bent.points.raw() = {{0, 0, 1}, {2, 0, -1}, {2, 2, 1}, {0, 2, -1}};
    bent.faces.raw() = {{VertexId(0), VertexId(1), VertexId(2)}, {VertexId(0), VertexId(2), VertexId(3)}};
    i = inspected(bent);
    CHECK(measure_rim(i.mesh, first_of(i, K::holes).vertices).flatness == Approx(1));
}

TEST_CASE("lines of findings: rims close, and crossing faces are shown by the curve in which they meet") {
    Mesh open = block;
    open.faces.raw().pop_back();
    const auto rims = lines_of(inspected(open), K::holes);
    REQUIRE(rims.size() == 1);
    CHECK(rims[0].size() == 4);
    CHECK(rims[0].front() == rims[0].back());
    CHECK(lines_of(inspected(open), K::open_edges).size() == 3);
    // A cylinder's axis through a block: every piece of the curve lies on both surfaces.
    Mesh two = block;
    append(two, make_box({4, 4, -5}, {6, 6, 15}));
    const Inspection crossing = inspected(two);
    double length = 0;
    for (const auto& line : lines_of(crossing, K::self_intersections)) {
        REQUIRE(line.size() == 2);
        length += norm(line[1] - line[0]);
        for (const Vec3& p : line) {
            CHECK((p.z == Approx(0).margin(1e-12) || p.z == Approx(10)));
            CHECK((p.x == Approx(4) || p.x == Approx(6) || p.y == Approx(4) || p.y == Approx(6)));
        }
    }
    CHECK(length == Approx(2 * 8));
}

TEST_CASE("a map of distances: none where the surface stayed, the height of a dent where not") {
    Mesh dented = make_box({0, 0, 0}, {10, 10, 10});
    const Mesh lower = make_box({0, 0, 0}, {10, 10, 9});
    Progress progress;
    const auto map = map_deviation(lower, dented, progress);
    REQUIRE(map);
    CHECK(map->largest == Approx(1));
    CHECK(map->mesh.points.size() > 10'000);
    for (const VertexId v : ids<VertexId>(map->mesh.points.size())) {
        const Vec3& p = map->mesh.points[v];
        const double wall = std::min({p.x, 10 - p.x, p.y, 10 - p.y, p.z});
        REQUIRE(map->distance[v] == Approx(p.z == 9 ? std::min(1.0, wall) : 0).margin(1e-9));
    }
    Progress stopped;
    stopped.cancel();
    CHECK(!map_deviation(lower, dented, stopped));
}

TEST_CASE("every kind on real meshes: explained kinds come with what they explain") {
    for (const auto& file : real_meshes()) {
        const auto mesh = read_mesh(file);
        if (!mesh || mesh->faces.size() > 40'000) continue;
        INFO(file);
        const Inspection i = looked(*mesh, usual_options(*mesh));
        CHECK(i.count(K::doubled_faces) <= i.count(K::duplicate_faces));
        CHECK(i.count(K::cracks) <= i.count(K::open_edges));
        if (i.count(K::fins) > 0) CHECK(i.count(K::nonmanifold_edges) > 0);
        if (i.count(K::stray_sheets) > 0) CHECK(i.count(K::open_edges) > 0);
        if (i.count(K::touching_bodies) > 0)
            CHECK(i.count(K::nonmanifold_edges) + i.count(K::nonmanifold_vertices) > 0);
        CHECK((i.form == Form::solid || i.count(K::open_edges) > 0));
    }
}

TEST_CASE("accepted findings are known by kind and place; with a hole go its open edges, and no others") {
    Mesh open = block;  // two holes: a half of the bottom, a half of the top
    std::vector<Triangle> kept;
    for (FaceId f : ids<FaceId>(open.faces.size()))
        if (f.value() != 0 && f.value() != 3) kept.push_back(open.faces[f]);
    open.faces.raw() = kept;
    const Inspection i = looked(open, {});
    REQUIRE(i.count(K::holes) == 2);
    REQUIRE(i.count(K::open_edges) == 6);
    const Finding& hole = first_of(i, K::holes);
    const auto with = accepted_with(i, std::array{&hole});
    CHECK(with.size() == 4);
    const Acceptance one(i, with);
    CHECK(one.holds(hole));
    CHECK(one.count(K::holes) == 1);
    CHECK(one.count(K::open_edges) == 3);
    CHECK(one.count() == 4);
    CHECK(!one.holds_all_faults());
    std::vector<AcceptedFinding> all;
    for (const Finding& f : i.findings) all.push_back({f.kind, f.place});
    CHECK(Acceptance(i, all).holds_all_faults());
    // Whatever moves is told anew.
    const Inspection moved = looked(transformed(open, translation({1e-9, 0, 0})), {});
    CHECK(Acceptance(moved, all).count() == 0);
    CHECK(!Acceptance(moved, all).holds_all_faults());
    CHECK(Acceptance(looked(block, {}), {}).holds_all_faults());
}

TEST_CASE("each kind's word is found again") {
    for (int k = 0; k < finding_kinds; ++k) CHECK(finding_kind_from(word(static_cast<K>(k))) == static_cast<K>(k));
    CHECK(!finding_kind_from("open edges"));
}

TEST_CASE("thousands of copies of a body are counted without looking at each pair") {
    constexpr std::size_t times = 3000;  // once half a minute and more; now a tenth of a second
    Mesh many;
    for (std::size_t k = 0; k < times; ++k) append(many, block);
    Progress progress;
    const auto found = inspect(many, progress, usual_options(block));
    REQUIRE(found);
    CHECK(found->count(K::duplicate_faces) == 12 * (times - 1));
    CHECK(found->count(K::self_intersections) == 12 * times * (times - 1) / 2);
    CHECK(found->count(K::nonmanifold_edges) == 18);
    CHECK(found->count(K::thin_skins) == 0);
}
