// Edits of lists: what each changes, what it leaves where it stands, and what it refuses.
#include "core/job/groups.h"
#include "core/job/history.h"
#include "core/job/job_text.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A block with a bore, a rib and a waiting knob.
struct Bench {
    Job job;
    std::string block = add("block", make_box({0, 0, 0}, {10, 10, 10})),
                bore = add("bore", make_box({0, 0, 0}, {2, 2, 20})), rib = add("rib", make_box({0, 0, 0}, {1, 4, 30})),
                knob = add("knob", make_box({0, 0, 0}, {1, 1, 1}));
    std::string cut, keep;

    std::string add(const char* name, Mesh mesh) { return test::add(job, name, std::move(mesh)); }
    Bench() {
        edit_part(job, bore, [](Part& p) { p.bench = {{4, 4, -5}, {}}; });
        cut = add_combining(job, Operation::difference, bore);
        keep = add_combining(job, Operation::difference, rib);
        set_placement(job, row(keep), {{4.5, 3, -6}, {}});
    }
    RowId row(const std::string& step) const { return row_of(job, step); }
    std::vector<std::string> names() const {
        std::vector<std::string> out;
        for (const Row& r : rows_of(job)) out.push_back(std::string(2 * r.depth, ' ') + name_of(job, r));
        return out;
    }
    Evaluation evaluated() const {
        Evaluator evaluator;
        return test::evaluated(evaluator, job);
    }
    double volume() const { return test::volume(evaluated()); }
};

using Names = std::vector<std::string>;

}  // namespace

TEST_CASE("the first part becomes the base, which the part in work uses; others wait") {
    const Bench b;
    CHECK(b.job.results == std::vector<std::string>{"result"});
    CHECK(base_of(b.job) == b.block);
    CHECK(b.names() == Names{"base (block)", "step 1 (bore)", "step 2 (rib)", "knob"});
    const auto rows = rows_of(b.job);
    CHECK(rows[1].placement() == Placement{{4, 4, -5}, {}});  // as it stood on the bench
    CHECK(b.volume() == Approx(1000 - 40 - 20).epsilon(1e-12));
}

TEST_CASE("a step put into another's list stays where it stands, acts there, and comes out as it went in") {
    Bench b;
    const std::string before = job_text(b.job);
    REQUIRE(move_into(b.job, b.keep, b.cut));
    CHECK(b.names() == Names{"base (block)", "step 1 (bore)", "  step 1.1 (rib)", "knob"});
    // The bore less the rib, at x 4.5 to 5.5: that much of it no longer cuts.
    CHECK(b.volume() == Approx(1000 - 40 + 20).epsilon(1e-12));
    CHECK(b.evaluated().rows.at(b.keep).volume_after == Approx(80 - 40));
    edit_step(b.job, b.keep, [](Step& s) { s.on = false; });
    CHECK(b.volume() == Approx(1000 - 40).epsilon(1e-12));
    edit_step(b.job, b.keep, [](Step& s) { s.on = true; });
    REQUIRE(move_out(b.job, b.row(b.keep)));
    CHECK(job_text(b.job) == before);
    CHECK_FALSE(move_out(b.job, b.row(b.keep)));
}

TEST_CASE("a part's own list turns with it: what is moved in or out keeps its place") {
    Bench b;
    set_placement(b.job, b.row(b.cut), {{7, 4, 1}, {10, 20, 30}});
    const Row head = *find_row(rows_of(b.job), b.row(b.cut));
    const Transform own = head.placement().transform();
    const Vec3 at = apply(Placement{{4.5, 3, -6}, {}}.transform(), {1, 4, 30});
    REQUIRE(move_step(b.job, b.keep, {b.bore}, Transform(own.inverse())));
    const auto rows = rows_of(b.job);
    const Row* inner = find_row(rows, {{}, {"result", b.cut, b.keep}});
    REQUIRE(inner);
    CHECK(inner->stands.isApprox(own));
    CHECK(norm(apply(inner->stands * inner->placement().transform(), {1, 4, 30}) - at) < 1e-9);
    REQUIRE(move_out(b.job, inner->id));
    const auto behind = rows_of(b.job);
    const Row* out = find_row(behind, {{}, {"result", b.keep}});
    REQUIRE(out);
    CHECK(norm(apply(out->placement().transform(), {1, 4, 30}) - at) < 1e-9);
    // Straight up is where two turns do for one.
    set_placement(b.job, b.row(b.cut), {{7, 4, 1}, {0, 90, 30}});
    const Transform up = Placement{{7, 4, 1}, {0, 90, 30}}.transform();
    REQUIRE(move_step(b.job, b.keep, {b.bore}, Transform(up.inverse())));
    const auto turned = rows_of(b.job);
    const Row* upright = find_row(turned, {{}, {"result", b.cut, b.keep}});
    REQUIRE(upright);
    CHECK(norm(apply(upright->stands * upright->placement().transform(), {1, 4, 30}) - at) < 1e-9);
}

