// Cuts as steps: planes, their joints, what they join and where they are refused.
#include <cmath>
#include <numbers>
#include <random>

#include "core/cut/plane_cut.h"
#include "core/cut/screws.h"
#include "core/io/mesh_file.h"
#include "core/job/anchors.h"
#include "core/job/job_file.h"
#include "core/job/new_cut.h"
#include "core/mesh/weld.h"
#include "core/shape/shapes.h"
#include "tests/job/cutting.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Values plane(const Vec3& origin, const Vec3& normal, const char* keep) {
    Values out = values_of_plane(origin, normal, {});
    out["keep"] = std::string(keep);
    return out;
}

/// Volume of what of a sphere of radius r is farther out than d from its middle: a spherical segment of one base.
/// Formula: Bronshtein, Semendyayev, "Handbook of Mathematics", stereometry.
double segment_volume(double r, double d) { return std::numbers::pi * (r - d) * (r - d) * (2 * r + d) / 3; }

}  // namespace

TEST_CASE("a plane cut keeps one side or both: a prism's volumes are exact, a sphere's come to the segment's") {
    Cutting box(make_box({0, 0, 0}, {10, 20, 30}));
    box.cut("cut-plane", plane({4, 0, 0}, {1, 0, 0}, "front"));
    CHECK(volume(box.sound()) == 6 * 20 * 30);
    CHECK(volume(box.set("keep", std::string("back")).sound()) == 4 * 20 * 30);
    const Evaluation both = box.set("keep", std::string("both")).sound();
    REQUIRE(both.combined->pieces() == 2);
    CHECK(signed_volume(both.combined->piece(0)) == 4 * 20 * 30);
    CHECK(signed_volume(both.combined->piece(1)) == 6 * 20 * 30);
    CHECK(both.row(box.step)->pieces_after == 2);
    // Open, the cut face is missing.
    const Evaluation open = box.set("keep", std::string("front")).set("cap", false).done();
    CHECK(!open.first_error);
    CHECK(inspected(open.combined->mesh).count(FindingKind::open_edges) > 0);
    CHECK(measure(open.combined->mesh).area == Approx(2 * (6 * 20 + 6 * 30) + 20 * 30));

    Cutting ball(moved(sphere_shape({40, {0.002}})->mesh, {0, 0, -20}));
    for (const double d : {0.0, 5.0, -12.5, 19.0}) {
        ball.cut("cut-plane", plane(Vec3{3, -2, 6} * (d / 7), {3, -2, 6}, "front"));
        CHECK(volume(ball.sound()) == Approx(segment_volume(20, d)).epsilon(3e-3));
        remove_step(ball.job, ball.step);
    }
}

TEST_CASE("a cut across a symmetric body leaves symmetric halves, to the bit") {
    Cutting ball(sphere_shape({20, {0.05}})->mesh);
    for (const Vec3& normal : {Vec3{1, 0, 0}, Vec3{0, 1, 0}, Vec3{0, 0, 1}}) {
        ball.cut("cut-plane", plane({0, 0, 10}, normal, "both"));
        edit_step(ball.job, ball.step, [&](Step& s) {
            if (normal.z == 1) s.values["origin"] = Vec3{0, 0, 10};
        });
        const Evaluation e = ball.sound();
        REQUIRE(e.combined->pieces() == 2);
        auto corners = [&](std::size_t piece, bool mirror) {
            std::set<Vec3, ByCoordinates> out;
            for (Vec3 p : e.combined->piece(piece).points) {
                for (int k = 0; k < 3; ++k)
                    if (mirror && normal[k] != 0) p[k] = (k == 2 ? 20 : 0) - p[k];
                out.insert(p);
            }
            return out;
        };
        CHECK(corners(0, true) == corners(1, false));
        remove_step(ball.job, ball.step);
    }
}

