// The base is moved: what acts on it goes along, what is unlinked stays, and the result is as sound as before.
#include <random>

#include "core/io/mesh_file.h"
#include "core/job/job_text.h"
#include "core/job/links.h"
#include "core/job/place_edits.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A block with a bore through it, and a rib that ends flush with its face.
struct Movable {
    Job job;
    std::string block = add(job, "block", make_box({0, 0, 0}, {20, 10, 10})),
                bore = add(job, "bore", make_box({0, 0, 0}, {2, 2, 20})),
                rib = add(job, "rib", make_box({0, 0, 0}, {3, 5, 10})), cut, keep;
    Movable() {
        edit_part(job, bore, [](Part& p) { p.bench = {{4, 4, -5}, {}}; });
        edit_part(job, rib, [](Part& p) { p.bench = {{12, 10, 0}, {}}; });
        cut = add_combining(job, Operation::difference, bore);
        keep = add_combining(job, Operation::union_of, rib);
    }
    RowId base() const { return rows_of(job).front().id; }
    Evaluation evaluated() const {
        Evaluator evaluator;
        return test::evaluated(evaluator, job);
    }
    /// Where a part that a step uses stands in the job.
    Vec3 foot(const std::string& step) const {
        const std::vector<Row> rows = rows_of(job);
        const Row* row = find_row(rows, row_of(job, step));
        return apply(Transform(row->frame * row->placement().transform()), Vec3{});
    }
};

constexpr double volume_of_bored = 2000 - 40 + 150;

}  // namespace

TEST_CASE("what acts on the base goes along when that is moved, and what lies flush stays flush at any angle") {
    Movable b;
    const Evaluation before = b.evaluated();
    CHECK(volume(before) == Approx(volume_of_bored).epsilon(1e-12));
    const Placement there{{100, -7, 3}, {17, 30, 41}};
    set_placement(b.job, b.base(), there);
    CHECK(rows_of(b.job).front().placement() == there);
    const Evaluation after = b.evaluated();
    CHECK(volume(after) == Approx(volume_of_bored).epsilon(1e-12));
    CHECK(after.combined->mesh.faces.size() == before.combined->mesh.faces.size());
    CHECK(after.combined->flush.size() == before.combined->flush.size());
    CHECK(inspected(after.combined->mesh).print_ready);
    // Each face comes from the same operand, and lies where the move takes it.
    const Transform move = there.transform();
    CHECK(norm(bounds(after.combined->mesh).low - bounds(transformed(before.combined->mesh, move)).low) < 1e-12);
    std::map<std::uint32_t, double> area_before, area_after;
    auto areas = [](const Combined& c, std::map<std::uint32_t, double>& out) {
        for (FaceId f : ids<FaceId>(c.mesh.faces.size())) {
            const Vec3 a = c.mesh.corner(f, 0);
            out[c.source[f.value()].operand] += norm(cross(c.mesh.corner(f, 1) - a, c.mesh.corner(f, 2) - a)) / 2;
        }
    };
    areas(*before.combined, area_before);
    areas(*after.combined, area_after);
    REQUIRE(area_before.size() == 3);
    for (const auto& [operand, area] : area_before) CHECK(area_after[operand] == Approx(area).epsilon(1e-12));
}

TEST_CASE("quarter turns of the base are exact, and back again it is the same to the bit") {
    Movable b;
    const Mesh before = b.evaluated().combined->mesh;
    set_placement(b.job, b.base(), {{0, 0, 5}, {0, 0, 90}});
    const Mesh turned = b.evaluated().combined->mesh;
    CHECK(bounds(turned).low == Vec3{-15, 0, 5});
    CHECK(bounds(turned).high == Vec3{0, 20, 15});
    CHECK(signed_volume(turned) == volume_of_bored);
    set_placement(b.job, b.base(), {});
    CHECK(b.evaluated().combined->mesh == before);
}

