#include "core/job/links.h"

#include "core/job/groups.h"
#include "core/job/job_file.h"
#include "core/job/job_text.h"
#include "core/job/place_edits.h"
#include "demo/lantern.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A block of 40 by 40 by 10 with a bore of 4 by 4 through it.
struct Block {
    Job job;
    std::string block, bore, step;
    Evaluator evaluator;
    Block() {
        block = add(job, "block", make_box({0, 0, 0}, {40, 40, 10}));
        bore = add(job, "bore", make_box({0, 0, -1}, {4, 4, 11}));
        edit_part(job, bore, [](Part& p) { p.bench.position = {5, 5, 0}; });
        step = add_combining(job, Operation::difference, bore);
    }
    Evaluation evaluated() { return test::evaluated(evaluator, job); }
    double volume() { return test::volume(evaluated()); }
    const Row row(const std::string& of) {
        rows_ = rows_of(job);
        for (const Row& r : rows_)
            if (r.id.step() == of || (of == block && r.is_base()) || (!r.step && r.id.part == of)) return r;
        FAIL("no row of " << of);
        return rows_.front();
    }
    std::string link(const Link& to, const Vec3& at = {}) { return add_link(job, "link", to, {at, {}}); }

  private:
    std::vector<Row> rows_;
};

std::string why(const Evaluation& e, const std::string& part) {
    const auto at = e.broken.find(part);
    return at == e.broken.end() ? std::string() : at->second.text;
}

}  // namespace

TEST_CASE("a link follows a part: its mesh, its steps and what is put into its list later") {
    Block b;
    const std::string link = b.link(link_to(b.job, b.row(b.step)), {20, 20, 0});
    CHECK(b.job.find_part(link)->name == "link");
    add_combining(b.job, Operation::difference, link);
    CHECK(b.volume() == Approx(16000 - 2 * 160));
    set_mesh(b.job, b.bore, make_box({0, 0, -1}, {6, 4, 11}));
    CHECK(b.volume() == Approx(16000 - 2 * 240));
    add_treatment(b.job, {b.bore}, "keep-largest");
    // A notch in the bore's bundle leaves material in both bores.
    const std::string rib = add(b.job, "rib", make_box({0, 0, 0}, {1, 4, 10}));
    edit_part(b.job, rib, [](Part& p) { p.bench.position = {7, 5, 0}; });
    const std::string cut = add_combining(b.job, Operation::difference, rib);
    REQUIRE(move_into(b.job, cut, b.step));
    const double with_ribs = b.volume();
    CHECK(with_ribs == Approx(16000 - 2 * 240 + 2 * 40));
    // Moving the original moves nothing of the link.
    move_to(b.job, b.step, {6, 5, 0});
    CHECK(b.volume() == Approx(with_ribs));
}

TEST_CASE("a link to a stage: the base as it came, and the body as of a step, whatever comes later") {
    Block b;
    const std::string as_it_came = b.link(link_to(b.job, b.row(b.block)), {0, 0, 20});
    add_combining(b.job, Operation::union_of, as_it_came);
    CHECK(b.volume() == Approx(16000 - 160 + 16000));
    const std::string bored = b.link(link_to_stage(b.row(b.step)), {0, 0, 40});
    add_combining(b.job, Operation::union_of, bored);
    CHECK(b.volume() == Approx(2 * (16000 - 160) + 16000));
    set_on(b.job, b.step, false);
    CHECK(b.volume() == Approx(3 * 16000));
    set_on(b.job, b.step, true);
    // A body that is put over itself as it was before the cut.
    const std::string whole = b.link({.part = b.job.work()}, {60, 0, 0});
    const std::string step = add_combining(b.job, Operation::union_of, whole);
    const auto& link = std::get<Link>(b.job.find_part(whole)->source);
    REQUIRE(link.as_of);
    CHECK(*link.as_of != step);
    CHECK(b.volume() == Approx(2 * (2 * (16000 - 160) + 16000)));
    CHECK(inspected(b.evaluated().combined->mesh).print_ready);
}

