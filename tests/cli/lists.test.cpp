// Lists of steps on the command line: jobs of format 2, and one step by itself.
#include "core/job/job_file.h"
#include "tests/cli/bench.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE(
    "run evaluates a job of format 2: a repair between two cuts, each row told, and none written where one fails") {
    const Bench bench;
    auto step = [](const char* id, const char* kind, const char* operand) {
        return std::make_shared<const Step>(Step{.id = id, .kind = kind, .operand = Use{operand}});
    };
    auto part = [](const char* id, Mesh mesh, Steps steps) {
        return std::make_shared<const Part>(Part{
            .id = id, .name = id, .source = StoredMesh{std::make_shared<const Mesh>(std::move(mesh))}, .steps = steps});
    };
    Job job;
    job.results = {"rod"};
    const Values small{{"repairs", std::vector<std::string>{"shells"}}, {"min_shell", 4.5}};
    job.parts = {part("rod", make_box({0, 0, 0}, {10, 1, 1}),
                      {step("s1", "difference", "saw"),
                       std::make_shared<const Step>(Step{.id = "s2", .kind = "mend", .values = small}),
                       step("s3", "union", "knob")}),
                 part("saw", make_box({6, -1, -1}, {7, 2, 2}), {}), part("knob", make_box({5, 0, 0}, {8, 1, 1}), {})};
    REQUIRE(write_job(job, bench.path("two.anvil")));
    const Ran r = bench.run("run two.anvil -o out.ply --json report.json");
    INFO(r.err);
    CHECK(r.status == 0);
    CHECK(r.err.find("step 2 (mend): 1 shell of less than 4.5 mm") != std::string::npos);
    CHECK(bench.report("report.json")["result"]["volume"].get<double>() == Approx(8));
    job.parts[2] = part("knob", Mesh(), {});
    REQUIRE(write_job(job, bench.path("broken.anvil")));
    const Ran broken = bench.run("run broken.anvil -o none.ply");
    CHECK(broken.status == 4);
    CHECK(broken.err.find("broken.anvil, step 3 (knob)") != std::string::npos);
    CHECK(!bench.exists("none.ply"));
}

TEST_CASE("do: one step by its fields, typed with units; what is no kind, field or value is told with what would be") {
    const Bench bench;
    Ran r = bench.run("do mend open.off -o out.stl --json report.json");
    CHECK(r.status == 0);
    CHECK(bench.report("report.json")["result"]["volume"].get<double>() == Approx(64));
    CHECK(bench.report("report.json")["kind"] == "mend");
    CHECK(bench.run("do mend open.off repairs=holes max_hole=0.1cm -o out.stl").status == 1);
    const std::pair<const char*, const char*> wrong[] = {
        {"do mned open.off -o no.stl", "did you mean \"mend\"?"},
        {"do union open.off -o no.stl", "there is no kind \"union\""},
        {"do delete-faces open.off -o no.stl", "there is no kind"},
        {"do mend open.off wled=1 -o no.stl", "did you mean \"weld\"?"},
        {"do mend open.off weld -o no.stl", "write NAME=VALUE"},
        {"do mend open.off weld=far -o no.stl", "takes a length, 0 mm or more, not \"far\""},
        {"do mend open.off weld=-1 -o no.stl", "is below 0"},
        {"do mend open.off repairs=weld,polish -o no.stl", "knows no \"polish\""},
        {"do mend open.off \"places=1,2;3\" -o no.stl", "takes points"}};
    for (const auto& [arguments, said] : wrong) {
        INFO(arguments);
        r = bench.run(arguments);
        CHECK(r.status == 2);
        CHECK(r.err.find(said) != std::string::npos);
        CHECK(std::count(r.err.begin(), r.err.end(), '\n') == 1);
        CHECK(!bench.exists("no.stl"));
    }
    CHECK(bench.run("do mend none.off -o no.stl").status == 3);
    CHECK(bench.run("do --help").out.find("some of weld, degenerate") != std::string::npos);
}