TEST_CASE("several planes make slices of one thickness; as many as a bed needs make pieces that fit it") {
    Cutting bar(make_box({0, 0, 0}, {100, 20, 10}));
    bar.cut("cut-plane", {{"origin", Vec3{20, 0, 0}},
                          {"normal", Vec3{1, 0, 0}},
                          {"planes", std::string("several")},
                          {"count", std::int64_t{4}},
                          {"distance", 20.0}});
    const Evaluation slices = bar.sound();
    REQUIRE(slices.combined->pieces() == 5);
    for (std::size_t k = 0; k < 5; ++k) CHECK(signed_volume(slices.combined->piece(k)) == 20 * 20 * 10);
    bar.set("planes", std::string("bed")).set("bed_x", 30.0).set("bed_y", 10.0).set("bed_z", 10.0);
    const Evaluation fits = bar.sound();
    CHECK(fits.combined->pieces() == 4 * 2);
    for (std::size_t k = 0; k < fits.combined->pieces(); ++k) {
        const Vec3 size = bounds(fits.combined->piece(k)).size();
        CHECK(size == Vec3{25, 10, 10});
    }
    // Layers from the lowest point upwards, the last one what is left.
    bar.set("planes", std::string("layers")).set("normal", Vec3{0, 0, 1}).set("layer", 3.0);
    const Evaluation layers = bar.sound();
    REQUIRE(layers.combined->pieces() == 4);
    for (std::size_t k = 0; k < 3; ++k) CHECK(bounds(layers.combined->piece(k)).size().z == 3);
    CHECK(bounds(layers.combined->piece(3)).size().z == 1);
    CHECK(layers.row(bar.step)->cut->said == "4 layers.");
    bar.set("planes", std::string("bed"));
    // What fits as it is stays whole; a bed of nothing would take too many planes.
    bar.set("bed_x", 100.0).set("bed_y", 20.0);
    CHECK(bar.sound().combined->pieces() == 1);
    bar.set("bed_x", 0.01);
    CHECK(bar.trouble().find("planes, more than 500") != std::string::npos);
}

TEST_CASE("joints: the pegs of one piece fit the sockets of the other with the clearance, and stay within the rim") {
    for (const char* form : {"round", "square", "dovetail"}) {
        INFO(form);
        Cutting block(make_box({0, 0, 0}, {60, 40, 30}));
        block.cut("cut-plane", plane({30, 20, 15}, {1, 0, 0}, "both")).set("joints", std::string(form));
        const bool rails = form == std::string("dovetail");
        for (const std::int64_t count : {1, 2, 3}) {
            block.set("joint_count", count).set("clearance", 0.25);
            const Evaluation e = block.sound();
            REQUIRE(e.combined->pieces() == 2);
            const Mesh socket = e.combined->piece(0), peg = e.combined->piece(1);
            // Pegs stand out by the depth, sockets go deeper by the clearance.
            CHECK(bounds(peg).low.x == 30 - 6);
            const double half = 30 * 40 * 30.0;
            // By the forms: a cylinder or a square prism with a chamfered tip (a frustum), and a dovetail's trapezium.
            auto prism = [&](double grow) {
                const double r = 3 + grow, c = 0.72, h = 6 + grow - c, t = r - c;
                if (rails)
                    return 30 * (6 + 2 * grow + (6 + 2 * grow + 2 * 6 * std::tan(std::numbers::pi / 12))) / 2 *
                           (6 + grow);
                // Round ones are prisms of so many faces.
                const int faces = faces_around(r, {});
                const double full =
                    form == std::string("square") ? 4 : faces / 2.0 * std::sin(2 * std::numbers::pi / faces);
                return full * (r * r * h + c * (r * r + r * t + t * t) / 3);
            };
            const auto n = static_cast<double>(count);
            CHECK(signed_volume(peg) - half == Approx(n * prism(0)).epsilon(1e-9));
            CHECK(half - signed_volume(socket) == Approx(n * prism(0.25)).epsilon(1e-9));
            // They keep apart by the clearance, but where they touch in the cut face.
            CHECK(signed_volume(combined_only(Operation::intersection, {socket, peg}).mesh) == Approx(0).margin(1e-9));
            for (const Vec3& p : peg.points) {
                if (p.x >= 30 || rails) continue;
                for (const double rim : {p.y, 40 - p.y, p.z, 30 - p.z}) CHECK(rim > 2);
            }
        }
        block.set("joint_count", std::int64_t{40});
        CHECK(block.trouble().find("do not fit into the cut face 2 mm from its rim") != std::string::npos);
        block.set("joint_count", std::int64_t{1}).set("joint_depth", 40.0);
        CHECK(!block.trouble().empty());
    }
}