TEST_CASE("a part scattered over the body as of an earlier step") {
    Block b;
    const std::string itself = b.link(link_to(b.job, b.row(b.block)));
    edit_part(b.job, itself, [](Part& p) {
        p.steps.push_back(
            std::make_shared<const Step>(Step{.id = "small", .kind = "place", .values = {{"scale", 0.05}}}));
    });
    const std::string step = add_combining(b.job, Operation::union_of, itself);
    edit_step(b.job, step, [](Step& s) {
        s.operand->copies = Copies{.kind = "scattered", .values = {{"count", std::int64_t{12}}, {"apart", 6.0}}};
    });
    const Evaluation done = b.evaluated();
    CHECK(!done.first_error);
    CHECK(volume(done) > 16000 - 160 + 5);
    CHECK(inspected(done.combined->mesh).print_ready);
}

TEST_CASE("circles of links are refused with their names, and told where a job has one") {
    Block b;
    const std::string link = b.link({.part = b.step});
    CHECK(why(b.evaluated(), link).find("not there any more") != std::string::npos);
    edit_part(b.job, link, [&](Part& p) { p.source = Link{.part = b.bore}; });
    const std::string back = add_combining(b.job, Operation::difference, link);
    edit_part(b.job, b.bore, [&](Part& p) { p.source = Link{.part = b.job.work()}; });
    const Evaluation done = b.evaluated();
    REQUIRE(done.first_error);
    CHECK(done.first_error->text.find("is made of itself: ") != std::string::npos);
    for (const char* name : {"block", "bore"}) CHECK(done.first_error->text.find(name) != std::string::npos);
    CHECK(make_base(b.job, back) == false);
    const std::string of_result = b.link({.part = b.job.work()});
    CHECK(!make_base(b.job, of_result));
    // And no edit makes one.
    Block c;
    const std::string follows = c.link({.part = c.job.work(), .as_of = std::string()});
    add_combining(c.job, Operation::union_of, follows);
    const auto refused = follow_as_of(c.job, follows, std::nullopt);
    REQUIRE(!refused);
    CHECK(refused.error().text.find("\"link\" would be made of itself") != std::string::npos);
    CHECK(follow_as_of(c.job, follows, c.step));
    CHECK(!c.evaluated().first_error);
    remove_step(c.job, c.step);
    CHECK(c.evaluated().first_error->text.find("the step up to which it follows \"block\" is not there any more") !=
          std::string::npos);
}

TEST_CASE("a link becomes a copy that stays as it is, and follows again") {
    Block b;
    const std::string link = b.link(link_to(b.job, b.row(b.step)), {20, 20, 0});
    add_combining(b.job, Operation::difference, link);
    const Evaluation before = b.evaluated();
    use_copy(b.job, link, before.given.at(link));
    CHECK(std::holds_alternative<StoredMesh>(b.job.find_part(link)->source));
    set_mesh(b.job, b.bore, make_box({0, 0, -1}, {6, 4, 11}));
    CHECK(b.volume() == Approx(16000 - 240 - 160));
    REQUIRE(follow_again(b.job, link));
    CHECK(b.volume() == Approx(16000 - 2 * 240));
    const auto none = follow_again(b.job, b.bore);
    REQUIRE(!none);
    CHECK(none.error().text == "it is no copy of another part");
}

TEST_CASE("pieces: each separate body with its hollows; a link finds its piece again, or says that it is lost") {
    Mesh body = make_box({0, 0, 0}, {10, 10, 10});
    Mesh hollow = make_box({2, 2, 2}, {8, 8, 8});
    for (auto& f : hollow.faces) std::swap(f[1], f[2]);
    append(body, hollow);
    append(body, make_box({3, 3, 3}, {5, 5, 5}));  // in the hollow
    append(body, make_box({20, 0, 0}, {22, 2, 2}));
    Progress progress;
    const auto pieces = pieces_of(body, progress);
    REQUIRE(pieces.size() == 3);
    CHECK(pieces[0].volume == Approx(1000 - 216));
    CHECK(pieces[1].volume == Approx(8));
    CHECK(pieces[2].middle == Vec3{21, 1, 1});
    for (std::size_t k = 0; k < 3; ++k) {
        const auto found = piece_like(pieces[k], body, progress);
        REQUIRE(found);
        CHECK(signed_volume(*found) == Approx(pieces[k].volume));
    }
    // Of two halves, one follows its side of the plane as that moves.
    Block b;
    const std::string sheet = add(b.job, "plane", make_plate({20, 20, 5}, 100, 100));
    edit_part(b.job, sheet, [](Part& p) { p.bench.position = {0, 0, 1}; });
    const std::string split = add_combining(b.job, Operation::split, sheet);
    const auto halves = pieces_of(b.evaluated().combined->mesh, progress);
    REQUIRE(halves.size() == 2);
    const std::size_t upper = halves[0].middle.z > halves[1].middle.z ? 0 : 1;
    const std::string top = add_link(b.job, "top", {.part = b.job.work(), .piece = halves[upper]}, {});
    CHECK(signed_volume(*b.evaluated().parts.at(top)) == Approx((1600 - 16) * 4));
    move_to(b.job, split, {0, 0, 2});
    CHECK(signed_volume(*b.evaluated().parts.at(top)) == Approx((1600 - 16) * 3));
    set_on(b.job, split, false);  // one body, unlike either
    const std::string said = why(b.evaluated(), top);
    CHECK(said.find("the piece that it follows is not there any more") != std::string::npos);
    // Two pieces that could both be meant.
    const Mesh two = [] {
        Mesh out = make_box({0, 0, 0}, {1, 1, 1});
        append(out, make_box({3, 0, 0}, {4, 1, 1}));
        return out;
    }();
    const auto unsure = piece_like({0, 2, {2, 0.5, 0.5}, 1}, two, progress);
    REQUIRE(!unsure);
    CHECK(unsure.error().text.find("several pieces") != std::string::npos);
}