TEST_CASE("what is unlinked stays where it is while the base moves under it") {
    Movable b;
    edit_step(b.job, b.cut, [](Step& s) { s.unlinked = true; });
    set_placement(b.job, b.base(), {{3, 0, 0}, {0, 0, 90}});
    CHECK(norm(b.foot(b.cut) - Vec3{4, 4, -5}) < 1e-12);
    CHECK(norm(b.foot(b.keep) - Vec3{3 - 10, 12, 0}) < 1e-12);
    // The block is at x -7 to 3 now: the bore misses it.
    CHECK(volume(b.evaluated()) == Approx(2000 + 150));
    set_placement(b.job, b.base(), {});
    CHECK(norm(b.foot(b.cut) - Vec3{4, 4, -5}) < 1e-12);
    CHECK(volume(b.evaluated()) == Approx(volume_of_bored));
}

TEST_CASE("copies of what is unlinked stay where they are, too, mirrored ones to the bit when the base is back") {
    for (const bool round : {false, true}) {
        Movable b;
        edit_step(b.job, b.cut, [&](Step& s) {
            s.unlinked = true;
            s.operand->copies =
                round ? Copies{.kind = "round", .values = {{"count", 3}, {"centre_x", 10.0}, {"centre_y", 5.0}}}
                      : Copies{.kind = "mirrored", .values = {{"across", std::string("x")}, {"at", 10.0}}};
        });
        // Where all copies stand in the job, whatever the base does.
        auto copies = [&](const Evaluation& e) {
            const Part& work = *b.job.find_part(b.job.work());
            return transformed(*e.copies.at(b.cut), work.bench.transform());
        };
        const Evaluation before = b.evaluated();
        const Mesh there = copies(before);
        set_placement(b.job, b.base(), {{3, -8, 2}, {20, 10, 75}});
        const Job again = *job_from_text(
            job_text(b.job),
            [](const std::string&) -> Result<std::shared_ptr<const Mesh>> { return std::make_shared<const Mesh>(); });
        CHECK(find_step(again, b.cut).step->operand->copies->frame ==
              find_step(b.job, b.cut).step->operand->copies->frame);
        const Mesh now = copies(b.evaluated());
        REQUIRE(now.points.size() == there.points.size());
        double apart = 0;
        for (std::size_t i = 0; i < now.points.size(); ++i)
            apart = std::max(apart, norm(now.points.raw()[i] - there.points.raw()[i]));
        CHECK(apart < 1e-12);
        set_placement(b.job, b.base(), {});
        CHECK(find_step(b.job, b.cut).step->operand->copies->frame.is_identity());
        CHECK(volume(b.evaluated()) == Approx(volume(before)));
    }
}

TEST_CASE("copies keep their directions when their step goes into the list of what is turned") {
    Movable b;
    edit_step(b.job, b.keep, [](Step& s) { s.operand->placement.angles = {0, 0, 90}; });
    edit_step(b.job, b.cut, [](Step& s) {
        s.operand->copies = Copies{.kind = "rows", .values = {{"count_x", 3}, {"x", 4.0}}};
    });
    const Box before = bounds(*b.evaluated().copies.at(b.cut));
    REQUIRE(move_into(b.job, b.cut, b.keep));
    const Evaluation after = b.evaluated();
    const Transform stands = find_step(b.job, b.keep).step->operand->placement.transform();
    const Box now = bounds(transformed(*after.copies.at(b.cut), stands));
    CHECK(norm(now.low - before.low) < 1e-12);
    CHECK(norm(now.high - before.high) < 1e-12);
}

TEST_CASE("with a base that was moved: what is added, taken out, duplicated or made the base stays where it stood") {
    Movable b;
    const Placement there{{50, 0, 0}, {0, 0, 30}};
    set_placement(b.job, b.base(), there);
    const std::string pin = add_part(b.job, "pin", std::make_shared<const Mesh>(make_box({0, 0, 0}, {1, 1, 1})));
    const Placement stands{{48, 3, 9}, {0, 0, 12}};
    edit_part(b.job, pin, [&](Part& p) { p.bench = stands; });
    const std::string step = add_combining(b.job, Operation::union_of, pin);
    CHECK(norm(b.foot(step) - stands.position) < 1e-12);
    const double with_pin = volume(b.evaluated());
    CHECK(with_pin > volume_of_bored);
    const RowId twin = duplicate(b.job, row_of(b.job, step), {0, 0, 5});
    CHECK(norm(b.foot(twin.step()) - (stands.position + Vec3{0, 0, 5})) < 1e-12);
    remove_step(b.job, twin.step());
    remove_step(b.job, step);
    CHECK(norm(b.job.find_part(pin)->bench.position - stands.position) < 1e-12);
    CHECK(b.job.find_part(pin)->bench.angles.z == Approx(12));
    // Another base: the one before is left where it stood.
    REQUIRE(make_base(b.job, pin));
    CHECK(norm(b.job.find_part(b.block)->bench.position - there.position) < 1e-12);
    CHECK(norm(rows_of(b.job).front().placement().position - stands.position) < 1e-12);
    CHECK(norm(b.foot(b.keep) - apply(there.transform(), Vec3{12, 10, 0})) < 1e-12);
}