TEST_CASE(
    "joints set by hand stand there; one that is outside, too near to the rim or to another is refused by number") {
    Cutting block(make_box({0, 0, 0}, {60, 40, 30}));
    block.cut("cut-plane", plane({30, 20, 15}, {1, 0, 0}, "both")).set("joints", std::string("round"));
    auto at = [&](std::vector<Vec3> places) -> Cutting& { return block.set("joints_at", std::move(places)); };
    const Evaluation e = at({{30, 10, 10}, {55, 30, 20}}).sound();
    Box tips;
    const Mesh front = e.combined->piece(1);
    for (const Vec3& p : front.points)
        if (p.x < 30) tips.add(p);
    CHECK(tips.low.y == Approx(7));
    CHECK(tips.high.y == Approx(33));
    CHECK(tips.high.z == Approx(23));
    CHECK(at({{30, 10, 10}, {30, 60, 10}}).trouble() == "joint 2 is not in the cut face");
    CHECK(at({{30, 4, 10}}).trouble().find("joint 1 is too near to the rim") == 0);
    CHECK(at({{30, 10, 10}, {30, 13, 10}}).trouble().find("joint 2 runs into joint 1") == 0);
    CHECK(at({{30, 20, 15}}).set("joint_depth", 31.0).trouble().find("joint 1 is too long") == 0);
}

TEST_CASE("a plane that misses, or leaves nothing, says so and changes nothing") {
    Cutting box(make_box({0, 0, 0}, {10, 10, 10}));
    box.cut("cut-plane", plane({13, 0, 0}, {1, 0, 0}, "both"));
    Evaluation e = box.sound();
    CHECK(e.row(box.step)->note == "It cuts nothing: it is 3 mm away from the body.");
    CHECK(volume(e) == 1000);
    CHECK(box.set("keep", std::string("front")).trouble() == "it would leave nothing of the body");
    CHECK(volume(box.set("keep", std::string("back")).sound()) == 1000);
    CHECK(box.set("keep", std::string("front")).set("cap", false).trouble() == "it would leave nothing of the body");
    // Flush with a side it does nothing, or takes all.
    box.set("cap", true).set("origin", Vec3{10, 0, 0});
    CHECK(box.trouble() == "it would leave nothing of the body");
    CHECK(volume(box.set("keep", std::string("back")).sound()) == 1000);
    box.set("normal", Vec3{});
    CHECK(box.trouble() == "\"normal\" points nowhere");
    // Later steps go on with what is there.
    add_combining(box.job, Operation::difference, add(box.job, "bore", make_box({2, 2, -1}, {4, 4, 11})));
    CHECK(volume(box.done()) == 1000 - 40);
}

TEST_CASE("a cut joins the arrangement of its neighbours, and acts in its place in the list") {
    Cutting box(make_box({0, 0, 0}, {10, 10, 10}));
    add_combining(box.job, Operation::difference, add(box.job, "bore", make_box({2, 2, -1}, {4, 4, 11})));
    box.cut("cut-plane", plane({0, 0, 6}, {0, 0, 1}, "back"));
    const std::string knob =
        add_combining(box.job, Operation::union_of, add(box.job, "knob", make_box({6, 6, 5}, {8, 8, 12})));
    Evaluation e = box.sound();
    CHECK(volume(e) == 600 - 24 + 4 * 6);
    const std::vector<std::string> operands = e.operand_parts;
    CHECK(operands.size() == 4);  // one arrangement of all
    CHECK(e.row(knob)->volume_before == Approx(600 - 24));
    // Moved behind the knob it cuts that, too.
    REQUIRE(move_step(box.job, box.step, {box.job.work()}));
    CHECK(volume(box.sound()) == 600 - 24);
    // Switched off, and as the first.
    set_on(box.job, box.step, false);
    CHECK(volume(box.sound()) == 1000 - 40 + 4 * 2);
}

