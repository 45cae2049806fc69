// Format 2 of the job file: round trips, what is refused and how that is said, and files of the format before.
#include <nlohmann/json.hpp>

#include "core/io/mesh_file.h"
#include "core/job/job_file.h"
#include "core/job/job_text.h"
#include "tests/job/jobs.h"
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
       "operand": {"part": "b", "position": [1, 2, 3], "rotation": [0, 90, 0], "sheets": "close", "shadows": {"n": 3}}},
      {"id": "s3", "kind": "by-hand", "on": false, "steps": [
        {"id": "e1", "kind": "delete-faces", "values": {"at": [[0, 0, 0], [1, 0, 0], [0, 1, 0]]}}]},
      {"id": "s4", "kind": "hollow", "values": {"wall": 2}, "operand": {"part": "b", "position": [0, 0, 0],
       "rotation": [0, 0, 0]}}]},
    {"id": "b", "name": "bore", "source": {"mesh": "parts/b.ply"},
     "bench": {"position": [9, 0, 0], "rotation": [0, 0, 0]}, "steps": []},
    {"id": "c", "name": "second bore", "steps": [],
     "source": {"use": {"part": "b", "position": [0, 0, 5], "rotation": [0, 0, 0]}}}]})";

Result<Job> read_job_text(std::string_view text) {
    return job_from_text(text, [](const std::string&) -> Result<std::shared_ptr<const Mesh>> {
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
    const auto job = read_job_text(text);
    return job ? "" : job.error().text;
}

}  // namespace

TEST_CASE("format 2: what is read is written again, what a later version wrote beside it, too") {
    const auto job = read_job_text(two_parts);
    INFO((job ? "" : job.error().sentence()));
    REQUIRE(job);
    const Part& a = *job->find_part("a");
    REQUIRE(a.steps.size() == 4);
    CHECK(job->work() == "a");
    CHECK(std::get<double>(a.steps[0]->values.at("max_hole")) == 40);
    CHECK(a.steps[1]->operand->placement == Placement{{1, 2, 3}, {0, 90, 0}});
    CHECK(a.steps[1]->operand->closes_sheets);
    CHECK(!a.steps[2]->on);
    CHECK(std::get<std::vector<Vec3>>(a.steps[2]->steps.front()->values.at("at")).size() == 3);
    CHECK(job->find_part("b")->bench.position == Vec3{9, 0, 0});
    CHECK(std::get<Use>(job->find_part("c")->source).part == "b");
    const std::string text = job_text(*job);
    for (const char* kept :
         {"\"lamp\"", "\"shade\"", "\"weight\"", "\"glue\"", "\"tint\"", "\"shadows\"", "\"hollow\"", "\"wall\""})
        CHECK(text.find(kept) != std::string::npos);
    const auto again = read_job_text(text);
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
    CHECK(why_not(with("/parts/0/source", nlohmann::json::object()))
              .find("neither a mesh nor a shape nor a link to or a use") != std::string::npos);
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
        const auto cut = read_job_text(std::string_view(text).substr(0, n));
        CHECK(!cut);
        std::string changed = text;
        changed[n] = static_cast<char>(changed[n] ^ 0x15);
        const auto job = read_job_text(changed);
        if (job)
            CHECK(read_job_text(job_text(*job)));
        else
            CHECK(!job.error().text.empty());
    }
}

namespace {

/// What is known of a face wherever it stands in a list: its corners, from the least on.
using Corners = std::array<std::array<double, 3>, 3>;
std::multiset<Corners> corners_of(const Mesh& mesh) {
    std::multiset<Corners> out;
    for (const FaceId f : ids<FaceId>(mesh.faces.size())) {
        Corners c;
        for (int k = 0; k < 3; ++k)
            c[static_cast<std::size_t>(k)] = {mesh.corner(f, k).x, mesh.corner(f, k).y, mesh.corner(f, k).z};
        std::ranges::rotate(c, std::ranges::min_element(c));
        out.insert(c);
    }
    return out;
}

}  // namespace

// The results beside the files are those of the last version that worked on format 1 itself.
TEST_CASE("files of format 1 give the result that they gave, and so they do once they are saved") {
    TempFolder folder;
    for (const std::string name : {"lantern", "everything"}) {
        INFO(name);
        const auto file = std::filesystem::path(ANVIL_CASES) / "format1" / (name + ".anvil");
        const auto job = read_job(file);
        INFO((job ? "" : job.error().sentence()));
        REQUIRE(job);
        const auto was = read_mesh(std::filesystem::path(file).replace_extension(".ply"));
        REQUIRE(was);
        Evaluator evaluator;
        const Evaluation is = evaluated(evaluator, *job);
        CHECK(!is.first_error);
        CHECK(is.combined->mesh.faces.size() == was->faces.size());
        CHECK(volume(is) == Approx(signed_volume(*was)).epsilon(1e-12));
        // The lantern's sines are the machine's own.
        if (name == "everything") CHECK(corners_of(is.combined->mesh) == corners_of(*was));
        REQUIRE(write_job(*job, folder / "two.anvil"));
        const auto back = read_job(folder / "two.anvil");
        INFO((back ? "" : back.error().sentence()));
        REQUIRE(back);
        CHECK(job_text(*back) == job_text(*job));
        CHECK(evaluated(evaluator, *back).combined->mesh == is.combined->mesh);
    }
}

TEST_CASE("a job of format 1 comes as rows: bundles as lists, mendings and edits as steps, ids told apart") {
    const auto job = read_job(std::filesystem::path(ANVIL_CASES) / "format1" / "everything.anvil");
    REQUIRE(job);
    std::vector<std::string> names;
    for (const Row& row : rows_of(*job)) names.push_back(std::string(2 * row.depth, ' ') + name_of(*job, row));
    CHECK(names == std::vector<std::string>{"base (block part)", "step 1 (tray part)", "  step 1.1 (mend)",
                                            "step 2 (ball part)", "  step 2.1 (by hand)", "    step 2.1.1 (split edge)",
                                            "    step 2.1.2 (flip faces)", "  step 2.2 (mend)", "  step 2.3 (rib part)",
                                            "  step 2.4 (plate part)", "step 3 (plate part)", "step 4 (ball part)",
                                            "  step 4.1 (by hand)", "    step 4.1.1 (split edge)",
                                            "    step 4.1.2 (flip faces)", "  step 4.2 (mend)",
                                            "step 5 (sheetlike part)", "step 6 (rib part)"});
    CHECK(rows_of(*job)[0].placement() == Placement{{1, 2, 3}, {0, 0, 90}});
    CHECK(job->settings.contact == ContactRule::join);
    const std::string text = job_text(*job);
    for (const char* kept : {"someone", "\"red\"", "\"note\"", "\"later\""})
        CHECK(text.find(kept) != std::string::npos);
}
