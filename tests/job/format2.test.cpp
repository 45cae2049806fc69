// Format 2 of the job file: round trips, what is refused and how that is said, and files of the format before.
#include <nlohmann/json.hpp>

#include "core/io/mesh_file.h"
#include "core/job/evaluate.h"
#include "core/job/job_file.h"
#include "core/job/sheet_text.h"
#include "core/job/translate.h"
#include "demo/lantern.h"
#include "tests/support/archive.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Two parts, one of them cut by the other between a repair and a union, with what a later version would write.
const char* two_parts = R"({
  "format": {"major": 2, "minor": 7}, "units": "mm", "results": ["a"], "lamp": "lit",
  "settings": {"import_unit": "in", "shade": 3},
  "parts": [
    {"id": "a", "name": "housing", "source": {"mesh": "parts/a.ply"}, "weight": 2.5, "steps": [
      {"id": "s1", "kind": "mend", "values": {"max_hole": 40, "repairs": ["holes", "weld"], "glue": [1, 2]}},
      {"id": "s2", "kind": "difference", "tint": "red",
       "operand": {"part": "b", "position": [1, 2, 3], "rotation": [0, 90, 0], "sheets": "close", "copies": {"n": 3}}},
      {"id": "s3", "kind": "by-hand", "on": false, "steps": [
        {"id": "e1", "kind": "delete-faces", "values": {"at": [[0, 0, 0], [1, 0, 0], [0, 1, 0]]}}]},
      {"id": "s4", "kind": "hollow", "values": {"wall": 2}, "operand": {"part": "b", "position": [0, 0, 0],
       "rotation": [0, 0, 0]}}]},
    {"id": "b", "name": "bore", "source": {"mesh": "parts/b.ply"},
     "bench": {"position": [9, 0, 0], "rotation": [0, 0, 0]}, "steps": []},
    {"id": "c", "name": "second bore", "steps": [],
     "source": {"use": {"part": "b", "position": [0, 0, 5], "rotation": [0, 0, 0]}}}]})";

Result<sheet::Job> read_lists_text(std::string_view text) {
    return lists_from_text(text, [](const std::string&) -> Result<std::shared_ptr<const Mesh>> {
        return std::make_shared<const Mesh>(make_box({0, 0, 0}, {1, 1, 1}));
    });
}

/// The text with one value put elsewhere, by its JSON pointer.
std::string with(const char* pointer, const nlohmann::json& value) {
    auto json = nlohmann::json::parse(two_parts);
    json[nlohmann::json::json_pointer(pointer)] = value;
    return json.dump();
}
std::string why_not(const std::string& text) {
    const auto job = read_lists_text(text);
    return job ? "" : job.error().text;
}

}  // namespace

TEST_CASE("format 2: what is read is written again, what a later version wrote beside it, too") {
    const auto job = read_lists_text(two_parts);
    INFO((job ? "" : job.error().sentence()));
    REQUIRE(job);
    const sheet::Part& a = *job->find_part("a");
    REQUIRE(a.steps.size() == 4);
    CHECK(job->work() == "a");
    CHECK(std::get<double>(a.steps[0]->values.at("max_hole")) == 40);
    CHECK(a.steps[1]->operand->placement == Placement{{1, 2, 3}, {0, 90, 0}});
    CHECK(a.steps[1]->operand->closes_sheets);
    CHECK(!a.steps[2]->on);
    CHECK(std::get<std::vector<Vec3>>(a.steps[2]->steps.front()->values.at("at")).size() == 3);
    CHECK(job->find_part("b")->bench.position == Vec3{9, 0, 0});
    CHECK(std::get<sheet::Use>(job->find_part("c")->source).part == "b");
    const std::string text = job_text(*job);
    for (const char* kept :
         {"\"lamp\"", "\"shade\"", "\"weight\"", "\"glue\"", "\"tint\"", "\"copies\"", "\"hollow\"", "\"wall\""})
        CHECK(text.find(kept) != std::string::npos);
    const auto again = read_lists_text(text);
    REQUIRE(again);
    CHECK(job_text(*again) == text);
}

