// Copies along edges: of a rim, of a crossing curve that moves, and what is refused.
#include <cmath>
#include <numbers>

#include "core/job/anchors.h"
#include "core/job/job_text.h"
#include "core/mesh/chain.h"
#include "core/mesh/display.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A plate with a round bore through it, and pegs that are to stand round the bore's upper rim.
struct Rimmed {
    Job job;
    std::string plate, bore, peg, cut, step;
    Evaluator evaluator;
    Rimmed() {
        plate = add(job, "plate", make_box({0, 0, 0}, {60, 60, 5}));
        bore = add_part(
            job, "bore",
            Shape{.kind = "cylinder", .values = {{"diameter", 20.0}, {"height", 20.0}, {"around", std::int64_t{64}}}});
        edit_part(job, bore, [](Part& p) { p.bench = {{30, 30, -5}, {}}; });
        cut = add_combining(job, Operation::difference, bore);
        peg = add(job, "peg", make_box({-0.5, -0.5, -1}, {0.5, 0.5, 2}));
        edit_part(job, peg, [](Part& p) { p.bench = {{90, 90, 0}, {}}; });
        step = add_combining(job, Operation::union_of, peg);
        copy({});
    }
    void copy(Values values) {
        edit_step(job, step, [&](Step& s) { s.operand->copies = Copies{.kind = "along", .values = values}; });
    }
    Evaluation evaluated() { return test::evaluated(evaluator, job); }
    /// Holds on to all edges of the body before the step that lie on the rim.
    std::vector<Anchor> rim_at(double z) {
        const Evaluation done = evaluated();
        const RowOutcome* row = done.row(step);
        REQUIRE(row);
        REQUIRE(row->from);
        REQUIRE(row->lineage);
        const Mesh mesh = welded(*row->from);
        Selection edges{ElementKind::edges, {}};
        for (const Element& e : all_elements(mesh, ElementKind::edges)) {
            const Vec3 middle = (mesh.points[e[0]] + mesh.points[e[1]]) * 0.5;
            if (middle.z == z && std::hypot(middle.x - 30, middle.y - 30) < 10.01 &&
                norm(mesh.points[e[0]] - mesh.points[e[1]]) < 1.1) {
                edges = along_creases({ElementKind::edges, {e}}, creases_of(mesh, usual_crease));
                break;
            }
        }
        REQUIRE(edges.elements.size() >= 64);  // and points where diagonals of the bore's sides cross it
        return anchors_of(edges, mesh, *tags_of(*row->lineage));
    }
    std::string trouble() {
        const Evaluation done = evaluated();
        return done.first_error ? done.first_error->sentence() : "";
    }
    /// Middles of the copies, from the bore's axis.
    std::vector<Vec3> middles(const Vec3& axis) {
        const Evaluation done = evaluated();
        const Mesh all = *done.copies.at(step);
        std::vector<Vec3> out;
        for (std::size_t from = 0; from < all.points.size(); from += 8) {
            Vec3 sum;
            for (std::size_t k = 0; k < 8; ++k) sum = sum + all.points[VertexId(static_cast<std::uint32_t>(from + k))];
            out.push_back(sum * (1.0 / 8) - axis);
        }
        return out;
    }
};

}  // namespace

TEST_CASE("copies stand evenly round a crossing curve, x along it and z off the surface") {
    Rimmed r;
    CHECK(r.trouble().find("no edges are selected") != std::string::npos);
    const auto rim = r.rim_at(5);
    r.copy({{"edges", rim}, {"count", std::int64_t{8}}});
    CHECK(r.trouble().empty());
    const auto at = r.middles({30, 30, 5});
    REQUIRE(at.size() == 8);
    for (std::size_t k = 0; k < 8; ++k) {
        // On the rim's circle, an eighth of a turn from the one before.
        const Vec3 a = at[k], b = at[(k + 1) % 8];
        CHECK(std::hypot(a.x, a.y) ==
              Approx(9.65).margin(0.02));  // half a mm along z, which leans inward by 45 degrees
        CHECK(std::atan2(a.x * b.y - a.y * b.x, a.x * b.x + a.y * b.y) == Approx(std::numbers::pi / 4).margin(0.01));
    }
    CHECK(inspected(r.evaluated().combined->mesh).print_ready);
    // As it stands: only moved there.
    r.copy({{"edges", rim}, {"count", std::int64_t{8}}, {"turned", std::string("as it stands")}});
    for (const Vec3& a : r.middles({30, 30, 5})) {
        CHECK(std::hypot(a.x, a.y) == Approx(10).margin(0.013));  // on its facets
        CHECK(a.z == Approx(0.5));
    }
}