TEST_CASE("a list is not put into itself, nor too deep, and then nothing changes") {
    Bench b;
    REQUIRE(move_into(b.job, b.keep, b.cut));
    const std::string before = job_text(b.job);
    CHECK_FALSE(move_into(b.job, b.cut, b.keep));
    CHECK_FALSE(move_into(b.job, b.cut, b.cut));
    CHECK_FALSE(move_step(b.job, b.cut, {find_step(b.job, b.keep).part->id}));
    CHECK(job_text(b.job) == before);
    std::string above = b.keep;
    bool refused = false;
    for (int k = 0; k < deepest_list + 2 && !refused; ++k) {
        const std::string next = add_combining(b.job, Operation::difference, b.knob);
        refused = !move_into(b.job, next, above);
        above = next;
    }
    CHECK(refused);
    CHECK(b.evaluated().first_error == std::nullopt);
}

TEST_CASE("a group is not put into the list of what it holds: that would be made of itself") {
    Bench b;
    const auto group = group_steps(b.job, std::vector{b.cut, b.keep});
    REQUIRE(group);
    const std::string before = job_text(b.job);
    const auto moved = move_into(b.job, *group, b.keep);
    REQUIRE(!moved);
    CHECK(moved.error().text.find("own list") != std::string::npos);
    CHECK(job_text(b.job) == before);
}

TEST_CASE("what a removed step used waits where it stood; a part that is removed takes its steps along") {
    Bench b;
    REQUIRE(move_into(b.job, b.keep, b.cut));
    remove_step(b.job, b.cut);
    CHECK(b.names() == Names{"base (block)", "bore", "rib", "knob"});
    CHECK(b.job.find_part(b.bore)->bench == Placement{{4, 4, -5}, {}});
    CHECK(b.job.find_part(b.rib)->bench == Placement{{4.5, 3, -6}, {}});
    CHECK(b.job.parts.size() == 5);  // no list is left behind
    add_combining(b.job, Operation::union_of, b.knob);
    add_combining(b.job, Operation::union_of, b.knob);
    remove_part(b.job, b.knob);
    CHECK(b.names() == Names{"base (block)", "bore", "rib"});
    remove_part(b.job, b.block);
    CHECK(b.names() == Names{"base (bore)", "rib"});
    remove_part(b.job, b.bore);
    remove_part(b.job, b.rib);
    CHECK(b.job.parts.empty());
    CHECK(b.job.results.empty());
}

TEST_CASE("another base: the one before waits where it stood, and what the new one did goes") {
    Bench b;
    set_placement(b.job, {b.block, {"result"}}, {{1, 0, 0}, {}});
    make_base(b.job, b.bore);
    CHECK(b.names() == Names{"base (bore)", "step 1 (rib)", "block", "knob"});
    CHECK(b.job.find_part(b.block)->bench == Placement{{1, 0, 0}, {}});
    CHECK(rows_of(b.job).front().placement() == Placement{{5, 4, -5}, {}});  // it had gone along
}

TEST_CASE("a part in work that holds its mesh itself is used by one where its use is set, with its first treatments") {
    Job job;
    job.results = {"own"};
    auto step = [](const char* id, const char* kind, Values values, std::optional<Use> use) {
        return std::make_shared<const Step>(
            Step{.id = id, .kind = kind, .values = std::move(values), .operand = std::move(use)});
    };
    auto part = [&](const char* id, Mesh mesh, Steps steps) {
        job.parts.push_back(std::make_shared<const Part>(
            Part{id, id, StoredMesh{std::make_shared<const Mesh>(std::move(mesh))}, std::move(steps)}));
    };
    part("own", make_box({0, 0, 0}, {4, 4, 4}),
         {step("a", "mirror", {{"across", std::string("x")}}, {}), step("b", "difference", {}, Use{"tool"}),
          step("c", "mirror", {{"across", std::string("y")}}, {})});
    part("tool", make_box({-1, -1, -1}, {1, 1, 5}), {});
    job.settings.accepted["own"] = {{FindingKind::holes, {1, 2, 3}}};
    Evaluator evaluator;
    Progress progress;
    auto before = evaluator.evaluate(job, progress);
    REQUIRE(before);
    edit_use(job, {"own", {"own"}}, [](Use& use) { use.placement = {{-2, 0, 0}, {}}; });
    const auto rows = rows_of(job);
    REQUIRE(rows.size() == 4);
    CHECK(rows[1].id.way == std::vector<std::string>{"own", "a"});
    CHECK(rows[1].depth == 1);
    CHECK(rows[2].depth == 0);
    CHECK(job.settings.accepted.contains(rows[0].id.part));
    auto moved = evaluator.evaluate(job, progress);
    REQUIRE(moved);
    CHECK(signed_volume(before->combined->mesh) == Approx(64 - 4));
    CHECK(signed_volume(moved->combined->mesh) == Approx(64));  // the tool stayed where it was
    CHECK(bounds(moved->combined->mesh).low == Vec3{-6, -4, 0});
}

