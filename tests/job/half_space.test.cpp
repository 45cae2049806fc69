// A half space cuts without end, wherever it stands and however large the body is.
#include <cmath>
#include <numbers>

#include "core/io/mesh_file.h"
#include "core/shape/shapes.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A body, and a half space that acts on it.
struct Halved {
    Job job;
    std::string body, half, step;
    explicit Halved(Mesh mesh, Operation operation = Operation::difference) {
        body = add(job, "body", std::move(mesh));
        half = add_part(job, "half", Shape{.kind = "half-space"});
        step = add_combining(job, operation, half);
    }
    void stand(const Placement& at) { set_placement(job, row_of(job, step), at); }
    Combined result() {
        const Evaluation done = test::evaluated(evaluator, job);
        INFO((done.first_error ? done.first_error->sentence() : ""));
        REQUIRE(!done.first_error);
        return *done.combined;
    }
    std::string trouble() {
        const Evaluation done = test::evaluated(evaluator, job);
        return done.first_error ? done.first_error->sentence() : "";
    }
    Evaluator evaluator;
};

}  // namespace

TEST_CASE("the stand-in holds all within its reach, and its plane is one face") {
    for (const double reach : {1e-3, 0.7, 1.0, 3.0, 1e3, 1e6}) {
        const Solid made = half_space_within(reach);
        CHECK(made.mesh.faces.size() == 4);
        CHECK(inspected(made.mesh).print_ready);
        for (int k = 0; k < 200; ++k) {
            const double turn = 0.37 * k, height = reach * (k + 1) / 201,
                         r = std::sqrt(reach * reach - height * height);
            CHECK(winding_number(made.mesh, {r * std::cos(turn), r * std::sin(turn), height}) == Approx(1));
            CHECK(std::fabs(winding_number(made.mesh, {r * std::cos(turn), r * std::sin(turn), -height})) < 1e-9);
        }
    }
}

TEST_CASE("a cube cut by a half space: flush, through its middle, across a corner, beside it, and far away") {
    Halved h(make_box({0, 0, 0}, {10, 10, 10}));
    h.stand({{5, 5, 10}, {}});
    CHECK(signed_volume(h.result().mesh) == 1000);  // it only touches
    h.stand({{5, 5, 4}, {}});
    CHECK(signed_volume(h.result().mesh) == 400);
    // Four corners, and four points where diagonals of the cube's sides cross the plane: none of the half space's own.
    CHECK(h.result().mesh.points.size() == 12);
    // Through the middle it takes half, at any angle.
    for (int k = 1; k < 20; ++k) {
        h.stand({{5, 5, 5}, {17.0 * k, 29.0 * k, 41.0 * k}});
        const Combined c = h.result();
        CHECK(signed_volume(c.mesh) == Approx(500).epsilon(1e-12));
        CHECK(inspected(c.mesh).print_ready);
    }
    // Square to the diagonal, a third along it: a corner of 10 x 10 x 10 / 6 (a pyramid: a third of base times height).
    h.stand({Vec3{10, 10, 10} * (1.0 / 3) + Vec3{1, 1, 1} * 1e-9,
             {0, std::acos(1 / std::sqrt(3.0)) * 180 / std::numbers::pi, 45}});
    CHECK(signed_volume(h.result().mesh) == Approx(1000.0 / 6).epsilon(1e-6));
    h.stand({{5, 5, -1}, {}});
    CHECK(h.result().mesh.empty());
    h.stand({{1e5, -1e5, 3}, {}});  // its foot is far away, its plane is not
    CHECK(signed_volume(h.result().mesh) == 300);
    h.stand({{0, 0, 1e6}, {180, 0, 0}});
    CHECK(h.result().mesh.empty());
}

TEST_CASE("a half space reaches past what steps before it added, and splits and scribes") {
    Halved h(make_box({0, 0, 0}, {10, 10, 10}), Operation::split);
    const std::string far = add(h.job, "far", make_box({5000, 0, 0}, {5010, 10, 10}));
    const std::string joined = add_combining(h.job, Operation::union_of, far);
    REQUIRE(move_step(h.job, joined, {h.job.work(), h.step}));
    h.stand({{0, 0, 4}, {}});
    const Combined split = h.result();
    REQUIRE(split.pieces() == 2);
    CHECK(signed_volume(split.mesh) == Approx(2000));
    CHECK(std::min(signed_volume(split.piece(0)), signed_volume(split.piece(1))) == Approx(800));
    edit_step(h.job, h.step, [](Step& s) { s.kind = "scribe"; });
    const Combined drawn = h.result();
    CHECK(signed_volume(drawn.mesh) == Approx(2000));
    CHECK(drawn.curves.size() == 2);
}

