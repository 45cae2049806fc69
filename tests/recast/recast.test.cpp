// A region put anew: what comes out flat, sharp, closed; how near it is; and what stays as it was.
#include <algorithm>

#include "core/mesh/edge_uses.h"
#include "core/recast/recast_region.h"
#include "core/recast/solid_field.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Lattice lattice_round(const Box& box, int cells) {
    Lattice out;
    const Vec3 size = box.size();
    out.cell = std::max({size.x, size.y, size.z}) / cells;
    for (int k = 0; k < 3; ++k)
        out.size[static_cast<std::size_t>(k)] = static_cast<int>(std::ceil(size[k] / out.cell)) + 6;
    out.origin = box.low - Vec3{2.31, 2.17, 2.43} * out.cell;
    return out;
}
Mesh contoured(const Mesh& mesh, int cells) {
    Progress progress;
    const SolidField field(mesh, progress);
    auto out = contour(field, lattice_round(bounds(mesh), cells), progress);
    REQUIRE(out);
    return std::move(*out);
}
RecastRegion recast(const Mesh& mesh, const Box& region, double cell = 0) {
    Progress progress;
    auto out = recast_region(mesh, {.region = region, .cell = cell}, progress);
    INFO((out ? "" : out.error().sentence()));
    REQUIRE(out);
    return std::move(*out);
}
Box box_of(const Vec3& low, const Vec3& high) {
    Box b;
    b.add(low);
    b.add(high);
    return b;
}
/// A surface half-way between inner and outer points, and of nothing else.
struct HalfWay : ContourSource {
    SurfacePassage passage(const Vec3& inner, const Vec3& outer) const override {
        const Vec3 place = (inner + outer) * 0.5;
        return {place, normalized(outer - inner), place};
    }
    std::vector<SurfacePassage> planes_in(const Box&) const override { return {}; }
    double distance(const Vec3&) const override { return 0; }
};
/// Edges that are not run along as often one way as the other.
std::size_t unbalanced(const Mesh& mesh) {
    std::map<std::pair<VertexId, VertexId>, int> balance;
    for (const Triangle& t : mesh.faces)
        for (std::size_t k = 0; k < 3; ++k) {
            const VertexId a = t[k], b = t[(k + 1) % 3];
            balance[std::minmax(a, b)] += a < b ? 1 : -1;
        }
    return static_cast<std::size_t>(std::ranges::count_if(balance, [](const auto& e) { return e.second != 0; }));
}

}  // namespace

TEST_CASE("a turned box comes out with all its corners, nearly all faces exactly on its walls and edges, and sound") {
    const Mesh box = turned(make_box({0, 0, 0}, {10, 7, 5}), 0.4, {1, 2, 3});
    const Mesh again = contoured(box, 24);
    for (const Vec3& corner : box.points) {
        double nearest = HUGE_VAL;
        for (const Vec3& p : again.points) nearest = std::min(nearest, norm(p - corner));
        CHECK(nearest < 1e-9);
    }
    const NearestFace walls(box);
    std::size_t off = 0;
    for (const FaceId f : ids<FaceId>(again.faces.size()))
        off += walls.distance((again.corner(f, 0) + again.corner(f, 1) + again.corner(f, 2)) * (1.0 / 3)) > 1e-9;
    CHECK(off < again.faces.size() / 50);
    // Where corners reach into the next cell faces fold over each other; the arrangement takes that out.
    const RecastRegion sound = recast(box, bounds(box), 0.5);
    CHECK(findings_text(inspected(sound.mesh)) == "none");
    CHECK(signed_volume(sound.mesh) == Approx(350).epsilon(1e-3));
    CHECK(surface_area(sound.mesh) == Approx(2 * (70 + 35 + 50)).epsilon(2e-3));
    CHECK(sound.deviation < 0.25);
}