TEST_CASE("a part that two steps use has its rows under both, and counts where one of them does") {
    Bench b;
    const std::string again = add_combining(b.job, Operation::union_of, b.bore);
    const std::string mend = add_treatment(b.job, {b.bore}, "mend");
    const auto rows = rows_of(b.job);
    CHECK(b.names() == Names{"base (block)", "step 1 (bore)", "  step 1.1 (mend)", "step 2 (rib)", "step 3 (bore)",
                             "  step 3.1 (mend)", "knob"});
    CHECK(steps_in_work(rows) == 5);
    CHECK(below_line(rows, 1) == std::set<std::string>{mend, b.keep, again});
    CHECK(below_line(rows, 2) == std::set<std::string>{b.keep, again});
    // Where it stands is each step's own.
    set_placement(b.job, {b.bore, {"result", again}}, {{1, 2, 3}, {}});
    CHECK(rows_of(b.job)[1].placement() == Placement{{4, 4, -5}, {}});
    CHECK(nearest_row(rows, {b.bore, {"result", "gone"}}).way == std::vector<std::string>{"result", b.cut});
    CHECK(nearest_row(rows, {"gone", {"gone"}}).empty());
}

TEST_CASE("edits by hand in a row go into one group, and into another behind one that is off") {
    Bench b;
    const HandEdit edit{.tool = HandTool::delete_faces, .points = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}}};
    auto group = [&](const std::string& id) { return find_step(b.job, id).group->id; };
    const std::string one = add_edit(b.job, {b.bore}, edit), two = add_edit(b.job, {b.bore}, edit);
    const std::string first = group(one);
    CHECK(one != two);
    CHECK(group(two) == first);
    edit_step(b.job, first, [](Step& s) { s.on = false; });
    const std::string second = group(add_edit(b.job, {b.bore}, edit));
    CHECK(second != first);
    const std::string between = group(add_edit(b.job, {b.bore, second}, edit));
    CHECK(between != first);
    CHECK(b.job.find_part(b.bore)->steps.size() == 3);
    CHECK(b.job.find_part(b.bore)->steps[1]->id == between);
    const std::string in_front = add_edit(b.job, {b.bore, two, first}, edit);
    CHECK(find_step(b.job, first).step->steps[1]->id == in_front);
}

TEST_CASE("edits by hand have rows of their own, which move within their group, out of it and into it") {
    Bench b;
    const HandEdit edit{.tool = HandTool::delete_faces, .points = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}}};
    const HandEdit flip{.tool = HandTool::flip_faces, .points = edit.points};
    const std::string work = b.job.work(), one = add_edit(b.job, {work}, edit), two = add_edit(b.job, {work}, flip);
    const std::string group = find_step(b.job, one).group->id;
    using Names = std::vector<std::string>;
    const Names listed{"base (block)",
                       "step 1 (bore)",
                       "step 2 (rib)",
                       "step 3 (by hand)",
                       "  step 3.1 (delete faces)",
                       "  step 3.2 (flip faces)",
                       "knob"};
    CHECK(b.names() == listed);
    const std::vector<Row> rows = rows_of(b.job);
    CHECK(rows[5].id.way == std::vector{work, group, two});
    CHECK(rows[5].depth == rows[3].depth + 1);
    CHECK(rows[5].group == rows[3].step);
    CHECK(below_line(rows, 4) == std::set{two});
    const Job before = b.job;
    REQUIRE(move_step(b.job, two, {work, one, group}));
    CHECK(b.names()[4] == "  step 3.1 (flip faces)");
    REQUIRE(move_out(b.job, b.row(two)));
    CHECK(b.names()[5] == "step 4 (flip faces)");
    REQUIRE(move_into(b.job, two, group));
    CHECK(job_text(b.job) == job_text(before));
    // What combines has no place among them, a group none in itself, and one that is left empty goes.
    CHECK(!move_into(b.job, b.cut, group));
    CHECK(!move_step(b.job, group, {work, one, group}));
    CHECK(job_text(b.job) == job_text(before));
    REQUIRE(move_out(b.job, b.row(one)));
    REQUIRE(move_into(b.job, two, group));  // the last one stays where it is
    CHECK(find_step(b.job, two).group);
    remove_step(b.job, two);
    CHECK(!find_step(b.job, group).step);
    CHECK(b.names()[3] == "step 3 (delete faces)");
    CHECK(b.names().size() == 5);
}