TEST_CASE("links, copies of them, parts that stay and several results survive the file") {
    Block b;
    Progress progress;
    const auto whole = pieces_of(b.evaluated().combined->mesh, progress);
    const std::string link = b.link({.part = b.job.work(), .as_of = b.step, .piece = whole.front()}, {60, 0, 0});
    edit_part(b.job, b.bore, [](Part& p) {
        p.stays = true;
        p.bench.position = {0, 50, 0};
    });
    b.job.results.push_back(link);
    b.job.results.push_back(b.bore);
    const std::string copy = b.link({.part = b.bore});
    use_copy(b.job, copy, b.evaluated().given.at(copy));
    TempFolder folder;
    const std::string file = (folder / "links.anvil").string();
    REQUIRE(write_job(b.job, file));
    auto read = read_job(file, progress);
    INFO((read ? "" : read.error().sentence()));
    REQUIRE(read);
    CHECK(job_text(*read) == job_text(b.job));
    const Evaluation done = test::evaluated(b.evaluator, *read);
    CHECK(!done.first_error);
    REQUIRE(done.also.size() == 2);
    CHECK(signed_volume(done.also.at(link)->mesh) == Approx(16000 - 160));
    CHECK(bounds(done.also.at(link)->mesh).low == Vec3{60, 0, 0});
    CHECK(bounds(done.also.at(b.bore)->mesh).low == Vec3{0, 50, -1});
    // What stays lies on the bench, with a row of its own there, and under its step.
    const auto rows = rows_of(*read);
    CHECK(std::ranges::count_if(rows, [&](const Row& r) { return r.id.part == b.bore; }) == 2);
    Job less = *read;
    remove_part(less, link);
    CHECK(less.results == std::vector<std::string>{less.work(), b.bore});
    REQUIRE(follow_again(less, copy));
}

TEST_CASE("a result on the bench has its own steps, and stands with them") {
    Block b;
    const std::string lid = add(b.job, "lid", make_box({0, 0, 0}, {40, 40, 2}));
    const std::string slot = add(b.job, "slot", make_box({10, 10, -1}, {12, 20, 3}));
    const std::string cut = add_combining(b.job, Operation::difference, slot);
    Job& job = b.job;
    REQUIRE(move_step(job, cut, {lid}));
    edit_part(job, lid, [](Part& p) { p.bench = {{100, 0, 0}, {}}; });
    job.results.push_back(lid);
    const Evaluation done = b.evaluated();
    CHECK(!done.first_error);
    CHECK(signed_volume(done.also.at(lid)->mesh) == Approx(40 * 40 * 2 - 2 * 10 * 2));
    CHECK(bounds(done.also.at(lid)->mesh).low == Vec3{100, 0, 0});
    CHECK(volume(done) == Approx(16000 - 160));
}

