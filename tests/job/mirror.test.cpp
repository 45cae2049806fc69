#include "tests/job/jobs.h"
#include "tests/job/treated.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("mirror: every bit of a body comes back on the other side, still looking outward") {
    const Mesh ball = make_icosphere({1.1, 2.3, -0.7}, 3.3, 3);
    for (const char* axis : {"x", "y", "z"}) {
        const Mesh once = *treated("mirror", ball, {{"across", std::string(axis)}}).mesh;
        const int k = axis[0] - 'x';
        for (const VertexId v : ids<VertexId>(ball.points.size())) {
            REQUIRE(once.points[v][k] == -ball.points[v][k]);
            REQUIRE(once.points[v][(k + 1) % 3] == ball.points[v][(k + 1) % 3]);
        }
        CHECK(signed_volume(once) == Approx(signed_volume(ball)));
        CHECK(inspected(once).print_ready);
        CHECK(treated("mirror", once, {{"across", std::string(axis)}}).mesh->points.raw() == ball.points.raw());
    }
}

TEST_CASE("mirror: across a plane off the origin, to within one rounding; materials stay with their faces") {
    Mesh box = make_box({1, 2, 3}, {2, 4, 6});
    box.materials = {{"red", std::nullopt}};
    box.material.raw().assign(box.faces.size(), 0);
    const Mesh there = *treated("mirror", box, {{"at", 10.0}}).mesh;
    CHECK(bounds(there).low == Vec3{18, 2, 3});
    CHECK(bounds(there).high == Vec3{19, 4, 6});
    CHECK(there.material.size() == box.faces.size());
}

TEST_CASE("what a treatment leaves is settled for a file in single precision") {
    // Cut a hair beside a ring of points: faces 1e-9 mm high, which single precision has no room for.
    const Mesh ball = make_sphere({0, 0, 0}, 20, 21, 40);
    const Vec3 normal = normalized(Vec3{0.3, -0.5, 0.8});
    Vec3 nearest = ball.points.raw().front();
    for (const Vec3& p : ball.points)
        if (std::fabs(dot(p, normal)) < std::fabs(dot(nearest, normal))) nearest = p;
    for (const double off : {1e-9, -1e-9, 1e-12}) {
        Job job;
        const Values half{{"across", std::string("free")}, {"origin", nearest + normal * off}, {"normal", normal}};
        add(job, "ball", ball);
        add_treatment(job, {job.work()}, "symmetry", half);
        // What is delivered beside it, too.
        const std::string other = add_part(job, "other", std::make_shared<const Mesh>(ball));
        add_treatment(job, {other}, "symmetry", half);
        job.results.push_back(other);
        Evaluator evaluator;
        Progress progress;
        for (const Precision precision : {Precision::double_precision, Precision::single_precision}) {
            const auto done =
                evaluator.evaluate(job, progress, ~std::size_t{0}, settle_options(job.settings, precision));
            REQUIRE(done);
            REQUIRE(!done->first_error);
            REQUIRE(done->also.contains(other));
            for (const Combined* result : {done->combined.get(), done->also.at(other).get()}) {
                if (precision == Precision::single_precision)
                    for (const Vec3& p : result->mesh.points) CHECK(in_single_precision(p) == p);
                CHECK(inspected(result->mesh).print_ready);
            }
        }
    }
}
