#include "core/job/edit_lists.h"
#include "core/job/job_file.h"
#include "core/job/job_text.h"
#include "core/mesh/scatter.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A plate of 100 by 100 by 5, and a peg of 2 by 2 by 10 that goes through it or stands on it.
struct Plate {
    Job job;
    std::string plate, peg, step;
    explicit Plate(Operation operation = Operation::difference, double z = -2) {
        plate = add_part(job, "plate", std::make_shared<const Mesh>(make_box({0, 0, 0}, {100, 100, 5})));
        peg = add_part(job, "peg", std::make_shared<const Mesh>(make_box({-1, -1, 0}, {1, 1, 10})));
        edit_part(job, peg, [&](Part& p) { p.bench = {{10, 10, z}, {}}; });
        step = add_combining(job, operation, peg);
    }
    void copy(const std::string& kind, Values values) {
        edit_step(job, step, [&](Step& s) { s.operand->copies = Copies{.kind = kind, .values = values}; });
    }
    Evaluation evaluated() const {
        Evaluator evaluator;
        return test::evaluated(evaluator, job);
    }
};

}  // namespace

TEST_CASE("copies in rows take n times what one takes, from each to the next or in all") {
    Plate p;
    p.copy("rows", {{"count_x", std::int64_t{5}}, {"x", 10.0}, {"count_y", std::int64_t{3}}, {"y", 20.0}});
    const Evaluation done = p.evaluated();
    CHECK(volume(done) == Approx(50000 - 15 * 20));
    CHECK(inspected(done.combined->mesh).print_ready);
    CHECK(done.copies.at(p.step)->faces.size() == 15 * 12);
    CHECK(bounds(*done.copies.at(p.step)).high == Vec3{51, 51, 8});
    p.copy("rows", {{"count_x", std::int64_t{5}}, {"x", 40.0}, {"spacing", std::string("in all")}});
    CHECK(bounds(*p.evaluated().copies.at(p.step)).high == Vec3{51, 11, 8});
    p.copy("rows", {{"count_x", std::int64_t{3}}, {"x", 1.0}});  // copies that overlap are one
    CHECK(volume(p.evaluated()) == Approx(50000 - 4 * 2 * 5));
}

TEST_CASE("copies round an axis: quarters land exactly, over an angle the last one ends it, upright ones stay so") {
    Plate p;
    const Values round{{"count", std::int64_t{4}}, {"centre_x", 50.0}, {"centre_y", 50.0}};
    p.copy("round", round);
    const Evaluation done = p.evaluated();
    CHECK(volume(done) == Approx(50000 - 4 * 20));
    const Box box = bounds(*done.copies.at(p.step));
    CHECK(box.low == Vec3{9, 9, -2});
    CHECK(box.high == Vec3{91, 91, 8});
    Values half = round;
    half["angle"] = 180.0;
    half["count"] = std::int64_t{2};
    p.copy("round", half);
    CHECK(bounds(*p.evaluated().copies.at(p.step)).high == Vec3{91, 91, 8});
    // Of eight round the middle, those at 45 degrees keep their sides along the axes.
    Values upright = round;
    upright["count"] = std::int64_t{8};
    upright["turn"] = false;
    p.copy("round", upright);
    const Mesh all = *p.evaluated().copies.at(p.step);
    const double r = std::sqrt(2) * 40;
    CHECK(bounds(all).high.x == Approx(50 + r + 1));
}

TEST_CASE("a mirrored copy is the image to the bit") {
    Plate p;
    p.copy("mirrored", {{"across", std::string("y")}, {"at", 50.0}});
    const Mesh all = *p.evaluated().copies.at(p.step);
    REQUIRE(all.points.size() == 16);
    for (std::uint32_t k = 0; k < 8; ++k) {
        const Vec3 &a = all.points[VertexId(k)], &b = all.points[VertexId(k + 8)];
        CHECK(Vec3{a.x, 100 - a.y, a.z} == b);
    }
    CHECK(signed_volume(all) == Approx(80));
    CHECK(volume(p.evaluated()) == Approx(50000 - 40));
}