TEST_CASE("a piece of the result, and edits by hand on it, are found again when the base is moved") {
    Movable b;
    const Evaluation before = b.evaluated();
    const Mesh& mesh = before.combined->mesh;
    HandEdit flip{.tool = HandTool::flip_faces};
    for (int k = 0; k < 3; ++k) flip.points.push_back(mesh.corner(FaceId(0), k));
    const std::string edit = add_edit(b.job, {b.job.work()}, flip);
    set_placement(b.job, b.base(), {{1, 2, 3}, {10, 20, 30}});
    const Evaluation after = b.evaluated();
    REQUIRE(after.row(edit));
    CHECK(after.row(edit)->counted);
    CHECK_FALSE(after.first_error);
    // One face looks the other way: it is told, not mended.
    const Inspection found = inspected(after.combined->mesh);
    CHECK_FALSE(found.print_ready);
    CHECK(found.count(FindingKind::misoriented_edges) == 3);
}

TEST_CASE("pieces of a split stay pieces where the base is turned, each closed, in both precisions") {
    Job job;
    add(job, "ball", make_icosphere({0, 0, 0}, 10, 4));
    const std::string plate = add(job, "plate", make_box({-20, -20, -1}, {20, 20, 1}));
    add_combining(job, Operation::split, plate);
    set_placement(job, rows_of(job).front().id, {{0, 0, 10}, {31, 12, 73}});
    for (const Precision precision : {Precision::double_precision, Precision::single_precision}) {
        Evaluator evaluator;
        Progress progress;
        const auto done = evaluator.evaluate(job, progress, ~std::size_t{0}, settle_options(job.settings, precision));
        REQUIRE(done);
        REQUIRE(done->combined->pieces() == 2);
        double sum = 0;
        for (std::size_t k = 0; k < 2; ++k) {
            const Mesh piece = done->combined->piece(k);
            CHECK(inspected(piece).print_ready);
            sum += signed_volume(piece);
            if (precision == Precision::single_precision)
                for (const Vec3& p : piece.points) REQUIRE(p == in_single_precision(p));
        }
        CHECK(sum == Approx(signed_volume(make_icosphere({0, 0, 0}, 10, 4))).epsilon(1e-6));
    }
}

TEST_CASE("in the coordinates of its list the result is the same wherever the base stands") {
    Movable b;
    Evaluator evaluator;
    Progress progress;
    auto in_list = [&] {
        auto done = evaluator.evaluate(b.job, progress, ~std::size_t{0}, std::nullopt, ResultAt::its_list);
        REQUIRE(done);
        return done->combined;
    };
    const auto before = in_list();
    set_placement(b.job, b.base(), {{5, 5, 5}, {1, 2, 3}});
    CHECK(in_list() == before);  // kept: nothing was worked out
}