TEST_CASE(
    "copies go along when the crossing curve they stand on moves or grows, and stop with a sentence when it is gone") {
    Rimmed r;
    r.copy({{"edges", r.rim_at(5)}, {"count", std::int64_t{6}}, {"turned", std::string("as it stands")}});
    move_to(r.job, r.cut, {22, 35, -5});
    for (const Vec3& a : r.middles({22, 35, 5}))
        CHECK(std::hypot(a.x, a.y) == Approx(10).margin(0.013));  // on its facets
    edit_part(r.job, r.bore, [](Part& p) { std::get<Shape>(p.source).values["diameter"] = 30.0; });
    for (const Vec3& a : r.middles({22, 35, 5})) CHECK(std::hypot(a.x, a.y) == Approx(15).margin(0.02));
    CHECK(r.trouble().empty());
    // The base moves with all of it.
    set_placement(r.job, rows_of(r.job).front().id, {{0, 0, 50}, {0, 30, 0}});
    CHECK(r.trouble().empty());
    CHECK(inspected(r.evaluated().combined->mesh).print_ready);
    set_on(r.job, r.cut, false);
    CHECK(!r.trouble().empty());
    set_on(r.job, r.cut, true);
    CHECK(r.trouble().empty());
    // Undo and files keep what is held.
    const auto read =
        job_from_text(job_text(r.job), [&](const std::string& entry) -> Result<std::shared_ptr<const Mesh>> {
            return mesh_of(r.job, entry.substr(6, entry.size() - 10));
        });
    REQUIRE(read);
    CHECK(job_text(*read) == job_text(r.job));
}

TEST_CASE("copies by their distance, from a start, and kept off the ends of an open line") {
    Rimmed r;
    const double length = 64 * 20 * std::sin(std::numbers::pi / 64);
    r.copy({{"edges", r.rim_at(5)}, {"by", std::string("distance")}, {"distance", 4.0}, {"start", 1.0}});
    CHECK(r.middles({}).size() == static_cast<std::size_t>(length / 4));
    // An edge of the plate: open, 60 mm long.
    const Evaluation done = r.evaluated();
    const RowOutcome& row = *done.row(r.step);
    const Mesh mesh = welded(*row.from);
    Selection edge{ElementKind::edges, {}};
    for (const Element& e : all_elements(mesh, ElementKind::edges)) {
        const Vec3 a = mesh.points[e[0]], b = mesh.points[e[1]];
        if (a.y == 0 && b.y == 0 && a.z == 5 && b.z == 5) edge.add(std::span(&e, 1));
    }
    const auto held = anchors_of(edge, mesh, *tags_of(*row.lineage));
    r.copy({{"edges", held}, {"count", std::int64_t{4}}, {"inset", 6.0}, {"turned", std::string("as it stands")}});
    const auto at = r.middles({});
    REQUIRE(at.size() == 4);
    for (std::size_t k = 0; k < 4; ++k) CHECK(norm(at[k] - Vec3{6 + 16.0 * static_cast<double>(k), 0, 5.5}) < 1e-9);
    r.copy({{"edges", held}, {"count", std::int64_t{1}}, {"turned", std::string("as it stands")}});
    CHECK(norm(r.middles({}).front() - Vec3{30, 0, 5.5}) < 1e-9);
    r.copy({{"edges", held}, {"by", std::string("distance")}, {"distance", 20.0}});
    CHECK(r.middles({}).size() == 4);  // both ends
    r.copy({{"edges", held}, {"inset", 30.0}});
    CHECK(r.trouble().find("60 mm long") != std::string::npos);
    r.copy({{"edges", held}, {"by", std::string("distance")}, {"distance", 0.0001}});
    CHECK(r.trouble().find("distance") != std::string::npos);
    r.copy({{"edges", held}});
    std::vector<Anchor> both = held;
    for (const Anchor& a : r.rim_at(5)) both.push_back(a);
    r.copy({{"edges", both}});
    CHECK(r.trouble().find("several lines") != std::string::npos);
}
