// Mendings of parts: what the steps see, what is kept between evaluations, and what a file holds.
#include "core/job/evaluate.h"
#include "core/job/job_file.h"
#include "demo/lantern.h"
#include "tests/support/mending.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A box of 10 mm with a face missing at the top, as base, and a bore through it.
Job open_box_with_bore() {
    Mesh open = make_box({0, 0, 0}, {10, 10, 10});
    for (std::size_t f = 0; f < open.faces.size(); ++f)
        if (open.corner(FaceId(f), 0).z == 10 && open.corner(FaceId(f), 1).z == 10 &&
            open.corner(FaceId(f), 2).z == 10) {
            open.faces.raw().erase(open.faces.begin() + static_cast<long>(f));
            break;
        }
    Job job;
    job.add_part("box", std::make_shared<const Mesh>(open));
    job.add_step(Operation::difference,
                 job.add_part("bore", std::make_shared<const Mesh>(make_box({4, 4, -1}, {6, 6, 11}))));
    return job;
}
/// The scanned bracket, with every repair.
Job mended_scan() {
    Job job;
    job.add_part("scan", std::make_shared<const Mesh>(demo::scanned_bracket()));
    job.add_mending(job.base, whole_plan());
    return job;
}
Evaluation after(Evaluator& evaluator, const Job& job) {
    Progress progress;
    auto out = evaluator.evaluate(job, progress);
    REQUIRE(out);
    return std::move(*out);
}

}  // namespace

TEST_CASE("a part's steps see it mended; what the mending did is told, and the note about its holes is gone") {
    Job job = open_box_with_bore();
    Evaluator evaluator;
    CHECK(!after(evaluator, job).base_note.empty());
    const std::string id = job.add_mending(job.base, whole_plan());
    const Evaluation e = after(evaluator, job);
    CHECK(e.base_note.empty());
    CHECK(signed_volume(e.combined->mesh) == Approx(1000 - 40));
    REQUIRE(e.mended.at(job.base).done.size() == 1);
    CHECK(e.mended.at(job.base).done[0]->after.print_ready);
    CHECK(e.mended.at(job.base).mesh->faces.size() == 12);
    CHECK(job.find_part(job.base)->find_mending(id)->on);
}

TEST_CASE("mendings are worked out once: switches and moves find them at hand, at the same address") {
    Job job = open_box_with_bore();
    const std::string id = job.add_mending(job.base, whole_plan());
    Evaluator evaluator;
    const auto first = after(evaluator, job).mended.at(job.base);
    job.find_part(job.base)->placement.position = {1, 0, 0};
    const auto moved = after(evaluator, job).mended.at(job.base);
    CHECK(moved.mesh.get() == first.mesh.get());
    job.find_part(job.base)->find_mending(id)->on = false;
    const auto off = after(evaluator, job).mended.at(job.base);
    CHECK(off.mesh == job.find_part(job.base)->mesh);
    CHECK(off.done[0] == nullptr);
    job.find_part(job.base)->find_mending(id)->on = true;
    CHECK(after(evaluator, job).mended.at(job.base).mesh.get() == first.mesh.get());
    // Another repair on top works on what the first one left.
    job.add_mending(job.base, std::vector{Repair::shells}, {.smallest_shell = 1});
    const auto two = after(evaluator, job).mended.at(job.base);
    REQUIRE(two.done.size() == 2);
    CHECK(two.done[0].get() == first.done[0].get());
}

TEST_CASE("for a file in single precision the mending is done in single precision") {
    const Job job = mended_scan();
    Evaluator evaluator;
    Progress progress;
    auto e = evaluator.evaluate(job, progress, 0, settle_options(job.settings, Precision::single_precision));
    REQUIRE(e);
    for (const Vec3& p : e->combined->mesh.points) REQUIRE(p == in_single_precision(p));
    CHECK(inspected(e->combined->mesh).print_ready);
}

TEST_CASE("a stop in the middle of mending stops the evaluation, and the next one goes through") {
    const Job job = mended_scan();
    Evaluator evaluator;
    Progress stopped;
    stopped.cancel();
    const auto e = evaluator.evaluate(job, stopped);
    REQUIRE(!e);
    CHECK(e.error().is_cancel());
    CHECK(after(evaluator, job).mended.at(job.base).done[0]->after.print_ready);
}

TEST_CASE("mendings come back from a file, with what a later version wrote beside them") {
    TempFolder folder;
    Job job = open_box_with_bore();
    job.add_mending(
        job.base, std::vector{Repair::holes, Repair::weld},
        {.weld_distance = 0.125, .longest_hole = 40, .smallest_shell = 2, .places = {{1, 2, 3}, {0.1, 0, 0}}});
    job.add_mending(job.steps[0].part, whole_plan(), {.sheets = SheetRule::thicken, .thickness = 1.5});
    job.parts[1].mendings[0].on = false;
    job.parts[1].mendings[0].extra = R"({"colour":"blue"})";
    REQUIRE(write_job(job, folder / "a.anvil"));
    const auto back = read_job(folder / "a.anvil");
    REQUIRE(back);
    for (std::size_t p = 0; p < 2; ++p) {
        REQUIRE(back->parts[p].mendings.size() == 1);
        const Mending &was = job.parts[p].mendings[0], &is = back->parts[p].mendings[0];
        CHECK(is.id == was.id);
        CHECK(is.on == was.on);
        CHECK(is.repairs == was.repairs);
        CHECK(is.options == was.options);
    }
    CHECK(back->parts[1].mendings[0].extra == R"({"colour":"blue"})");
    CHECK(back->parts[0].mendings[0].repairs == std::vector{Repair::weld, Repair::holes});
}