TEST_CASE("the file keeps where the base stands and what is unlinked; in one of 2.2 the list stood nowhere else") {
    Movable b;
    set_placement(b.job, b.base(), {{1, 2, 3}, {0, 0, 30}});
    edit_step(b.job, b.keep, [](Step& s) { s.unlinked = true; });
    const std::string text = job_text(b.job);
    auto read = [&](const std::string& from) {
        auto job = job_from_text(from, [](const std::string&) -> Result<std::shared_ptr<const Mesh>> {
            return std::make_shared<const Mesh>(make_box({0, 0, 0}, {1, 1, 1}));
        });
        REQUIRE(job);
        return *job;
    };
    const Job again = read(text);
    CHECK(again.find_part(again.work())->bench == Placement{{1, 2, 3}, {0, 0, 30}});
    CHECK(find_step(again, b.keep).step->unlinked);
    CHECK_FALSE(find_step(again, b.cut).step->unlinked);
    std::string older = text;
    const auto at = older.find("\"minor\": 4");
    REQUIRE(at != std::string::npos);
    older.replace(at, 10, "\"minor\": 2");
    CHECK(read(older).find_part(again.work())->bench.is_identity());
}

TEST_CASE("a result of nothing is nothing wherever the base stands, with the reason") {
    Movable b;
    const std::string block = add(b.job, "all of it", make_box({-5, -5, -5}, {40, 40, 40}));
    add_combining(b.job, Operation::difference, block);
    set_placement(b.job, b.base(), {{1, 2, 3}, {0, 30, 0}});
    const Evaluation done = b.evaluated();
    CHECK(done.combined->mesh.empty());
    CHECK(done.combined->empty);
    CHECK(!done.combined->reason.empty());
    CHECK(done.combined->pieces() == 1);
}

namespace {

/// Sound real bodies, cut by a ball and a turned copy of themselves, then moved and turned.
void move_real_bodies(std::uint32_t seed, std::size_t most_faces, unsigned one_in) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> unit(-1, 1);
    int moved = 0;
    for (const auto& file : real_meshes()) {
        auto mesh = read_mesh(file);
        if (!mesh || mesh->faces.size() > most_faces || random() % one_in != 0) continue;
        const Mesh body = welded(*mesh);
        if (!inspected(body).print_ready) continue;
        const Box box = bounds(body);
        Job job;
        add(job, "body", body);
        const std::string ball = add(job, "ball", make_icosphere(box.center(), 0.3 * box.diagonal(), 3));
        const std::string same = add(job, "same", body);
        edit_part(job, same, [&](Part& p) {
            p.bench = {box.size() * (0.1 * unit(random)), {0, 0, random() % 2 ? 0 : 180 * unit(random)}};
        });
        const Operation operations[] = {Operation::difference, Operation::union_of, Operation::split,
                                        Operation::intersection, Operation::inlay};
        add_combining(job, operations[random() % 2], ball);
        add_combining(job, operations[random() % 5], same);
        Evaluator evaluator;
        const Evaluation before = test::evaluated(evaluator, job);
        set_placement(job, rows_of(job).front().id,
                      {Vec3{unit(random), unit(random), unit(random)} * (2 * box.diagonal()),
                       {180 * unit(random), 180 * unit(random), 180 * unit(random)}});
        for (const Precision precision : {Precision::double_precision, Precision::single_precision}) {
            Progress progress;
            const auto after =
                evaluator.evaluate(job, progress, ~std::size_t{0}, settle_options(job.settings, precision));
            INFO(file << ", seed " << seed << ", precision " << static_cast<int>(precision));
            REQUIRE(after);
            CHECK(after->combined->pieces() == before.combined->pieces());
            const double share = precision == Precision::double_precision ? 1e-9 : 1e-4;
            CHECK(volume(*after) == Approx(volume(before)).epsilon(share).margin(1e-9 * signed_volume(body)));
            for (std::size_t k = 0; k < after->combined->pieces(); ++k) {
                const Mesh piece = after->combined->piece(k);
                if (piece.empty()) continue;
                const Inspection found = inspected(piece);
                INFO(findings_text(found));
                CHECK(found.print_ready);
            }
        }
        ++moved;
    }
    CHECK((moved > 0 || real_meshes().empty()));
}

}  // namespace

TEST_CASE("real bodies, cut and then moved, stay sound in both precisions, a sample") {
    const std::uint32_t seed = seed_of_run();
    std::printf("bodies moved: seed %u\n", seed);
    move_real_bodies(seed, 6'000, 5);
}

TEST_CASE("real bodies, cut and then moved, stay sound in both precisions", "[.long]") {
    for (std::uint32_t seed = 1; seed <= 8; ++seed) move_real_bodies(seed, 40'000, 2);
}
