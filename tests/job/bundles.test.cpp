// Lists within lists: what stands in the list of an operand acts on that first.
#include "core/job/job_file.h"
#include "core/job/part_report.h"
#include "core/mesh/measures.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A block of 64 mm3, less a cutter of 8 mm3 in its corner, from which a plug of 1 mm3 is taken first.
struct Plugged {
    Job job;
    std::string block = add(job, "block", make_box({0, 0, 0}, {4, 4, 4})),
                cutter = add(job, "cutter", make_box({0, 0, 0}, {2, 2, 2})),
                plug = add(job, "plug", make_box({0, 0, 0}, {1, 1, 1})),
                cut = add_combining(job, Operation::difference, cutter),
                keep = add_combining(job, Operation::difference, plug);
    Plugged() { REQUIRE(move_into(job, keep, cut)); }
};

Evaluation sound(Evaluator& evaluator, const Job& job, std::size_t stop = ~std::size_t{0}) {
    Evaluation out = evaluated(evaluator, job, stop);
    CHECK(findings_text(inspected(out.combined->mesh)) == "none");
    return out;
}

}  // namespace

TEST_CASE("a bundle's steps act on its operand before that acts on the body, and each row tells its own change") {
    Evaluator evaluator;
    Plugged p;
    Job& job = p.job;
    const Evaluation e = sound(evaluator, job);
    CHECK(volume(e) == Approx(64 - (8 - 1)));
    CHECK(e.rows.at(p.cut).volume_before == Approx(64));
    CHECK(e.rows.at(p.cut).volume_after == Approx(57));
    CHECK(e.rows.at(p.keep).volume_before == Approx(8));
    CHECK(e.rows.at(p.keep).volume_after == Approx(7));

    SECTION("switches, stop line and taking it out reuse the arrangement") {
        set_on(job, p.keep, false);
        CHECK(volume(sound(evaluator, job)) == Approx(56));
        set_on(job, p.keep, true);
        CHECK(volume(sound(evaluator, job, 1)) == Approx(56));
        set_on(job, p.cut, false);
        const Evaluation off = sound(evaluator, job);
        CHECK(volume(off) == Approx(64));
        CHECK(!off.rows.at(p.keep).counted);
        set_on(job, p.cut, true);
        REQUIRE(move_out(job, row_of(job, p.keep)));
        const Evaluation flat = sound(evaluator, job);
        CHECK(flat.reused_arrangement);
        CHECK(volume(flat) == Approx(56));
        CHECK(flat.rows.at(p.keep).note.find("removes nothing") != std::string::npos);
    }
    SECTION("bundles within bundles") {
        const std::string half =
            add_combining(job, Operation::intersection, add(job, "half", make_box({0, 0, 0}, {1, 1, 0.5})));
        REQUIRE(move_into(job, half, p.keep));
        CHECK(volume(sound(evaluator, job)) == Approx(64 - (8 - 0.5)));
    }
    SECTION("what makes no solid does nothing in a bundle, and says so") {
        for (const Operation op :
             {Operation::scribe, Operation::gather, Operation::trim_inside, Operation::trim_outside}) {
            set_operation(job, p.keep, op);
            const Evaluation none = sound(evaluator, job);
            CHECK(volume(none) == Approx(56));
            CHECK(none.rows.at(p.keep).note.find("changes nothing: a bundle") != std::string::npos);
            CHECK(none.remarks.size() == 1);
        }
    }
    SECTION("distances are those of what the bundle makes") {
        move_to(job, p.cut, {-5, 0, 0});  // 3 mm before the block
        set_operation(job, p.keep, Operation::union_of);
        move_to(job, p.keep, {-2, 0, 0});  // 1 mm before it
        CHECK(sound(evaluator, job).rows.at(p.cut).note.find("it is 1 mm away") != std::string::npos);
        set_operation(job, p.keep, Operation::difference);
        const Evaluation cut = sound(evaluator, job);
        CHECK(cut.rows.at(p.cut).note.find("it is 3 mm away") != std::string::npos);
        CHECK(cut.rows.at(p.keep).note.find("it is 1 mm away") != std::string::npos);
    }
    SECTION("it survives a file") {
        TempFolder folder;
        REQUIRE(write_job(job, folder / "job.anvil"));
        const auto read = read_job(folder / "job.anvil");
        REQUIRE(read);
        CHECK(volume(sound(evaluator, *read)) == Approx(57));
    }
}

TEST_CASE("the report of a part: its curves on the result, and what it lies flush with") {
    Evaluator evaluator;
    const Plugged p;
    const Evaluation e = sound(evaluator, p.job);
    auto report = [&](const std::string& part) { return report_of(*e.combined, e.operand_parts, part); };
    // The plug's own surface shows in the cutter's pit: 1 x 1 mm on each of three sides, with one curve round it.
    const PartReport plug = report(p.plug);
    CHECK(plug.curves > 0);
    REQUIRE(plug.flush.size() == 2);
    for (const PartReport::Flush& f : plug.flush) {
        CHECK((f.other == p.block || f.other == p.cutter));
        CHECK(f.area == Approx(3));
        CHECK(!f.facing);
    }
    CHECK(report(p.cutter).flush.size() == 2);
    CHECK(report("nobody").empty());
}