TEST_CASE("groups: one switch, one operation, a name; they cost no arrangement, nest and are taken apart") {
    Block b;
    const std::string second = add(b.job, "bore 2", make_box({20, 5, -1}, {24, 9, 11}));
    const std::string two = add_combining(b.job, Operation::difference, second);
    const std::string boss = add(b.job, "boss", make_box({20, 20, 5}, {30, 30, 15}));
    const std::string three = add_combining(b.job, Operation::union_of, boss);
    CHECK(b.volume() == Approx(16000 - 320 + 500));
    auto group = group_steps(b.job, std::vector{b.step, two});
    REQUIRE(group);
    CHECK(find_step(b.job, b.step).group->id == *group);
    CHECK(b.volume() == Approx(16000 - 320 + 500));
    CHECK(b.evaluated().reused_arrangement);
    const auto rows = rows_of(b.job);
    REQUIRE(rows.size() >= 5);
    CHECK(rows[1].step->id == *group);
    CHECK(rows[2].number == "1.1");
    set_on(b.job, *group, false);
    CHECK(b.volume() == Approx(16000 + 500));
    set_on(b.job, *group, true);
    CHECK(operation_of_group(*find_step(b.job, *group).step) == Operation::difference);
    set_operation_of_group(b.job, *group, Operation::union_of);
    CHECK(b.volume() == Approx(16000 + 2 * 32 + 500));
    set_operation_of_group(b.job, *group, Operation::difference);
    auto outer = group_steps(b.job, std::vector{*group, three});
    REQUIRE(outer);
    CHECK(!operation_of_group(*find_step(b.job, *outer).step));
    CHECK(b.volume() == Approx(16000 - 320 + 500));
    set_on(b.job, *outer, false);
    CHECK(b.volume() == Approx(16000));
    set_on(b.job, *outer, true);
    const auto apart = group_steps(b.job, std::vector{b.step, three});
    REQUIRE(!apart);
    CHECK(apart.error().text.find("same list") != std::string::npos);
    ungroup(b.job, *outer);
    ungroup(b.job, *group);
    CHECK(b.job.find_part(b.job.work())->steps.size() == 3);
    CHECK(b.volume() == Approx(16000 - 320 + 500));
    // With a treatment between them a group is done in that order.
    const std::string mirror = add_treatment(b.job, {b.job.work(), three}, "mirror");
    group = group_steps(b.job, std::vector{two, mirror, three});
    REQUIRE(group);
    CHECK(!b.evaluated().first_error);
    CHECK(inspected(b.evaluated().combined->mesh).print_ready);
}

TEST_CASE("what is put into the bundle of a head that was moved stays where it stands") {
    Block b;
    const std::string rib = add(b.job, "rib", make_box({0, 0, 0}, {1, 4, 10}));
    edit_part(b.job, rib, [](Part& p) { p.bench.position = {7, 5, 0}; });
    const std::string pin = add(b.job, "pin", make_box({0, 0, 0}, {1, 1, 10}));
    edit_part(b.job, pin, [](Part& p) { p.bench.position = {16, 7, 0}; });
    const std::string first = add_combining(b.job, Operation::difference, rib);
    REQUIRE(move_into(b.job, first, b.step));
    set_placement(b.job, row_of(b.job, b.step), {{13, 5, 0}, {}});  // the rib goes along
    const std::string second = add_combining(b.job, Operation::difference, pin);
    REQUIRE(move_into(b.job, second, b.step));
    // Both leave material in the bore: 1 x 4 x 10 and 1 x 1 x 10.
    CHECK(b.volume() == Approx(16000 - 160 + 40 + 10));
}

TEST_CASE("the demo's lantern: print-ready, made of shapes with copies, a link, a bundle and a group") {
    const Job job = demo::signal_lantern();
    Evaluator evaluator;
    const Evaluation done = test::evaluated(evaluator, job);
    CHECK(!done.first_error);
    const Inspection in = inspected(done.combined->mesh);
    INFO(findings_text(in));
    CHECK(in.print_ready);
    bool linked = false, copied = false;
    for (const auto& part : job.parts) {
        CHECK(!std::holds_alternative<StoredMesh>(part->source));
        linked = linked || std::holds_alternative<Link>(part->source);
    }
    int grouped = 0, bundled = 0;
    for (const Row& row : rows_of(job)) {
        copied = copied || (row.step && row.step->operand && row.step->operand->copies);
        grouped += row.group != nullptr;
        bundled += row.step && row.id.way.size() > 2 && !row.group;
    }
    CHECK(linked);
    CHECK(copied);
    CHECK(grouped == 2);
    CHECK(bundled == 1);
}