TEST_CASE("six half spaces round an axis leave a hexagon; what is in its bundle acts on it first") {
    Halved h(make_prism(std::vector<Point2>{{-20, -20}, {20, -20}, {20, 20}, {-20, 20}}, 0, 5));
    // Looking along +x, 6 from the axis: the plane across flats of 12.
    h.stand({{6, 0, 0}, {0, 90, 0}});
    edit_step(h.job, h.step, [](Step& s) {
        s.operand->copies = Copies{.kind = "round", .values = {{"count", std::int64_t{6}}}};
    });
    // Area of a regular hexagon by its flats s: s^2 sqrt(3) / 2 (closed form).
    CHECK(signed_volume(h.result().mesh) == Approx(144 * std::sqrt(3.0) / 2 * 5).epsilon(1e-12));
    edit_step(h.job, h.step, [](Step& s) { s.operand->copies.reset(); });
    h.stand({{0, 0, 3}, {}});
    CHECK(signed_volume(h.result().mesh) == 1600 * 3);
    // A peg that the half space has a hole for stays standing.
    const std::string peg = add(h.job, "peg", make_box({-1, -1, 0}, {1, 1, 5}));
    const std::string kept = add_combining(h.job, Operation::difference, peg);
    REQUIRE(move_into(h.job, kept, h.step));
    CHECK(signed_volume(h.result().mesh) == 1600 * 3 + 4 * 2);
}

TEST_CASE("what has no end is no body: as the base, united, treated, or delivered it is refused with a sentence") {
    Halved h(make_box({0, 0, 0}, {10, 10, 10}), Operation::union_of);
    CHECK(h.trouble().find("has no end") != std::string::npos);
    edit_step(h.job, h.step, [](Step& s) { s.kind = "difference"; });
    h.stand({{0, 0, 5}, {}});
    CHECK(h.trouble().empty());
    const std::string treated = add_treatment(h.job, {h.half}, "mirror");
    CHECK(h.trouble().find("has no end") != std::string::npos);
    remove_step(h.job, treated);
    CHECK(h.trouble().empty());
    REQUIRE(make_base(h.job, h.half));
    CHECK(h.trouble().find("cannot be one") != std::string::npos);
    Job alone;
    add_part(alone, "half", Shape{.kind = "half-space"});
    const Evaluation none = evaluated(h.evaluator, alone);
    CHECK(none.combined->mesh.empty());
    REQUIRE(none.first_error);
}

TEST_CASE("real bodies cut by half spaces at random: both sides are sound and add up to the whole", "[sweep]") {
    const std::uint32_t seed = seed_of_run();
    std::printf("half spaces: seed %u\n", seed);
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> unit(-1, 1);
    int cut = 0;
    for (const auto& file : real_meshes()) {
        auto mesh = read_mesh(file);
        if (!mesh || mesh->faces.size() > 8'000 || random() % 3 != 0) continue;
        const Mesh body = welded(*mesh);
        if (!inspected(body).print_ready) continue;
        const Box box = bounds(body);
        const double volume = signed_volume(body);
        Halved h(body);
        h.stand({box.center() + box.size() * (0.3 * unit(random)),
                 {180 * unit(random), 180 * unit(random), 180 * unit(random)}});
        double sum = 0;
        for (const char* kind : {"difference", "intersection"}) {
            edit_step(h.job, h.step, [&](Step& s) { s.kind = kind; });
            const Combined part = h.result();
            INFO(file << ", seed " << seed << ", " << findings_text(inspected(part.mesh)));
            CHECK((part.mesh.empty() || inspected(part.mesh).print_ready));
            sum += signed_volume(part.mesh);
        }
        INFO(file << ", seed " << seed);
        CHECK(sum == Approx(volume).epsilon(1e-9));
        ++cut;
    }
    CHECK((cut > 0 || real_meshes().empty()));
}