TEST_CASE("scattered copies stand upright on the surface, apart, the same for the same seed") {
    Plate p(Operation::union_of, 0);
    const Values values{{"count", std::int64_t{40}}, {"apart", 6.0}, {"seed", std::int64_t{7}}};
    p.copy("scattered", values);
    const Evaluation done = p.evaluated();
    const Mesh all = *done.copies.at(p.step);
    CHECK(all.faces.size() == 40 * 12);
    std::vector<Vec3> feet;
    for (std::uint32_t k = 0; k < 40; ++k) {
        Vec3 foot, top;
        for (std::uint32_t c = 0; c < 8; ++c) {
            const Vec3& point = all.points[VertexId(8 * k + c)];
            (c < 4 ? foot : top) = (c < 4 ? foot : top) + point * 0.25;
        }
        const Vec3 up = top - foot;
        CHECK(norm(up) == Approx(10));
        // On a plate a normal is an axis, and the foot lies on a side.
        CHECK(largest_component(up) == Approx(10));
        const int axis = longest_axis(up);
        CHECK((std::fabs(foot[axis]) < 1e-9 || std::fabs(foot[axis] - (axis == 2 ? 5 : 100)) < 1e-9));
        for (const Vec3& other : feet) CHECK(norm(other - foot) >= 6 - 1e-9);
        feet.push_back(foot);
    }
    CHECK(*p.evaluated().copies.at(p.step) == all);
    Values other = values;
    other["seed"] = std::int64_t{8};
    p.copy("scattered", other);
    CHECK(*p.evaluated().copies.at(p.step) != all);
    // A share left out leaves the others where they were.
    Values fewer = values;
    fewer["left_out"] = 50.0;
    p.copy("scattered", fewer);
    const Mesh some = *p.evaluated().copies.at(p.step);
    CHECK(some.faces.size() < all.faces.size());
    std::set<Vec3, ByCoordinates> points(all.points.begin(), all.points.end());
    for (const Vec3& v : some.points) CHECK(points.contains(v));
    // Sizes and turns within bounds.
    Values varied = values;
    varied["size_least"] = 0.5;
    varied["size_most"] = 2.0;
    varied["turn"] = 180.0;
    p.copy("scattered", varied);
    const Evaluation last = p.evaluated();
    CHECK(inspected(last.combined->mesh).print_ready);
    Values crowded = values;
    crowded["apart"] = 60.0;
    p.copy("scattered", crowded);
    CHECK(p.evaluated().copies.at(p.step)->faces.size() < 20 * 12);
}

TEST_CASE("scattered points are even: each half of a surface gets about half of them") {
    const Mesh box = make_box({0, 0, 0}, {10, 10, 10});
    const auto points = scattered(box, {.count = 20000, .seed = 3}, Progress());
    REQUIRE(points.size() == 20000);
    int lower = 0, left = 0, top = 0;
    for (const SurfacePoint& p : points) {
        lower += p.point.z < 5;
        left += p.point.x + p.point.y < 10;
        top += p.normal.z > 0.5;
    }
    // Five standard deviations of a binomial distribution.
    CHECK(std::abs(lower - 10000) < 360);
    CHECK(std::abs(left - 10000) < 360);
    CHECK(std::abs(top - 20000 / 6) < 270);
}

TEST_CASE("copies of a bundle are copies of what it makes, and stay when the bundle goes") {
    Plate p;
    p.copy("rows", {{"count_x", std::int64_t{4}}, {"x", 20.0}});
    const std::string notch = add_part(p.job, "notch", std::make_shared<const Mesh>(make_box({0, -1, 0}, {1, 1, 20})));
    edit_part(p.job, notch, [](Part& part) { part.bench = {{10, 10, -5}, {}}; });
    const std::string cut = add_combining(p.job, Operation::difference, notch);
    REQUIRE(move_into(p.job, cut, p.step));
    CHECK(volume(p.evaluated()) == Approx(50000 - 4 * 10));
    const std::vector<Row> rows = rows_of(p.job);
    const auto inner = std::ranges::find_if(rows, [&](const Row& r) { return r.id.step() == cut; });
    REQUIRE(move_out(p.job, inner->id));
    CHECK(find_step(p.job, p.step).step->operand->copies);
    CHECK(find_step(p.job, p.step).step->operand->part == p.peg);
    CHECK(volume(p.evaluated()) == Approx(50000 - 4 * 20));
}

TEST_CASE("copies in files, and those that cannot be: told in their row, the body goes on") {
    Plate p;
    p.copy("rows", {{"count_x", std::int64_t{4}}, {"x", 20.0}});
    const TempFolder folder;
    REQUIRE(write_job(p.job, folder / "job.anvil"));
    Progress progress;
    const auto back = read_job(folder / "job.anvil", progress);
    REQUIRE(back);
    CHECK(job_text(*back) == job_text(p.job));
    auto why = [&](const std::string& kind, const Values& values) {
        p.copy(kind, values);
        const Evaluation done = p.evaluated();
        CHECK(volume(done) == Approx(50000));
        REQUIRE(done.row(p.step)->error);
        return done.row(p.step)->error->text;
    };
    CHECK(why("spiral", {}).find("no copies of the kind \"spiral\"") != std::string::npos);
    CHECK(why("rows", {{"count_x", std::int64_t{0}}}).find("below 1") != std::string::npos);
    CHECK(why("rows", {{"count_x", std::int64_t{1000}}, {"count_y", std::int64_t{1000}}}).find("make fewer") !=
          std::string::npos);
    CHECK(why("scattered", {{"size_least", 2.0}}).find("below the smallest") != std::string::npos);
    CHECK(why("scattered", {{"left_out", 100.0}}).find("no copy is left") != std::string::npos);
    edit_part(p.job, p.peg, [](Part& part) {
        part.source = StoredMesh{std::make_shared<const Mesh>(make_icosphere({0, 0, 0}, 1, 5))};
    });
    CHECK(why("rows", {{"count_x", std::int64_t{2000}}}).find("20 million") != std::string::npos);
    CHECK(!find_kind("rows"));
}