TEST_CASE("a part that encloses nothing is taken as a sheet or closed, as it says, also after a file") {
    TempFolder folder;
    const Mesh tray = without_top(make_box({2, 2, 2}, {6, 6, 3}), 3);
    Job job;
    job.add_part("block", std::make_shared<const Mesh>(make_box({0, 0, 0}, {10, 10, 10})));
    job.add_step(Operation::difference, job.add_part("tray", std::make_shared<const Mesh>(tray)));
    Evaluator evaluator;
    const auto sheet = after(evaluator, job);
    CHECK(sheet.sheets.contains(job.steps[0].part));
    CHECK(signed_volume(sheet.combined->mesh) == Approx(1000));
    job.parts[1].closes_sheets = true;
    REQUIRE(write_job(job, folder / "a.anvil"));
    const auto back = read_job(folder / "a.anvil");
    REQUIRE(back);
    CHECK(back->parts[1].closes_sheets);
    CHECK(!back->parts[0].closes_sheets);
    const auto closed = after(evaluator, *back);
    CHECK(closed.sheets.empty());
    CHECK(signed_volume(closed.combined->mesh) == Approx(1000 - 16));
}

TEST_CASE("a part read in inches takes the chosen places of its mendings along") {
    Job job = open_box_with_bore();
    const Vec3 corner = job.find_part(job.base)->mesh->points[VertexId(3)];
    job.add_mending(job.base, whole_plan(), {.places = {corner}});
    read_as(job, std::vector{job.base}, ImportUnit::inch);
    CHECK(job.find_part(job.base)->mendings[0].options.places[0] == job.find_part(job.base)->mesh->points[VertexId(3)]);
}

TEST_CASE("a plan that needs a decision stops before it, and goes on with the answer") {
    // A tube, open at both ends by holes that are large for its size.
    Mesh tube = make_box({0, 0, 0}, {10, 10, 13});
    std::erase_if(tube.faces.raw(), [&](const Triangle& t) {
        return tube.points[t[0]].z == tube.points[t[1]].z && tube.points[t[1]].z == tube.points[t[2]].z;
    });
    tube.faces.push_back(tube.faces[FaceId(0)]);  // a duplicate, which goes before the question comes up
    Job job;
    job.add_part("tube", std::make_shared<const Mesh>(tube));
    const std::string id = job.add_mending(job.base, whole_plan(), cautious_options(tube));
    Evaluator evaluator;
    const Evaluation stopped = after(evaluator, job);
    const MendedPart& part = stopped.mended.at(job.base);
    REQUIRE(part.question);
    CHECK(part.question->question.about == Question::About::long_holes);
    CHECK(part.question->part == job.base);
    CHECK(part.question->mending == id);
    REQUIRE(part.done.size() == 1);
    CHECK(part.done[0]->after.count(FindingKind::duplicate_faces) == 0);
    CHECK(part.done[0]->after.count(FindingKind::holes) == 2);
    for (const Repaired& r : part.done[0]->repairs) CHECK(r.repair < first_waiting(Question::About::long_holes));

    Mending& mending = job.parts.front().mendings.front();
    mending.answered = {Question::About::long_holes};
    mending.options = part.question->question.answers[1].options;
    const Evaluation on = after(evaluator, job);
    CHECK(!on.mended.at(job.base).question);
    CHECK(signed_volume(on.combined->mesh) == Approx(1300));
    mending.options = part.question->question.answers[0].options;
    CHECK(after(evaluator, job).mended.at(job.base).done[0]->after.count(FindingKind::holes) == 2);
}

TEST_CASE("each setting of a mending counts for what is kept") {
    Job job;
    job.add_part("dome", std::make_shared<const Mesh>(demo::scanned_dome()));
    const std::string id = job.add_mending(job.base, std::vector{Repair::duplicates});
    Evaluator evaluator;
    Progress progress;
    std::set<std::shared_ptr<const Mended>> all;  // held, so that each has an address of its own
    auto note = [&] { all.insert(evaluator.evaluate(job, progress)->mended.at(job.base).done[0]); };
    note();
    note();
    CHECK(all.size() == 1);
    std::size_t settings = 0;
    auto with = [&](const auto& change) {
        const Job before = job;
        change(*job.find_part(job.base)->find_mending(id));
        note();
        ++settings;
        job = before;
    };
    with([](Mending& m) { m.repairs.push_back(Repair::fins); });
    with([](Mending& m) { m.options.weld_distance = 1e-9; });
    with([](Mending& m) { m.options.border_reach = 1e-9; });
    with([](Mending& m) { m.options.longest_hole = 1e9; });
    with([](Mending& m) { m.options.bridge_within = 1e-9; });
    with([](Mending& m) { m.options.fill = FillStyle::flat; });
    with([](Mending& m) { m.options.smallest_shell = 1e-9; });
    with([](Mending& m) { m.options.sheets = SheetRule::close; });
    with([](Mending& m) { m.options.thickness = 1e-9; });
    with([](Mending& m) { m.options.places = {{1, 2, 3}}; });
    job.settings.contact = ContactRule::join;
    note();
    CHECK(all.size() == 1 + settings + 1);
}