TEST_CASE("format 2: what is damaged or cannot be is refused with its place") {
    CHECK(why_not(with("/format/major", 3)).find("newer version (format 3, known is 2)") != std::string::npos);
    CHECK(why_not(with("/results/0", "z")) == "results[0] is a part that is not there: \"z\"");
    CHECK(why_not(with("/results", nlohmann::json::array())) == "results names no part to work on");
    CHECK(why_not(with("/parts/0/steps/1/operand/part", "z")) == "step \"s2\" uses a part that is not there: \"z\"");
    CHECK(why_not(with("/parts/2/source/use/part", "z")) == "part \"c\" uses a part that is not there: \"z\"");
    CHECK(why_not(with("/parts/1/id", "a")).find("used twice") != std::string::npos);
    CHECK(why_not(with("/parts/0/steps/2/steps/0/id", "s1")).find("used twice") != std::string::npos);
    CHECK(why_not(with("/parts/0/steps/0/values/max_hole", -1)) == "parts[0].steps[0].values: \"max_hole\" is below 0");
    CHECK(why_not(with("/parts/0/steps/0/values/max_hole", "long")) ==
          "parts[0].steps[0].values.max_hole should be a number");
    CHECK(why_not(with("/parts/0/steps/0/values/repairs/0", "polish")).find("knows no \"polish\"") !=
          std::string::npos);
    CHECK(why_not(with("/parts/0/steps/0/values", 7)) == "parts[0].steps[0].values should be an object");
    CHECK(why_not(with("/parts/0/steps/1/operand", nullptr)) == "parts[0].steps[1].operand should be an object");
    CHECK(why_not(with("/parts/0/source", nlohmann::json::object())).find("neither a mesh nor a use") !=
          std::string::npos);
    CHECK(why_not(with("/parts/0/steps/1/operand/position/1", 1e301)).find("beyond 1e300") != std::string::npos);
    auto without_operand = nlohmann::json::parse(two_parts);
    without_operand["parts"][0]["steps"][1].erase("operand");
    CHECK(why_not(without_operand.dump()) == "parts[0].steps[1]: \"difference\" needs an operand");
}

TEST_CASE("format 2: parts that are made of themselves are refused by their names") {
    auto json = nlohmann::json::parse(two_parts);
    json["parts"][1]["steps"] = {{{"id", "t1"},
                                  {"kind", "union"},
                                  {"operand", {{"part", "a"}, {"position", {0, 0, 0}}, {"rotation", {0, 0, 0}}}}}};
    CHECK(why_not(json.dump()) == "a part is made of itself: \"housing\" uses \"bore\" uses \"housing\"");
    json = nlohmann::json::parse(two_parts);
    json["parts"][2]["source"]["use"]["part"] = "c";
    CHECK(why_not(json.dump()) == "a part is made of itself: \"second bore\" uses \"second bore\"");
    // A long way is no circle, but an end has to be.
    json["parts"] = nlohmann::json::array();
    for (int k = 0; k < 80; ++k)
        json["parts"].push_back(
            {{"id", "p" + std::to_string(k)},
             {"name", "p"},
             {"steps", nlohmann::json::array()},
             {"source",
              {{"use", {{"part", "p" + std::to_string(k + 1)}, {"position", {0, 0, 0}}, {"rotation", {0, 0, 0}}}}}}});
    json["parts"].push_back(
        {{"id", "p80"}, {"name", "p"}, {"steps", nlohmann::json::array()}, {"source", {{"mesh", "parts/p80.ply"}}}});
    json["results"] = {"p80"};
    CHECK(why_not(json.dump()).find("more than 64 deep") != std::string::npos);
}

TEST_CASE("format 2: any byte cut off or changed is refused or read, never taken half") {
    const std::string text = two_parts;
    for (std::size_t n = 0; n < text.size(); n += 7) {
        const auto cut = read_lists_text(std::string_view(text).substr(0, n));
        CHECK(!cut);
        std::string changed = text;
        changed[n] = static_cast<char>(changed[n] ^ 0x15);
        const auto job = read_lists_text(changed);
        if (job)
            CHECK(read_lists_text(job_text(*job)));
        else
            CHECK(!job.error().text.empty());
    }
}

