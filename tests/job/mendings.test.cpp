// Mendings of parts: what the steps see, what is kept between evaluations, and what a file holds.
#include "core/job/job_file.h"
#include "demo/lantern.h"
#include "tests/job/jobs.h"
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
    add(job, "box", open);
    add_combining(job, Operation::difference, add(job, "bore", make_box({4, 4, -1}, {6, 6, 11})));
    return job;
}
/// The scanned bracket, with every repair.
struct MendedScan {
    Job job;
    std::string scan = add(job, "scan", demo::scanned_bracket()), mend = add_mending(job, scan, whole_plan());
};

}  // namespace

TEST_CASE("a part's steps see it mended; what the mending did is told, and the note about its holes is gone") {
    Job job = open_box_with_bore();
    Evaluator evaluator;
    CHECK(!evaluated(evaluator, job).base_note.empty());
    const std::string id = add_mending(job, base_of(job), whole_plan());
    const Evaluation e = evaluated(evaluator, job);
    CHECK(e.base_note.empty());
    CHECK(volume(e) == Approx(1000 - 40));
    REQUIRE(mended(e, id));
    CHECK(mended(e, id)->after.print_ready);
    CHECK(e.parts.at(base_of(job))->faces.size() == 12);
}

TEST_CASE("mendings are worked out once: switches and moves find them at hand, at the same address") {
    Job job = open_box_with_bore();
    const std::string base = base_of(job), id = add_mending(job, base, whole_plan());
    Evaluator evaluator;
    const Evaluation first = evaluated(evaluator, job);
    edit_use(job, {base, {job.work()}}, [](Use& use) { use.placement.position = {1, 0, 0}; });
    CHECK(evaluated(evaluator, job).parts.at(base) == first.parts.at(base));
    set_on(job, id, false);
    const Evaluation off = evaluated(evaluator, job);
    CHECK(off.parts.at(base) == mesh_of(job, base));
    CHECK(!mended(off, id));
    set_on(job, id, true);
    CHECK(evaluated(evaluator, job).parts.at(base) == first.parts.at(base));
    // Another repair on top works on what the first one left.
    add_mending(job, base, std::vector{Repair::shells}, {.smallest_shell = 1});
    CHECK(mended(evaluated(evaluator, job), id) == mended(first, id));
}

TEST_CASE("for a file in single precision the mending is done in single precision") {
    const Job job = MendedScan().job;
    Evaluator evaluator;
    Progress progress;
    auto e =
        evaluator.evaluate(job, progress, ~std::size_t{0}, settle_options(job.settings, Precision::single_precision));
    REQUIRE(e);
    for (const Vec3& p : e->combined->mesh.points) REQUIRE(p == in_single_precision(p));
    CHECK(inspected(e->combined->mesh).print_ready);
}

TEST_CASE("a stop in the middle of mending stops the evaluation, and the next one goes through") {
    const MendedScan scan;
    Evaluator evaluator;
    Progress stopped;
    stopped.cancel();
    const auto e = evaluator.evaluate(scan.job, stopped);
    REQUIRE(!e);
    CHECK(e.error().is_cancel());
    CHECK(mended(evaluated(evaluator, scan.job), scan.mend)->after.print_ready);
}

TEST_CASE("mendings come back from a file, with what a later version wrote beside them") {
    TempFolder folder;
    Job job = open_box_with_bore();
    const MendOptions some{
        .weld_distance = 0.125, .longest_hole = 40, .smallest_shell = 2, .places = {{1, 2, 3}, {0.1, 0, 0}}},
        thick{.sheets = SheetRule::thicken, .thickness = 1.5};
    const std::string first = add_mending(job, base_of(job), std::vector{Repair::holes, Repair::weld}, some),
                      second = add_mending(job, "part-2", whole_plan(), thick);
    edit_step(job, second, [](Step& s) {
        s.on = false;
        s.extra = R"({"colour":"blue"})";
    });
    REQUIRE(write_job(job, folder / "a.anvil"));
    const auto back = read_job(folder / "a.anvil");
    REQUIRE(back);
    const Step &one = *find_step(*back, first).step, &two = *find_step(*back, second).step;
    CHECK(mend_settings(one.values).options == some);
    CHECK(mend_settings(one.values).repairs == std::vector{Repair::weld, Repair::holes});
    CHECK(mend_settings(two.values).options == thick);
    CHECK(mend_settings(two.values).is_whole_plan());
    CHECK(!two.on);
    CHECK(two.extra == R"({"colour":"blue"})");
}