TEST_CASE("a cut in the list of an operand cuts that, and goes along with it") {
    Job job;
    const std::string body = add(job, "body", make_box({0, 0, 0}, {20, 20, 20}));
    const std::string bore = add(job, "bore", make_box({-2, -2, -30}, {2, 2, 30}));
    const std::string step = add_combining(job, Operation::difference, bore);
    add_treatment(job, {bore}, "cut-plane", plane({0, 0, 0}, {0, 0, 1}, "front"));
    move_to(job, step, {10, 10, 5});
    Evaluator evaluator;
    Evaluation e = test::evaluated(evaluator, job);
    REQUIRE(!e.first_error);
    CHECK(volume(e) == 8000 - 16 * 15);
    move_to(job, step, {10, 10, 12});
    CHECK(volume(test::evaluated(evaluator, job)) == 8000 - 16 * 8);
}

TEST_CASE("a cut on a face follows that when what stands above it changes") {
    Job job;
    const std::string box = add_part(job, "box", Shape{.kind = "box", .values = {{"z", 30.0}}});
    Evaluator evaluator;
    Evaluation first = test::evaluated(evaluator, job);
    const Mesh mesh = welded(*first.parts.at(job.work()));
    const Box size = bounds(mesh);
    std::array<Vec3, 3> top{};
    for (FaceId f : ids<FaceId>(mesh.faces.size())) {
        bool all = true;
        for (int k = 0; k < 3; ++k) all = all && mesh.corner(f, k).z == size.high.z;
        if (all) top = {mesh.corner(f, 0), mesh.corner(f, 1), mesh.corner(f, 2)};
    }
    auto face = anchors_of_flat_face(top, mesh, *tags_of(*first.lineages.at(job.work())));
    REQUIRE(face.size() == 1);
    const std::string step = add_treatment(
        job, {job.work()}, "cut-plane", {{"face", std::move(face)}, {"offset", -4.0}, {"keep", std::string("back")}});
    for (const double z : {30.0, 50.0, 12.5}) {
        edit_part(job, box, [&](Part& p) { std::get<Shape>(p.source).values["z"] = z; });
        const Evaluation e = test::evaluated(evaluator, job);
        REQUIRE(!e.first_error);
        CHECK(bounds(e.combined->mesh).size().z == z - 4);
    }
    // Of a face that is gone it is left out, and says so.
    edit_part(job, box, [&](Part& p) {
        p.source = StoredMesh{std::make_shared<const Mesh>(make_sphere({0, 0, 0}, 10, 12, 8))};
    });
    const Evaluation lost = test::evaluated(evaluator, job);
    REQUIRE(lost.first_error);
    CHECK(lost.first_error->row == step);
}

TEST_CASE("cuts are saved and read: places, directions, and what a step put into another list means there") {
    TempFolder folder;
    Cutting box(make_box({0, 0, 0}, {10, 10, 10}));
    box.cut("cut-plane", plane({1.5, 2, 6.25}, {0, 3, 4}, "both"))
        .set("joints", std::string("round"))
        .set("joint_size", 2.0)
        .set("joint_depth", 1.5);
    box.set("joints_at", std::vector<Vec3>{{5, 5, 4}});
    Progress progress;
    REQUIRE(write_job(box.job, folder / "cut.anvil"));
    const auto back = read_job(folder / "cut.anvil", progress);
    REQUIRE(back);
    const FoundStep step = find_step(*back, box.step);
    REQUIRE(step.step);
    CHECK(step.step->values == find_step(box.job, box.step).step->values);
    Evaluator again;
    CHECK(test::evaluated(again, *back).combined->mesh.points.raw() == box.done().combined->mesh.points.raw());
}

