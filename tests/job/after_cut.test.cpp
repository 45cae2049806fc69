// What is left to do after a cut: residue, flat regions, skins that a cutter has left standing.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/cut/flat_regions.h"
#include "core/io/mesh_file.h"
#include "core/job/skins_left.h"
#include "core/mesh/weld.h"
#include "core/shape/shapes.h"
#include "tests/job/cutting.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Mesh combined(Operation operation, const Mesh& a, const Mesh& b) {
    const Mesh* operands[] = {&a, &b};
    Progress progress;
    auto done = combine(operation, operands, progress);
    REQUIRE(done);
    return std::move(done->mesh);
}

/// 20 x 20 x 10 with a pocket of 8 x 8 that stops short of the underside.
Mesh with_pocket(double skin) {
    return combined(Operation::difference, make_box({0, 0, 0}, {20, 20, 10}), make_box({6, 6, skin}, {14, 14, 11}));
}

std::string said(const Evaluation& e, const std::string& step) {
    const RowOutcome* row = e.row(step);
    return row && row->treated ? row->treated->said : "";
}

std::vector<SkinLeft> skins_of(const Job& job, const Evaluation& e) {
    Progress progress;
    auto out = skins_left(job, *e.combined, *e.lineages.at(job.work()), 0.2, progress);
    REQUIRE(out);
    return std::move(*out);
}

Mesh merged(const Mesh& mesh, double within = 1e-4) {
    Progress progress;
    auto done = merged_flat(welded(mesh), within, progress);
    REQUIRE(done);
    return std::move(done->mesh);
}

}  // namespace

TEST_CASE("residue: islands, slivers, skins and loose faces go, and each is counted") {
    Mesh body = with_pocket(0.03);
    append(body, make_box({30, 0, 0}, {30.5, 0.5, 0.5}));  // an island
    append(body, make_box({40, 0, 0}, {45, 5, 0.05}));     // a sliver: thin, but as wide as it likes
    append(body, make_box({50, 0, 0}, {52, 2, 2}));        // a body that is meant
    body.points.push_back({0, 0, 30});                     // a face that encloses nothing
    body.points.push_back({5, 0, 30});
    body.points.push_back({0, 5, 30});
    const auto last = static_cast<std::uint32_t>(body.points.size());
    body.faces.push_back({VertexId(last - 3), VertexId(last - 2), VertexId(last - 1)});
    Cutting c(body);
    c.cut("clear-residue", {});
    const Evaluation e = c.sound();
    CHECK(volume(e) == Approx(20 * 20 * 10 - 8 * 8 * 10 + 8));
    CHECK(find_shells(e.combined->mesh).count == 2);
    CHECK(said(e, c.step) == "1 island, 1 sliver, 1 thin skin, 1 loose face went, 3.3 mm³.");
    CHECK(e.row(c.step)->treated->places.size() == 4);
}

TEST_CASE("residue: a limit of 0 leaves that sort alone, and what is no smaller than the limits stays") {
    Mesh body = with_pocket(0.03);
    append(body, make_box({30, 0, 0}, {30.5, 0.5, 0.5}));
    append(body, make_box({40, 0, 0}, {45, 5, 0.05}));
    Cutting c(body);
    c.cut("clear-residue", {{"islands", 0.0}, {"slivers", 0.0}, {"skins", 0.0}});
    CHECK(said(c.sound(), c.step) == "There is no residue.");
    c.set("islands", 0.5).set("skins", 0.02);
    CHECK(said(c.sound(), c.step) == "There is no residue.");
    c.set("islands", 0.51);
    CHECK(said(c.sound(), c.step).starts_with("1 island went"));
    // A plate of 0.05 by 5 by 5 has a mean thickness of 2 V / A = 2 * 1.25 / (50 + 1) mm.
    c.set("slivers", 2 * 1.25 / 51 + 1e-6);
    CHECK(said(c.sound(), c.step).starts_with("1 island, 1 sliver went"));
}

TEST_CASE("residue: the largest body stays, and one that is nothing but skin is refused") {
    Cutting small(make_box({0, 0, 0}, {0.5, 0.5, 0.5}));
    small.cut("clear-residue", {});
    CHECK(said(small.sound(), small.step) == "There is no residue.");
    Cutting thin(make_box({0, 0, 0}, {20, 20, 0.03}));
    thin.cut("clear-residue", {});
    CHECK(thin.trouble() ==
          "100 % of the surface lies on walls under 0.05 mm: they are no residue; take a smaller limit for skins");
    // A ball so small that all of it is under the limit: once each of its faces looked at all others, for minutes.
    Cutting tiny(make_sphere({0, 0, 0}, 0.02, 100, 100));
    tiny.cut("clear-residue", {});
    CHECK(said(tiny.sound(), tiny.step) == "There is no residue.");
}