TEST_CASE("a part that encloses nothing is taken as a sheet or closed, as it says, also after a file") {
    TempFolder folder;
    Job job;
    add(job, "block", make_box({0, 0, 0}, {10, 10, 10}));
    const std::string tray = add(job, "tray", without_top(make_box({2, 2, 2}, {6, 6, 3}), 3));
    const std::string cut = add_combining(job, Operation::difference, tray);
    Evaluator evaluator;
    const Evaluation sheet = evaluated(evaluator, job);
    CHECK(sheet.sheets.contains(tray));
    CHECK(volume(sheet) == Approx(1000));
    edit_use(job, row_of(job, cut), [](Use& use) { use.closes_sheets = true; });
    REQUIRE(write_job(job, folder / "a.anvil"));
    const auto back = read_job(folder / "a.anvil");
    REQUIRE(back);
    CHECK(find_step(*back, cut).step->operand->closes_sheets);
    const Evaluation closed = evaluated(evaluator, *back);
    CHECK(closed.sheets.empty());
    CHECK(volume(closed) == Approx(1000 - 16));
}

TEST_CASE("a plan that needs a decision stops before it, and goes on with the answer") {
    // A tube, open at both ends by holes that are large for its size.
    Mesh tube = make_box({0, 0, 0}, {10, 10, 13});
    std::erase_if(tube.faces.raw(), [&](const Triangle& t) {
        return tube.points[t[0]].z == tube.points[t[1]].z && tube.points[t[1]].z == tube.points[t[2]].z;
    });
    tube.faces.push_back(tube.faces[FaceId(0)]);  // a duplicate, which goes before the question comes up
    Job job;
    const std::string id = add_mending(job, add(job, "tube", tube), whole_plan(), cautious_options(tube));
    Evaluator evaluator;
    const Evaluation stopped = evaluated(evaluator, job);
    const RowOutcome& row = stopped.rows.at(id);
    REQUIRE(row.treated);
    REQUIRE(row.treated->question);
    const Question question = *row.treated->question;
    CHECK(question.about == Question::About::long_holes);
    const Mended& done = *row.treated->mended;
    CHECK(done.after.count(FindingKind::duplicate_faces) == 0);
    CHECK(done.after.count(FindingKind::holes) == 2);
    for (const Repaired& r : done.repairs) CHECK(r.repair < first_waiting(Question::About::long_holes));

    auto answer = [&](std::size_t k) {
        edit_mending(job, id, [&](MendSettings& m) {
            m.answered = {std::string(word(question.about))};
            m.options = question.answers[k].options;
        });
        return evaluated(evaluator, job);
    };
    const Evaluation on = answer(1);
    CHECK(!on.rows.at(id).treated->question);
    CHECK(volume(on) == Approx(1300));
    CHECK(mended(answer(0), id)->after.count(FindingKind::holes) == 2);
}

TEST_CASE("each setting of a mending counts for what is kept") {
    Job job;
    const std::string id = add_mending(job, add(job, "dome", demo::scanned_dome()), std::vector{Repair::duplicates});
    Evaluator evaluator;
    std::set<std::shared_ptr<const Mended>> all;  // held, so that each has an address of its own
    auto note = [&] { all.insert(mended(evaluated(evaluator, job), id)); };
    note();
    note();
    CHECK(all.size() == 1);
    std::size_t settings = 0;
    auto with = [&](const auto& change) {
        const Job before = job;
        edit_mending(job, id, change);
        note();
        ++settings;
        job = before;
    };
    with([](MendSettings& m) { m.repairs.push_back(Repair::fins); });
    with([](MendSettings& m) { m.options.weld_distance = 1e-9; });
    with([](MendSettings& m) { m.options.border_reach = 1e-9; });
    with([](MendSettings& m) { m.options.longest_hole = 1e9; });
    with([](MendSettings& m) { m.options.bridge_within = 1e-9; });
    with([](MendSettings& m) { m.options.fill = FillStyle::flat; });
    with([](MendSettings& m) { m.options.smallest_shell = 1e-9; });
    with([](MendSettings& m) { m.options.sheets = SheetRule::close; });
    with([](MendSettings& m) { m.options.thickness = 1e-9; });
    with([](MendSettings& m) { m.options.places = {{1, 2, 3}}; });
    job.settings.contact = ContactRule::join;
    note();
    CHECK(all.size() == 1 + settings + 1);
}