TEST_CASE("a drilled hole has the volume of its cylinder, cone and counterbore") {
    // Faceted round bodies: all areas are those of a polygon of n corners on the circle.
    auto area = [](double d, int n) { return n / 2.0 * std::sin(2 * std::numbers::pi / n) * d * d / 4; };
    Cutting plate(make_box({0, 0, 0}, {60, 40, 20}));
    plate.cut("drill", {{"at", std::vector<Vec3>{{30, 20, 20}}}, {"diameter", 8.0}});
    const double whole = 60 * 40 * 20;
    int n = faces_around(4, {});
    CHECK(whole - volume(plate.sound()) == Approx(20 * area(8, n)));
    // To a depth, with a drill's point: a cone of 118 degrees, r / tan(59) high, a third of its prism.
    plate.set("down_to", std::string("depth")).set("depth", 6.0);
    CHECK(whole - volume(plate.sound()) == Approx(6 * area(8, n)));
    plate.set("end", std::string("point"));
    CHECK(whole - volume(plate.sound()) == Approx((6 + 4 / std::tan(59 * std::numbers::pi / 180) / 3) * area(8, n)));
    // A cap screw's room, and a countersink: a frustum of 90 degrees.
    plate.set("head", std::string("counterbore")).set("head_diameter", 14.0).set("head_depth", 2.5);
    n = faces_around(7, {});
    CHECK(whole - volume(plate.sound()) ==
          Approx((3.5 + 4 / std::tan(59 * std::numbers::pi / 180) / 3) * area(8, n) + 2.5 * area(14, n)));
    plate.set("head", std::string("countersink")).set("down_to", std::string("through"));
    const double frustum = 3 / 3.0 * (area(8, n) + std::sqrt(area(8, n) * area(14, n)) + area(14, n));
    CHECK(whole - volume(plate.sound()) == Approx(17 * area(8, n) + frustum));
    // On a pattern at once; holes that run into each other are one.
    plate.set("head", std::string("none"))
        .set("pattern", std::string("circle"))
        .set("circle", 24.0)
        .set("holes", std::int64_t{5});
    n = faces_around(4, {});
    CHECK(whole - volume(plate.sound()) == Approx(5 * 20 * area(8, n)));
    plate.set("pattern", std::string("rows"))
        .set("apart", 16.0)
        .set("rows_apart", 14.0)
        .set("columns", std::int64_t{3});
    CHECK(whole - volume(plate.sound()) == Approx(6 * 20 * area(8, n)));
    plate.set("apart", 3.0).set("rows_apart", 2.0);
    CHECK(whole - volume(plate.sound()) > 20 * area(8, n));
    CHECK(plate.set("pattern", std::string("none"))
              .set("head", std::string("counterbore"))
              .set("head_diameter", 8.0)
              .trouble() == "the head of a hole has to be wider than the hole, which is 8 mm");
    plate.set("pattern", std::string("rows")).set("columns", std::int64_t{1000}).set("rows", std::int64_t{1000});
    CHECK(plate.trouble() == "a step drills 10000 holes at most: take a smaller pattern");
    plate.set("pattern", std::string("none"));
    plate.set("head_diameter", 14.0).set("head_depth", 9.0).set("down_to", std::string("depth"));
    CHECK(plate.trouble() == "the hole is 6 mm deep, its head alone goes down to 9 mm");
}

TEST_CASE("holes for metric screws: the tables agree with themselves, and with what is cut") {
    for (const Screw& s : screws()) {
        INFO(s.name);
        CHECK((s.diameter < s.fine && s.fine < s.medium && s.medium < s.coarse));
        CHECK(s.counterbore > s.head);
        CHECK(s.head_height == s.diameter);  // ISO 4762: k is the thread's diameter
        if (s.insert > 0) CHECK(s.insert > s.diameter);
    }
    // ISO 10642: the head's height follows from its cone of 90 degrees, k = (dk - d) / 2; largest heights of the table.
    const std::pair<const char*, double> heights[] = {{"M3", 1.86},  {"M4", 2.48}, {"M5", 3.1},
                                                      {"M6", 3.72},  {"M8", 4.96}, {"M10", 6.2},
                                                      {"M12", 7.44}, {"M16", 8.8}, {"M20", 10.16}};
    for (const auto& [name, k] : heights) CHECK((find_screw(name)->cone - find_screw(name)->diameter) / 2 == Approx(k));
    // ISO 273, medium: M3 3.4, M4 4.5, M5 5.5, M6 6.6, M8 9.
    const std::pair<const char*, double> medium[] = {{"M3", 3.4}, {"M4", 4.5}, {"M5", 5.5}, {"M6", 6.6}, {"M8", 9}};
    for (const auto& [name, d] : medium) {
        Cutting plate(make_box({-20, -20, 0}, {20, 20, 10}));
        plate.cut("drill", {{"at", std::vector<Vec3>{{0, 0, 10}}}, {"screw", std::string(name)}});
        const Evaluation e = plate.sound();
        Box hole;
        for (const Vec3& p : e.combined->mesh.points)
            if (std::hypot(p.x, p.y) < 15) hole.add(p);
        CHECK(hole.size().x == Approx(d));
    }
}