TEST_CASE("format 1 files come out of format 2 with the same result, bit for bit") {
    TempFolder folder;
    Progress progress;
    auto evaluated_lists = [&](const sheet::Job& job) {
        KeptResults kept;
        auto done = sheet::ListEvaluator(kept).run(job, {}, {}, progress);
        REQUIRE(done);
        return done->result.combined;
    };
    Job placed = demo::lantern_job();
    placed.find_part(placed.base)->placement = {{1, 2, 3}, {0, 0, 30}};
    placed.add_step(Operation::union_of, placed.base);  // which is an operand, too
    Job mended;
    mended.add_part("scan", std::make_shared<const Mesh>(demo::scanned_bracket()));
    mended.add_mending(mended.base, whole_plan(), {.longest_hole = 9});
    mended.parts.front().mendings.front().answered_elsewhere = {"polish"};
    for (const Job& before : {demo::lantern_job(), placed, mended}) {
        REQUIRE(write_job(before, folder / "one.anvil"));
        const auto lists = read_lists(folder / "one.anvil", progress);
        INFO((lists ? "" : lists.error().sentence()));
        REQUIRE(lists);
        REQUIRE(write_lists(*lists, folder / "two.anvil"));
        const auto back = read_lists(folder / "two.anvil", progress);
        INFO((back ? "" : back.error().sentence()));
        REQUIRE(back);
        CHECK(job_text(*back) == job_text(*lists));
        Evaluator evaluator;
        const auto was = evaluator.evaluate(before, progress);
        REQUIRE(was);
        const auto is = evaluated_lists(*back);
        CHECK(is->mesh.points.raw() == was->combined->mesh.points.raw());
        CHECK(is->mesh.faces.raw() == was->combined->mesh.faces.raw());
        CHECK(read_job(folder / "two.anvil").error().code == ErrorCode::newer_version);
    }
    CHECK(job_text(upgraded(mended)).find("polish") != std::string::npos);
}

TEST_CASE("steps, mendings and what is made of them may have any ids, alike ones, too") {
    const Mesh tray = [] {
        Mesh out = make_box({3, 3, 3}, {5, 5, 5});
        out.faces.raw().resize(out.faces.size() - 2);
        return out;
    }();
    Job job;
    job.add_part("block", std::make_shared<const Mesh>(make_box({0, 0, 0}, {4, 4, 4})));
    const std::string cutter = job.add_part("tray", std::make_shared<const Mesh>(tray));
    const std::string knob = job.add_part("knob", std::make_shared<const Mesh>(make_box({2, 3, 3}, {3.5, 4, 4})));
    job.add_step(Operation::difference, cutter);
    job.add_step(Operation::union_of, knob);
    job.steps[1].depth = 1;
    job.add_mending(cutter, whole_plan());
    job.add_edit(knob, {HandTool::flip_faces, {{9, 9, 9}, {8, 9, 9}, {9, 8, 9}}});
    Evaluator evaluator;
    Progress progress;
    const auto plain = evaluator.evaluate(job, progress);
    REQUIRE(plain);
    job.steps[0].id = "work";
    job.steps[1].id = "same/1";
    job.find_part(cutter)->mendings.front().id = "work";
    job.find_part(knob)->mendings.front().id = "same";
    const auto named = evaluator.evaluate(job, progress);
    REQUIRE(named);
    CHECK(signed_volume(plain->combined->mesh) == Approx(64 - 1 - 1));
    CHECK(signed_volume(named->combined->mesh) == Approx(64 - 1 - 1));
    CHECK(named->steps[0].counted);
    CHECK(named->mended.at(cutter).done[0]->after.print_ready);
    CHECK(named->mended.at(knob).done[0]->by_hand.front().refused);
    TempFolder folder;
    REQUIRE(write_job(job, folder / "a.anvil"));
    const auto lists = read_lists(folder / "a.anvil", progress);
    REQUIRE(lists);
    const auto again = read_lists_text(job_text(*lists));
    INFO((again ? "" : again.error().sentence()));
    CHECK(again);
}