TEST_CASE("a sphere comes out nearer with the square of the cells") {
    const Mesh sphere = make_icosphere({0, 0, 0}, 10, 5);
    const double volume = signed_volume(sphere);
    double before = 0;
    for (const int cells : {10, 20, 40}) {
        const Mesh again = contoured(sphere, cells);
        CHECK(findings_text(inspected(again)) == "none");
        CHECK(euler_characteristic(again) == 2);
        const double off = std::fabs(signed_volume(again) / volume - 1);
        CHECK(off < 1.0 / (cells * cells));
        if (before > 0) CHECK(off < before / 2.5);
        before = off;
    }
}

TEST_CASE("whatever signs the points of a lattice have, the surface between them closes") {
    std::mt19937 random(20261125);
    for (int round = 0; round < 200; ++round) {
        const Lattice lattice{{0, 0, 0}, 1, {6, 5, 7}};
        std::vector<char> inside(lattice.count(), 0);
        double volume = 0;
        for (std::size_t n = 0; n < inside.size(); ++n)
            if (!lattice.on_rim(lattice.at(n))) volume += inside[n] = random() % 3 == 0;
        Progress progress;
        const auto mesh = dual_contour(lattice, inside, HalfWay(), progress);
        REQUIRE(mesh);
        CHECK(unbalanced(*mesh) == 0);
        if (volume > 0) CHECK(signed_volume(*mesh) > 0);
        // A point inside is wound around once, one outside not at all.
        for (std::size_t n = 0; n < inside.size(); n += 7)
            if (inside[n]) CHECK(winding_number(*mesh, lattice.point(lattice.at(n))) == Approx(1).margin(0.01));
    }
}

TEST_CASE("what is put anew lies in the region; outside of it every face stays bit for bit") {
    Mesh part = make_icosphere({0, 0, 0}, 20, 4);
    const Box region = box_of({10, -5, -5}, {21, 5, 5});
    const RecastRegion out = recast(part, region, 0.5);
    CHECK(findings_text(inspected(out.mesh)) == "none");
    CHECK(signed_volume(out.mesh) == Approx(signed_volume(part)).epsilon(1e-4));
    CHECK(out.cell == 0.5);
    CHECK(out.rebuilt > 500);
    CHECK(out.deviation < 0.05);
    CHECK(out.region.low.x < 10 - 2 * 0.5);
    CHECK(out.region.high.x < 21 + 6 * 0.5);
    const auto now = corner_sets(out.mesh);
    std::size_t kept = 0;
    for (const FaceId f : ids<FaceId>(part.faces.size())) {
        Box box;
        for (int k = 0; k < 3; ++k) box.add(part.corner(f, k));
        if (box.meets(out.region)) continue;
        ++kept;
        CHECK(now.contains(corner_set(part, f)));
    }
    CHECK(kept > 4000);
}

TEST_CASE("crossing shells, a hole and a doubled face in the region become one clean surface") {
    // Two boxes through each other, with part of a wall missing near the crossing.
    Mesh mess = make_box({0, 0, 0}, {20, 20, 20});
    append(mess, turned(make_box({12, 5, 5}, {30, 15, 15}), 0.1, {0, 0, 1}));
    mess.faces.push_back(mess.faces[FaceId(13)]);
    const Mesh boxes[] = {make_box({0, 0, 0}, {20, 20, 20}),
                          turned(make_box({12, 5, 5}, {30, 15, 15}), 0.1, {0, 0, 1})};
    const double united = signed_volume(combined(Operation::union_of, {boxes[0], boxes[1]}).mesh);
    const Box all = box_of({-1, -1, -1}, {32, 21, 21});
    const RecastRegion out = recast(mess, all, 0.6);
    CHECK(findings_text(inspected(out.mesh)) == "none");
    CHECK(out.mesh.faces.size() == out.rebuilt);
    CHECK(signed_volume(out.mesh) == Approx(united).epsilon(2e-3));
    CHECK(inspected(out.mesh).measures.shells == 1);
}