TEST_CASE("residue: a skin between a round bore and a wall is pushed through along its own normals") {
    // A bore of diameter 8 along y that comes to 0.02 mm under the top.
    Mesh bore = round_bar(8, 30, 64);
    for (Vec3& p : bore.points) p = {p.x + 10, p.z - 5, 6.02 - p.y};
    if (signed_volume(bore) < 0) turn_over(bore);
    Cutting c(combined(Operation::difference, make_box({0, 0, 0}, {20, 20, 10.04}), bore));
    c.cut("clear-residue", {});
    const Evaluation e = c.sound();
    CHECK(said(e, c.step).starts_with("1 thin skin went"));
    // The bore is open on top: nothing of the body is left above its middle.
    CHECK(std::ranges::none_of(e.combined->mesh.points,
                               [](const Vec3& p) { return p.z > 9 && std::fabs(p.x - 10) < 0.3; }));
    CHECK(volume(e) < signed_volume(*mesh_of(c.job, c.body)) - 20 * 0.02);
}

TEST_CASE("flat regions: as few faces as the outline asks for, whatever they came in") {
    // A polygon of n corners with h holes has n + 2 h - 2 triangles (M. de Berg et al., "Computational Geometry", 3.1).
    const Mesh box = make_box({0, 0, 0}, {40, 30, 20});
    const Mesh fine = in_smaller_faces(box, 7);
    CHECK(fine.faces.size() == 12 * 49);
    const Mesh made = merged(fine);
    CHECK(made.faces.size() == 12);
    CHECK(made.points.size() == 8);
    CHECK(signed_volume(made) == signed_volume(box));
    const Mesh frame = combined(Operation::difference, box, make_box({10, 10, -1}, {30, 20, 21}));
    const Mesh frame_made = merged(in_smaller_faces(frame, 4));
    CHECK(frame_made.faces.size() == 2 * (8 + 2 - 2) + 2 * 8);
    CHECK(inspected(frame_made).print_ready);
    const Mesh round = round_bar(20, 10, 48);
    const Mesh round_made = merged(in_smaller_faces(round, 3));
    CHECK(round_made.faces.size() == 2 * (48 - 2) + 2 * 48);
    CHECK(signed_volume(round_made) == Approx(signed_volume(round)).epsilon(1e-12));
}

TEST_CASE("flat regions: what is round stays round, materials stay apart, and a step tells what it did") {
    const Mesh sphere = make_sphere({0, 0, 0}, 10, 40, 40);
    CHECK(merged(sphere).faces.size() == sphere.faces.size());
    Mesh two = in_smaller_faces(make_box({0, 0, 0}, {10, 10, 10}), 2);
    two.materials = {{"red", {}}, {"blue", {}}};
    for (const FaceId f : ids<FaceId>(two.faces.size())) two.material.push_back(face_middle(two, f).z > 5);
    const Mesh made = merged(two);
    // Each upright side in an upper and a lower half.
    CHECK(made.points.size() == 12);
    CHECK(made.faces.size() == 4 * 2 * 2 + 2 * 2);
    Cutting c(in_smaller_faces(make_box({0, 0, 0}, {10, 10, 10}), 2));
    c.cut("merge-flat", {});
    CHECK(said(c.sound(), c.step) == "6 flat regions are single faces now: 36 faces less.");
    c.cut("merge-flat", {});
    CHECK(said(c.sound(), c.step) == "Its flat regions are single faces already.");
}