TEST_CASE("a hole held by a face begins on it, wherever that goes, and stays square to it") {
    Job job;
    const std::string box = add_part(job, "box", Shape{.kind = "box", .values = {{"z", 30.0}}});
    Evaluator evaluator;
    Evaluation first = test::evaluated(evaluator, job);
    const Mesh mesh = welded(*first.parts.at(job.work()));
    std::array<Vec3, 3> top{};
    for (FaceId f : ids<FaceId>(mesh.faces.size()))
        if (mesh.corner(f, 0).z == 30 && mesh.corner(f, 1).z == 30 && mesh.corner(f, 2).z == 30)
            top = {mesh.corner(f, 0), mesh.corner(f, 1), mesh.corner(f, 2)};
    add_treatment(job, {job.work()}, "drill",
                  {{"face", anchors_of_flat_face(top, mesh, *tags_of(*first.lineages.at(job.work())))},
                   {"at", std::vector<Vec3>{{2, 3, 30}}},
                   {"down_to", std::string("depth")},
                   {"depth", 5.0}});
    for (const double z : {30.0, 44.0, 11.0}) {
        edit_part(job, box, [&](Part& p) { std::get<Shape>(p.source).values["z"] = z; });
        const Evaluation e = test::evaluated(evaluator, job);
        REQUIRE(!e.first_error);
        double lowest = z;
        for (const Vec3& p : e.combined->mesh.points)
            if (std::hypot(p.x - 2, p.y - 3) < 3) lowest = std::min(lowest, p.z);
        CHECK(lowest == Approx(z - 5));
    }
}

TEST_CASE("outline cuts: prisms and frustums with a draft, cut out, kept, raised, split and scribed") {
    Cutting block(make_box({-30, -20, 0}, {30, 20, 10}));
    const double whole = 60 * 40 * 10;
    block.cut("cut-outline", {{"origin", Vec3{0, 0, 10}}, {"width", 20.0}, {"length", 10.0}});
    CHECK(whole - volume(block.sound()) == Approx(20 * 10 * 10));
    CHECK(volume(block.set("does", std::string("intersection")).sound()) == Approx(20 * 10 * 10));
    const Evaluation split = block.set("does", std::string("split")).sound();
    REQUIRE(split.combined->pieces() == 2);
    CHECK(signed_volume(split.combined->piece(1)) == Approx(2000));
    CHECK(volume(block.set("does", std::string("scribe")).sound()) == Approx(whole));
    // To a depth, and with a draft: the frustum of a pyramid, h / 3 (A + B + sqrt(A B)) where both are similar, else by
    // Simpson's rule, which is exact for it (prismatoid formula).
    block.set("does", std::string("difference")).set("way", std::string("depth")).set("depth", 4.0);
    CHECK(whole - volume(block.sound()) == Approx(20 * 10 * 4));
    block.set("draft", 10.0);
    auto prismatoid = [](double h, double slope) {
        auto at = [&](double z) { return (20 - 2 * z * slope) * (10 - 2 * z * slope); };
        return h / 6 * (at(0) + 4 * at(h / 2) + at(h));
    };
    CHECK(whole - volume(block.sound()) == Approx(prismatoid(4, std::tan(10 * std::numbers::pi / 180))));
    block.set("draft", -10.0);
    CHECK(whole - volume(block.sound()) == Approx(prismatoid(4, -std::tan(10 * std::numbers::pi / 180))));
    block.set("draft", 0.0).set("does", std::string("union"));
    CHECK(volume(block.sound()) - whole == Approx(20 * 10 * 4));
    block.set("does", std::string("difference")).set("way", std::string("between")).set("from", 3.0).set("depth", 7.0);
    CHECK(whole - volume(block.sound()) == Approx(20 * 10 * 4));
    block.set("from", 8.0);
    CHECK(block.trouble().find("the end has to be deeper") != std::string::npos);
    block.set("way", std::string("depth")).set("depth", 9.0).set("draft", 60.0);
    CHECK(block.trouble().find("closes the outline on its way") != std::string::npos);
    // A circle, a hexagon, rounded corners.
    block.set("draft", 0.0).set("depth", 4.0).set("shape", std::string("circle")).set("diameter", 12.0);
    const int n = faces_around(6, {});
    CHECK(whole - volume(block.sound()) == Approx(4 * n / 2.0 * std::sin(2 * std::numbers::pi / n) * 36));
    block.set("shape", std::string("polygon")).set("across", 12.0);
    CHECK(whole - volume(block.sound()) == Approx(4 * 2 * std::sqrt(3) * 36));  // of a hexagon: 2 sqrt(3) r^2
    block.set("shape", std::string("rectangle")).set("corner", 5.0);
    const int m = faces_around(5, {});
    CHECK(whole - volume(block.sound()) == Approx(4 * (200 - 100 + m / 2.0 * std::sin(2 * std::numbers::pi / m) * 25)));
}