TEST_CASE("a hole outside of the region stays open, one inside is closed") {
    Mesh open = make_icosphere({0, 0, 0}, 10, 3);
    auto cut = [&](const Vec3& at) {
        std::erase_if(open.faces.raw(), [&](const Triangle& t) {
            return std::ranges::any_of(t, [&](VertexId v) { return norm(open.points[v] - at) < 1e-9; });
        });
    };
    const Vec3 here = open.points[VertexId(0)], there = here * -1.0;
    cut(here);
    cut(there);
    const Inspection before = inspected(open);
    REQUIRE(before.count(FindingKind::holes) == 2);
    const RecastRegion out = recast(open, box_of(here - Vec3{3, 3, 3}, here + Vec3{3, 3, 3}));
    const Inspection after = inspected(out.mesh);
    CHECK(after.count(FindingKind::holes) == 1);
    CHECK(after.fault_kinds() == 2);  // open edges and the hole
    const auto hole = std::ranges::find(after.findings, FindingKind::holes, &Finding::kind);
    CHECK(norm(hole->place - there) < 3);
}

TEST_CASE("materials: what is put anew is of what was nearest") {
    Mesh part = make_box({0, 0, 0}, {20, 20, 20});
    part.materials = {{"top", {{1, 2, 3}}}, {"rest", {{4, 5, 6}}}};
    for (const FaceId f : ids<FaceId>(part.faces.size()))
        part.material.push_back(
            part.corner(f, 0).z == 20 && part.corner(f, 1).z == 20 && part.corner(f, 2).z == 20 ? 0u : 1u);
    const RecastRegion out = recast(part, box_of({-1, -1, 15}, {6, 6, 21}), 0.7);
    for (const FaceId f : ids<FaceId>(out.mesh.faces.size())) {
        const Vec3 n = normalized(
            cross(out.mesh.corner(f, 1) - out.mesh.corner(f, 0), out.mesh.corner(f, 2) - out.mesh.corner(f, 0)));
        const bool top = n.z > 0.7 && out.mesh.corner(f, 0).z > 19.9;
        REQUIRE(out.mesh.material_of(f) != no_material);
        CHECK((out.mesh.materials[out.mesh.material_of(f)].name == "top") == top);
    }
}

TEST_CASE("a region where nothing is takes nothing and puts nothing; one within the solid leaves it") {
    const Mesh part = make_box({0, 0, 0}, {20, 20, 20});
    CHECK(corner_sets(recast(part, box_of({40, 40, 40}, {50, 50, 50})).mesh) == corner_sets(part));
    const RecastRegion within = recast(part, box_of({8, 8, 8}, {12, 12, 12}), 1);
    CHECK(corner_sets(within.mesh) == corner_sets(part));
}

TEST_CASE("what cannot be put anew is refused with a reason: sheets, regions of too many cells; stops stop") {
    Progress progress;
    const auto sheet =
        recast_region(make_plate({0, 0, 0}, 10, 10), {.region = box_of({0, 0, -1}, {1, 1, 1})}, progress);
    REQUIRE(!sheet);
    CHECK(sheet.error().code == ErrorCode::open_operand);
    const Mesh box = make_box({0, 0, 0}, {10, 10, 10});
    const auto fine = recast_region(box, {.region = box_of({0, 0, 0}, {10, 1, 1}), .cell = 0.01}, progress);
    REQUIRE(!fine);
    CHECK(fine.error().code == ErrorCode::out_of_range);
    const auto point = recast_region(box, {.region = box_of({1, 1, 1}, {1, 1, 1})}, progress);
    REQUIRE(!point);
    CHECK(point.error().code == ErrorCode::out_of_range);
    progress.cancel();
    const auto stopped = recast_region(box, {.region = box_of({0, 0, 0}, {10, 1, 1})}, progress);
    REQUIRE(!stopped);
    CHECK(stopped.error().is_cancel());
}
