// Steps within steps: what lies in a bundle acts on its head's operand.
#include "core/job/bundles.h"

#include "core/job/evaluate.h"
#include "core/job/job_file.h"
#include "core/job/part_report.h"
#include "core/mesh/measures.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

std::shared_ptr<const Mesh> box(const Vec3& low, const Vec3& high) {
    return std::make_shared<const Mesh>(make_box(low, high));
}

/// A block of 64 mm3, less a cutter of 8 mm3 in its corner, from which a plug of 1 mm3 is taken first.
Job plugged() {
    Job job;
    job.add_part("block", box({0, 0, 0}, {4, 4, 4}));
    job.add_step(Operation::difference, job.add_part("cutter", box({0, 0, 0}, {2, 2, 2})));
    job.add_step(Operation::difference, job.add_part("plug", box({0, 0, 0}, {1, 1, 1})));
    REQUIRE(put_in_bundle(job.steps, 1));
    return job;
}

Evaluation evaluated(Evaluator& evaluator, const Job& job, std::size_t stop = ~std::size_t{0}) {
    Progress progress;
    auto result = evaluator.evaluate(job, progress, stop);
    REQUIRE(result);
    CHECK(findings_text(inspected(result->combined->mesh)) == "none");
    return std::move(*result);
}
double volume(const Evaluation& e) { return signed_volume(e.combined->mesh); }

/// "a b(c d(e)) f", by the parts' letters.
std::string outline(const std::vector<Step>& steps) {
    std::string text;
    int depth = 0;
    for (const Step& s : steps) {
        for (; depth < s.depth; ++depth) text += "(";
        for (; depth > s.depth; --depth) text += ")";
        text += s.part;
    }
    for (; depth > 0; --depth) text += ")";
    return text;
}
std::vector<Step> steps_of(const std::string& text) {
    std::vector<Step> steps;
    int depth = 0;
    for (const char c : text)
        if (c == '(')
            ++depth;
        else if (c == ')')
            --depth;
        else
            steps.push_back({std::string("step-") + c, Operation::union_of, std::string(1, c), true, depth, {}});
    REQUIRE(outline(steps) == text);
    return steps;
}

}  // namespace

TEST_CASE("a bundle's steps act on its operand before that acts on the body, and each row tells its own change") {
    Evaluator evaluator;
    Job job = plugged();
    const Evaluation e = evaluated(evaluator, job);
    CHECK(volume(e) == Approx(64 - (8 - 1)));
    CHECK(e.steps[0].volume_before == Approx(64));
    CHECK(e.steps[0].volume_after == Approx(57));
    CHECK(e.steps[1].volume_before == Approx(8));
    CHECK(e.steps[1].volume_after == Approx(7));
    CHECK(e.steps[1].depth == 1);

    SECTION("switches, stop line and unbundling reuse the arrangement") {
        job.steps[1].on = false;
        CHECK(volume(evaluated(evaluator, job)) == Approx(56));
        job.steps[1].on = true;
        CHECK(volume(evaluated(evaluator, job, 1)) == Approx(56));
        job.steps[0].on = false;
        const Evaluation off = evaluated(evaluator, job);
        CHECK(volume(off) == Approx(64));
        CHECK(!off.steps[1].counted);
        job.steps[0].on = true;
        REQUIRE(take_out_of_bundle(job.steps, 1));
        const Evaluation flat = evaluated(evaluator, job);
        CHECK(flat.reused_arrangement);
        CHECK(volume(flat) == Approx(56));
        CHECK(flat.steps[1].note.find("removes nothing") != std::string::npos);
    }
    SECTION("bundles within bundles") {
        job.add_step(Operation::intersection, job.add_part("half", box({0, 0, 0}, {1, 1, 0.5})));
        job.steps[2].depth = 2;
        CHECK(volume(evaluated(evaluator, job)) == Approx(64 - (8 - 0.5)));
    }
    SECTION("what makes no solid does nothing in a bundle, and says so") {
        for (const Operation op :
             {Operation::scribe, Operation::gather, Operation::trim_inside, Operation::trim_outside}) {
            job.steps[1].operation = op;
            const Evaluation none = evaluated(evaluator, job);
            CHECK(volume(none) == Approx(56));
            CHECK(none.steps[1].note.find("changes nothing: a bundle") != std::string::npos);
            CHECK(none.remarks.size() == 1);
        }
    }
    SECTION("distances are those of what the bundle makes") {
        job.find_part("part-2")->placement.position = {-5, 0, 0};  // 3 mm before the block
        job.steps[1].operation = Operation::union_of;
        job.find_part("part-3")->placement.position = {-2, 0, 0};  // 1 mm before it
        CHECK(evaluated(evaluator, job).steps[0].note.find("it is 1 mm away") != std::string::npos);
        job.steps[1].operation = Operation::difference;
        const Evaluation cut = evaluated(evaluator, job);
        CHECK(cut.steps[0].note.find("it is 3 mm away") != std::string::npos);
        CHECK(cut.steps[1].note.find("it is 1 mm away") != std::string::npos);
    }
}

