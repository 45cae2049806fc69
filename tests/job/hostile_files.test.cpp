// Job files that once ended the program, filled the memory, or were taken for something else.
#include <sys/resource.h>

#include <csignal>

#include "core/io/mesh_file.h"
#include "core/job/job_file.h"
#include "core/job/job_text.h"
#include "tests/job/jobs.h"
#include "tests/support/archive.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

const std::string one_part = R"({"id":"p","name":"p","mesh":"parts/p.ply","position":[0,0,0],"rotation":[0,0,0]})";

std::string job_with(const std::string& settings, const std::string& mendings = "[]") {
    std::string own = one_part;
    own.insert(own.size() - 1, R"(,"mendings":)" + mendings);
    return R"({"format":{"major":1,"minor":3},"base":"p","settings":)" + settings + R"(,"parts":[)" + own +
           R"(],"steps":[]})";
}
Result<Job> read_text(const std::string& text) {
    return job_from_text(text, [](const std::string&) -> Result<std::shared_ptr<const Mesh>> {
        return std::make_shared<const Mesh>(make_box({0, 0, 0}, {1, 1, 1}));
    });
}
std::string refusal(const std::string& text) {
    const auto job = read_text(text);
    return job ? "" : job.error().text;
}

}  // namespace

TEST_CASE("a job that finds no room is told in the system's words, and leaves the one that was there") {
    TempFolder folder;
    Job small, large;
    add(small, "cube", make_box({0, 0, 0}, {1, 1, 1}));
    add(large, "ball", make_icosphere({0, 0, 0}, 10, 5));
    REQUIRE(write_job(small, folder / "a.anvil"));
    rlimit before{};
    REQUIRE(getrlimit(RLIMIT_FSIZE, &before) == 0);
    const auto old = std::signal(SIGXFSZ, SIG_IGN);
    const rlimit tight{8192, before.rlim_max};
    REQUIRE(setrlimit(RLIMIT_FSIZE, &tight) == 0);
    const auto written = write_job(large, folder / "a.anvil");
    setrlimit(RLIMIT_FSIZE, &before);
    std::signal(SIGXFSZ, old);
    REQUIRE(!written);
    CHECK(written.error().code == ErrorCode::cannot_write);
    CHECK(written.error().text == "writing it failed: File too large");
    Progress progress;
    const auto back = read_job(folder / "a.anvil", progress);
    REQUIRE(back);
    CHECK(job_text(*back) == job_text(small));
    CHECK(std::distance(std::filesystem::directory_iterator(folder / ""), {}) == 1);
}

TEST_CASE("each case of a job that cannot be read is told on one line") {
    std::size_t read = 0;
    for (const auto& entry : std::filesystem::directory_iterator(std::filesystem::path(ANVIL_CASES) / "jobs")) {
        INFO(entry.path().filename().string());
        const auto job = read_job(entry.path());
        REQUIRE(!job);
        CHECK(job.error().is_input());
        CHECK(job.error().sentence().find_first_of("\n\x1b") == std::string::npos);
        CHECK(job.error().sentence().find("json.exception") == std::string::npos);
        ++read;
    }
    CHECK(read >= 6);
}

TEST_CASE("what is of the wrong kind, or out of range, is told by its place") {
    CHECK(read_text(job_with("{}")).ok());
    CHECK(refusal(job_with("[]")).find("settings should be an object") != std::string::npos);
    CHECK(refusal(job_with(R"({"told_from":3})")).find("settings.told_from should be an object") != std::string::npos);
    CHECK(refusal(job_with(R"({"told_from":{"thin_below":-1}})")).find("below zero") != std::string::npos);
    CHECK(refusal(job_with(R"({"accepted":{"":[{"kind":"holes","place":[1,2]}]}})")).find("three numbers") !=
          std::string::npos);
    CHECK(refusal(job_with(R"({"merge_flush":"yes"})")).find("true or false") != std::string::npos);
    std::string far = job_with("{}");
    far.replace(far.find("[0,0,0]"), 7, "[1.7e308,0,0]");
    CHECK(refusal(far).find("parts[0].position[0]") != std::string::npos);
    std::string version = job_with("{}");
    version.replace(version.find("\"major\":1"), 9, "\"major\":4294967297");
    CHECK(refusal(version).find("format.major") != std::string::npos);
    CHECK(!read_text("{"));
    CHECK(read_text("{\n\n!").error().place == "line 3");
    CHECK(!read_text("[1e999]"));
    CHECK(refusal(std::string(100'000, '[')).find("deep") != std::string::npos);
}

TEST_CASE("words of a later version stay in the file") {
    const std::string settings =
        R"({"import_unit":"cubit","contact_rule":"weld","told_from":{"shine_below":2},"bed":220,)"
        R"("accepted":{"p":[{"kind":"ghosts","place":[1,2,3],"by":"me"},{"kind":"holes","place":[1,2,3]}]}})";
    const auto job = read_text(job_with(settings, R"([{"id":"m","repairs":[],"answered":["sheet","colour"]}])"));
    REQUIRE(job);
    CHECK(!job->settings.import_unit);
    CHECK(job->settings.contact == ContactRule::separate);
    const auto again = read_text(job_text(*job));
    REQUIRE(again);
    CHECK(again->settings == job->settings);
    CHECK(job_text(*again) == job_text(*job));
    for (const char* kept : {"cubit", "weld", "shine_below", "ghosts", "\"me\"", "colour", "220"})
        CHECK(job_text(*again).find(kept) != std::string::npos);
    CHECK(mend_settings(find_step(*again, "m").step->values).answered == std::vector<std::string>{"sheet", "colour"});
}

TEST_CASE("an archive made to fill the memory is refused, and one mesh named by many parts is read once") {
    TempFolder folder;
    const std::string zeros(64 << 20, ' ');
    write_zip(folder / "text.anvil", {{"job.json", job_with("{}") + zeros}});
    CHECK(read_job(folder / "text.anvil").error().text.find("unpack") != std::string::npos);
    write_zip(folder / "mesh.anvil", {{"job.json", job_with("{}")}, {"parts/p.ply", zeros}});
    CHECK(read_job(folder / "mesh.anvil").error().text.find("unpack") != std::string::npos);

    std::string parts;
    for (int k = 0; k < 200; ++k) {
        std::string own = one_part;
        own.replace(own.find("\"p\""), 3, "\"p" + std::to_string(k) + "\"");
        parts += (k ? "," : "") + own;
    }
    write_zip(folder / "many.anvil",
              {{"job.json", R"({"format":{"major":1,"minor":3},"base":"p0","parts":[)" + parts + R"(],"steps":[]})"},
               {"parts/p.ply", format_mesh(make_box({0, 0, 0}, {1, 1, 1}), MeshFormat::ply)}});
    const auto many = read_job(folder / "many.anvil");
    REQUIRE(many);
    REQUIRE(many->find_part("p199"));
    CHECK(mesh_of(*many, "p0") == mesh_of(*many, "p199"));

    Progress progress;
    progress.cancel();
    const auto stopped = read_job(folder / "many.anvil", progress);
    REQUIRE(!stopped);
    CHECK(stopped.error().is_cancel());
}

TEST_CASE("a name that is no UTF-8 loses those bytes, and the job is saved all the same") {
    TempFolder folder;
    Job job;
    add(job, "caf\xe9", make_box({0, 0, 0}, {1, 1, 1}));
    REQUIRE(write_job(job, folder / "a.anvil"));
    const auto back = read_job(folder / "a.anvil");
    REQUIRE(back);
    CHECK(back->parts[0]->name.starts_with("caf"));
}