TEST_CASE("drawn outlines: arcs stand out by their height, lines that cross themselves are filled, open ones split") {
    Cutting block(make_box({-30, -20, 0}, {30, 20, 10}));
    const double whole = 60 * 40 * 10;
    // A square of 20 with a half circle on one side: h = 10 over a chord of 20.
    block.cut("cut-outline", {{"origin", Vec3{0, 0, 10}},
                              {"shape", std::string("drawing")},
                              {"outline", std::string("-10 -10\n10 -10 10\n10 10\n-10 10\n")}});
    CHECK(whole - volume(block.sound()) == Approx(10 * (400 + std::numbers::pi * 50)).epsilon(1e-3));
    block.set("outline", std::string("-10 -10\n10 10\n10 -10\n-10 10\n"));  // a bow tie
    CHECK(whole - volume(block.done()) == Approx(10 * 200));
    for (const char* nothing : {"", "0 0\n1 1\n", "0 0\n1 1\n2 2\n", "a b\n"})
        CHECK(!block.set("outline", std::string(nothing)).trouble().empty());
    // Arcs without end are told, not tried.
    std::string arcs;
    for (int k = 0; k < 3000; ++k) arcs += std::to_string(k % 2 * 30) + " " + std::to_string(k) + " 400000\n";
    CHECK(block.set("outline", arcs).set("chord", 0.001).trouble().find("points") != std::string::npos);
    block.set("chord", 0.02);
    // An open line parts the body where it passes all through.
    block.set("shape", std::string("line")).set("outline", std::string("-40 -10\n0 0\n40 -10\n"));
    const Evaluation split = block.sound();
    REQUIRE(split.combined->pieces() == 2);
    CHECK(signed_volume(split.combined->piece(0)) + signed_volume(split.combined->piece(1)) == Approx(whole));
    block.set("outline", std::string("-40 -10\n0 0\n"));
    CHECK(block.done().row(block.step)->note.find("does not pass all the way through") != std::string::npos);
    CHECK(block.set("does", std::string("union")).trouble().find("an open line can split or scribe only") == 0);
    CHECK(!block.set("outline", std::string("5 5\n")).trouble().empty());
}

TEST_CASE("random planes through random bodies: all pieces sound, and their volumes add up") {
    std::mt19937 random(20261130);
    auto number = [&](double from, double to) { return std::uniform_real_distribution<>(from, to)(random); };
    for (int k = 0; k < 40; ++k) {
        INFO(k);
        Mesh body = k % 3 == 0   ? sphere_shape({20, {0.1}})->mesh
                    : k % 3 == 1 ? torus_shape({30, 8, {0.1}})->mesh
                                 : make_box({-8, -5, -3}, {9, 4, 7});
        const double whole = signed_volume(body);
        Cutting c(std::move(body));
        Vec3 normal{number(-1, 1), number(-1, 1), number(-1, 1)};
        if (k % 5 == 0) normal = {0, 0, 1};
        c.cut("cut-plane", plane({number(-5, 5), number(-3, 3), number(-2, 2)}, normal, "both"));
        if (k % 2 == 0)
            c.set("planes", std::string("several"))
                .set("count", std::int64_t{k % 7 + 2})
                .set("distance", number(0.1, 2));
        const Evaluation e = c.sound();
        double sum = 0;
        for (std::size_t p = 0; p < e.combined->pieces(); ++p) sum += signed_volume(e.combined->piece(p));
        CHECK(sum == Approx(whole).epsilon(1e-12));
    }
}