TEST_CASE("the report of a part: its curves on the result, and what it lies flush with") {
    Evaluator evaluator;
    const Evaluation e = evaluated(evaluator, plugged());
    // The plug's own surface shows in the cutter's pit: 1 x 1 mm on each of three sides, with one curve round it.
    const PartReport plug = report_of(e, "part-3");
    CHECK(plug.curves > 0);
    REQUIRE(plug.flush.size() == 2);
    for (const PartReport::Flush& f : plug.flush) {
        CHECK((f.other == "part-1" || f.other == "part-2"));
        CHECK(f.area == Approx(3));
        CHECK(!f.facing);
    }
    CHECK(report_of(e, "part-2").flush.size() == 2);
    CHECK(report_of(e, "nobody").empty());
}

TEST_CASE("an outline of steps: into a bundle, out of it, moved with it, taken out with it") {
    auto steps = steps_of("ab(c)de");
    CHECK(!put_in_bundle(steps, 0));
    CHECK(!put_in_bundle(steps, 2));
    CHECK(put_in_bundle(steps, 3));
    CHECK(outline(steps) == "ab(cd)e");
    CHECK(put_in_bundle(steps, 1));
    CHECK(outline(steps) == "a(b(cd))e");
    CHECK(*take_out_of_bundle(steps, 2) == 3);
    CHECK(outline(steps) == "a(b(d)c)e");
    CHECK(*take_out_of_bundle(steps, 1) == 2);
    CHECK(outline(steps) == "a(c)b(d)e");
    CHECK(!take_out_of_bundle(steps, 0));

    CHECK(move_step(steps, 2, 0) == 0);
    CHECK(outline(steps) == "b(d)a(c)e");
    CHECK(move_step(steps, 4, 3) == 3);  // between a and c: into the bundle
    CHECK(outline(steps) == "b(d)a(ec)");
    CHECK(move_step(steps, 0, 5) == 3);
    CHECK(outline(steps) == "a(ec)b(d)");
    CHECK(move_step(steps, 1, 1) == 1);
    CHECK(move_step(steps, 0, 2) == 0);  // into itself
    CHECK(outline(steps) == "a(ec)b(d)");

    drop_steps(steps, [](const Step& s) { return s.part == "a" || s.part == "d"; });
    CHECK(outline(steps) == "b");
    for (int k = 0; k < 40; ++k) {
        steps.push_back(steps.back());
        while (put_in_bundle(steps, steps.size() - 1)) {
        }
    }
    CHECK(steps.back().depth == deepest_bundle);
}

TEST_CASE("a part taken out of the job takes the bundles along that it heads; their parts wait") {
    Job job = plugged();
    job.remove_part("part-2");
    CHECK(job.steps.empty());
    REQUIRE(job.idle_parts().size() == 1);
    CHECK(job.idle_parts()[0]->name == "plug");
}

TEST_CASE("bundles survive a file; depths that make no outline are refused with the step") {
    TempFolder folder;
    Job job = plugged();
    REQUIRE(write_job(job, folder / "job.anvil"));
    const auto read = read_job(folder / "job.anvil");
    REQUIRE(read);
    CHECK(read->steps[1].depth == 1);
    Evaluator evaluator;
    CHECK(volume(evaluated(evaluator, *read)) == Approx(57));
    for (const int depth : {2, -1, 100}) {
        job.steps[1].depth = depth;
        REQUIRE(write_job(job, folder / "bad.anvil"));
        const auto bad = read_job(folder / "bad.anvil");
        REQUIRE(!bad);
        CHECK(bad.error().sentence().find("step-2") != std::string::npos);
    }
}