TEST_CASE("flat regions of real meshes: sound, and nowhere farther off than was allowed") {
    std::vector<std::filesystem::path> files = some_real_meshes(5);
    // Whatever the sample, parts of machines whose flat sides are hundreds of faces.
    for (const auto& file : real_meshes())
        if (file.filename() == "anchor_dense.off" || file.filename() == "fandisk.off") files.push_back(file);
    for (const auto& file : files) {
        const auto read = read_mesh(file);
        if (!read || read->faces.size() > 60'000) continue;
        Mesh mesh = welded(*read);
        for (Vec3& p : mesh.points) p = p * (100 / bounds(*read).diagonal());
        if (!inspected(mesh).print_ready) continue;
        INFO(file.filename().string());
        std::size_t least = mesh.faces.size();
        for (const double within : {0.0, 1e-4, 0.02}) {
            const Mesh made = merged(mesh, within);
            const Inspection found = inspected(made);
            INFO(within << " " << findings_text(found));
            if (within < 0.01) CHECK(found.print_ready);  // of more a step is refused where that folds it
            CHECK(made.faces.size() <= mesh.faces.size());
            CHECK(std::fabs(signed_volume(made) - signed_volume(mesh)) <=
                  surface_area(mesh) * within + 1e-9 * signed_volume(mesh));
            least = std::min(least, made.faces.size());
        }
        if (file.filename() == "anchor_dense.off" || file.filename() == "fandisk.off")
            CHECK(2 * least < mesh.faces.size());
    }
}

TEST_CASE("a skin that a cutter has left is told with the cutter's step, and driven through by one row that follows") {
    Cutting c(make_box({0, 0, 0}, {20, 20, 10}));
    const std::string cutter = add(c.job, "cutter", make_box({6, 6, 0.05}, {14, 14, 11}));
    const std::string step = add_combining(c.job, Operation::difference, cutter);
    Evaluation e = c.sound();
    CHECK(volume(e) == Approx(4000 - 8 * 8 * 9.95));
    auto skins = skins_of(c.job, e);
    REQUIRE(skins.size() == 1);
    CHECK(skins[0].step == step);
    CHECK(skins[0].thinnest == Approx(0.05));
    drive_through(c.job, {c.job.work()}, skins);
    e = c.sound();
    CHECK(volume(e) == Approx(4000 - 8 * 8 * 10));
    CHECK(skins_of(c.job, e).empty());
    // The cutter goes elsewhere, and what drives it through goes along.
    move_to(c.job, step, {3, -2, 0});
    CHECK(volume(c.sound()) == Approx(4000 - 8 * 8 * 10));
    // Pieces side by side are no skin between them, on whatever slant.
    Cutting apart(make_box({0, 0, 0}, {20, 20, 10}));
    apart.cut("cut-plane", {{"origin", Vec3{9, 8, 4}}, {"normal", Vec3{0.3, 0.7, 0.2}}});
    const Evaluation halves = apart.sound();
    REQUIRE(halves.combined->pieces() == 2);
    CHECK(skins_of(apart.job, halves).empty());
    // Nothing is told of walls that no cutter has made.
    Cutting thin(make_box({0, 0, 0}, {20, 20, 0.1}));
    CHECK(skins_of(thin.job, thin.done()).empty());
}

TEST_CASE("a skin under an outline cut to a depth, and one beside a drilled hole, are told and driven through") {
    Cutting c(make_box({0, 0, 0}, {20, 20, 10}));
    c.cut(
        "cut-outline",
        {{"origin", Vec3{10, 10, 10}}, {"width", 8.0}, {"length", 6.0}, {"way", std::string("depth")}, {"depth", 9.9}});
    auto skins = skins_of(c.job, c.sound());
    REQUIRE(skins.size() == 1);
    CHECK(skins[0].step == c.step);
    drive_through(c.job, {c.job.work()}, skins);
    CHECK(volume(c.sound()) == Approx(4000 - 8 * 6 * 10));
    Cutting hole(make_box({0, 0, 0}, {20, 20, 10}));
    hole.cut("drill", {{"at", std::vector<Vec3>{{10, 2.55, 10}}}, {"diameter", 5.0}});
    skins = skins_of(hole.job, hole.sound());
    REQUIRE(skins.size() == 1);
    drive_through(hole.job, {hole.job.work()}, skins);
    const Evaluation e = hole.sound();
    CHECK(skins_of(hole.job, e).size() == 0);
}

TEST_CASE("a part of several sheets splits by all of them in one step, also where they cross") {
    auto sheet = [](const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
        Mesh out;
        for (const Vec3& p : {a, b, c, d}) out.points.push_back(p);
        out.faces.push_back({VertexId(0), VertexId(1), VertexId(2)});
        out.faces.push_back({VertexId(0), VertexId(2), VertexId(3)});
        return out;
    };
    auto level = [&](double z) { return sheet({-9, -9, z}, {50, -9, z}, {50, 50, z}, {-9, 50, z}); };
    for (const bool crossing : {false, true}) {
        Cutting c(make_box({0, 0, 0}, {20, 20, 10}));
        Mesh sheets = level(2);
        append(sheets, crossing ? sheet({7, -9, -9}, {7, 50, -9}, {7, 50, 50}, {7, -9, 50}) : level(6));
        add_combining(c.job, Operation::split, add(c.job, "sheets", std::move(sheets)));
        const Evaluation e = c.sound();
        REQUIRE(e.combined->pieces() == (crossing ? 4 : 3));
        double sum = 0;
        for (std::size_t k = 0; k < e.combined->pieces(); ++k) sum += signed_volume(e.combined->piece(k));
        CHECK(sum == Approx(4000));
    }
}