TEST_CASE("numbers of a part read in another unit take along what is named by points, not what was typed") {
    Bench b;
    const std::string mend =
        add_treatment(b.job, {b.bore}, "mend", {{"places", std::vector<Vec3>{{1, 2, 3}}}, {"weld", 0.5}});
    const HandEdit rebuild{.tool = HandTool::rebuild_region, .points = {{0, 0, 0}, {2, 2, 2}}, .cell = 0.25};
    const std::string rebuilt = add_edit(b.job, {b.bore}, rebuild);
    read_as(b.job, std::vector{b.bore}, ImportUnit::inch);
    const Step& mended = *find_step(b.job, mend).step;
    CHECK(std::get<std::vector<Vec3>>(mended.values.at("places")) == std::vector<Vec3>{Vec3{1, 2, 3} * 25.4});
    CHECK(std::get<double>(mended.values.at("weld")) == 0.5);
    const Step& edited = *find_step(b.job, rebuilt).step;
    CHECK(std::get<double>(edited.values.at("cell")) == 0.25 * 25.4);
    CHECK(size_as(b.job, std::vector{b.bore}, ImportUnit::millimetre) == Vec3{2, 2, 20} * 25.4);
    CHECK(b.job.settings.import_unit == ImportUnit::inch);
}

TEST_CASE("a list that stands for a part is called as that is") {
    Bench b;
    const std::string before = job_text(b.job);
    REQUIRE(move_into(b.job, b.keep, b.cut));
    rename_part(b.job, b.bore, "big bore");
    CHECK(b.names()[1] == "step 1 (big bore)");
    rename_part(b.job, b.bore, "bore");
    REQUIRE(move_out(b.job, b.row(b.keep)));
    CHECK(job_text(b.job) == before);  // it went with what was in it
    rename_part(b.job, b.block, "housing");
    CHECK(b.job.find_part("result")->name == "housing");
}

TEST_CASE("a history's jobs never change, whatever is done to the present one") {
    History history;
    Bench b;
    history.change(b.job, "begin");
    const std::string first = job_text(history.job());
    for (const bool into : {true, false}) {
        if (into) REQUIRE(move_into(b.job, b.keep, b.cut));
        set_placement(b.job, b.row(b.cut), {{1, 1, 1}, {}});
        remove_step(b.job, into ? b.keep : b.cut);
        rename_part(b.job, b.block, "other");
        history.change(b.job, "edit");
    }
    history.undo();
    history.undo();
    CHECK(job_text(history.job()) == first);
    CHECK(history.redo_name() == "edit");
}

TEST_CASE("an id is not given again once what had it is gone, also after a file") {
    Bench b;
    remove_part(b.job, b.knob);
    CHECK(b.add("nut", make_box({0, 0, 0}, {1, 1, 1})) != b.knob);
    const std::string step = add_combining(b.job, Operation::union_of, b.bore);
    remove_step(b.job, step);
    const auto back = job_from_text(job_text(b.job), [](const std::string&) -> Result<std::shared_ptr<const Mesh>> {
        return std::make_shared<const Mesh>(make_box({0, 0, 0}, {1, 1, 1}));
    });
    REQUIRE(back);
    Job job = *back;
    CHECK(add_combining(job, Operation::union_of, b.bore) != step);
    CHECK(add_treatment(b.job, {b.bore}, "mirror") != step);
    for (const char* bad : {"-1", "true", "4294967296"}) {
        std::string text = job_text(job);
        text.replace(text.find("\"parts\": "), 10, "\"parts\": " + std::string(bad) + ",\"was\": ");
        CHECK(!job_from_text(text, [](const std::string&) -> Result<std::shared_ptr<const Mesh>> {
            return std::make_shared<const Mesh>();
        }));
    }
}

TEST_CASE("a step is moved at once in a job whose parts use each other twice, level by level") {
    Bench b;
    std::string last = b.knob;
    for (int level = 0; level < 30; ++level) {
        const std::string next = "level-" + std::to_string(level);
        auto use = [&](const char* side) {
            return std::make_shared<const Step>(Step{.id = next + side, .kind = "union", .operand = Use{last}});
        };
        b.job.parts.push_back(std::make_shared<const Part>(Part{next, next, Use{last}, {use("a"), use("b")}}));
        last = next;
    }
    const std::string step = add_combining(b.job, Operation::union_of, last);
    const auto moved = move_step(b.job, step, {b.job.work(), b.cut});
    REQUIRE(!moved);  // after a billion ways, if each was gone
    CHECK(moved.error().text.find("deep") != std::string::npos);
}
