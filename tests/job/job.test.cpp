#include <clocale>

#include "core/base/number_text.h"
#include "core/io/mesh_file.h"
#include "core/job/accepted_in_job.h"
#include "core/job/bundles.h"
#include "core/job/evaluate.h"
#include "core/job/job_file.h"
#include "core/job/quantity.h"
#include "demo/lantern.h"
#include "tests/support/archive.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Job two_boxes() {
    Job job;
    job.add_part("block", std::make_shared<const Mesh>(make_box({0, 0, 0}, {4, 4, 4})));
    const std::string cutter = job.add_part("cutter", std::make_shared<const Mesh>(make_box({0, 0, 0}, {2, 2, 2})));
    job.add_step(Operation::difference, cutter);
    return job;
}

double volume(Evaluator& evaluator, const Job& job, bool* reused = nullptr, std::size_t stop = ~std::size_t{0}) {
    Progress progress;
    auto result = evaluator.evaluate(job, progress, stop);
    INFO((result ? "" : result.error().sentence()));
    REQUIRE(result);
    if (reused) *reused = result->reused_arrangement;
    return signed_volume(result->combined->mesh);
}

Error read_error(const std::filesystem::path& file) {
    const auto job = read_job(file);
    REQUIRE(!job);
    CHECK(job.error().is_input());
    CHECK(job.error().sentence().starts_with(file.string()));
    return job.error();
}

}  // namespace

TEST_CASE("a job evaluates its steps in order, and tells what each changed") {
    Evaluator evaluator;
    Progress progress;
    const auto result = evaluator.evaluate(two_boxes(), progress);
    REQUIRE(result);
    CHECK(signed_volume(result->combined->mesh) == Approx(56));
    REQUIRE(result->steps.size() == 1);
    CHECK(result->steps[0].volume_before == Approx(64));
    CHECK(result->steps[0].volume_after == Approx(56));
    CHECK(result->operand_parts[1] == two_boxes().steps[0].part);
}

TEST_CASE("operation, switch, order and stop line reuse the arrangement; moving a part does not") {
    Evaluator evaluator;
    Job job = two_boxes();
    const std::string third = job.add_part("third", std::make_shared<const Mesh>(make_box({3, 3, 3}, {5, 5, 5})));
    job.add_step(Operation::union_of, third);
    bool reused = true;
    CHECK(volume(evaluator, job, &reused) == Approx(56 + 7));
    CHECK(!reused);
    job.steps[0].operation = Operation::intersection;
    CHECK(volume(evaluator, job, &reused) == Approx(8 + 8));
    CHECK(reused);
    job.steps[1].on = false;
    CHECK(volume(evaluator, job, &reused) == Approx(8));
    CHECK(reused);
    job.steps[1].on = true;
    std::swap(job.steps[0], job.steps[1]);
    CHECK(volume(evaluator, job, &reused) == Approx(8));
    CHECK(reused);
    CHECK(volume(evaluator, job, &reused, 1) == Approx(71));
    CHECK(reused);
    CHECK(volume(evaluator, job, &reused, 0) == Approx(64));
    job.find_part(third)->placement.position = {-1, -1, -1};
    CHECK(volume(evaluator, job, &reused) == Approx(8));
    CHECK(!reused);
}

TEST_CASE("a part used twice, and a base changed for an operand, still come out right") {
    Evaluator evaluator;
    Job job = two_boxes();
    CHECK(volume(evaluator, job) == Approx(56));
    job.add_step(Operation::union_of, job.steps[0].part);
    CHECK(volume(evaluator, job) == Approx(64));
    job.base = job.steps[0].part;
    job.steps.clear();
    job.add_step(Operation::union_of, "part-1");
    CHECK(volume(evaluator, job) == Approx(64));
}

TEST_CASE("a step whose part cannot be taken is left out and says why; the base alone needs not be sound") {
    Evaluator evaluator;
    Progress progress;
    Job job = two_boxes();
    const std::string third = job.add_part("third", std::make_shared<const Mesh>(make_box({3, 3, 3}, {5, 5, 5})));
    job.add_step(Operation::union_of, third);
    job.find_part(job.steps[0].part)->mesh = std::make_shared<const Mesh>();
    const auto without = evaluator.evaluate(job, progress);
    REQUIRE(without);
    REQUIRE(without->first_error());
    CHECK(without->first_error()->place == "step 1 (cutter)");
    CHECK(without->first_error()->row == job.steps[0].id);
    CHECK(!without->steps[0].counted);
    CHECK(!without->steps[1].error);
    CHECK(signed_volume(without->combined->mesh) == Approx(64 + 7));
    // What lies in its bundle has nothing to act on.
    REQUIRE(put_in_bundle(job.steps, 1));
    const auto bundled = evaluator.evaluate(job, progress);
    REQUIRE(bundled);
    CHECK(!bundled->steps[1].counted);
    CHECK(signed_volume(bundled->combined->mesh) == Approx(64));
    job.steps[1].depth = 0;
    job.find_part(job.base)->mesh = std::make_shared<const Mesh>();
    const auto nothing = evaluator.evaluate(job, progress);
    REQUIRE(nothing);
    CHECK(nothing->base_error);
    CHECK(nothing->combined->empty);
    job = two_boxes();
    Mesh sheet = make_box({0, 0, 0}, {2, 2, 2});
    sheet.faces.raw().resize(2);
    job.find_part(job.steps[0].part)->mesh = std::make_shared<const Mesh>(sheet);
    const auto tried = evaluator.evaluate(job, progress);
    REQUIRE(tried);
    CHECK(tried->steps[0].note.find("it is a sheet and encloses nothing") != std::string::npos);
    job.base = job.steps[0].part;
    job.steps.clear();
    const auto alone = evaluator.evaluate(job, progress);
    REQUIRE(alone);
    CHECK(alone->combined->mesh.faces.size() == 2);
}

TEST_CASE("the demo job evaluates to one print-ready body") {
    Evaluator evaluator;
    Progress progress;
    const auto result = evaluator.evaluate(demo::lantern_job(), progress);
    REQUIRE(result);
    const Inspection i = inspected(result->combined->mesh);
    CHECK(findings_text(i) == "none");
    CHECK(i.measures.shells == 1);
    for (const StepOutcome& s : result->steps) CHECK(s.volume_before != s.volume_after);
    // Two screw holes, the lens, two gland bores and five slots, each parted by the rib, open the one cavity or pass
    // through: by Euler's formula each adds a handle, the first opening of the cavity none.
    CHECK(euler_characteristic(i.mesh) == 2 - 2 * (2 + 1 + 2 + 2 * 5 - 1));
}

TEST_CASE("undo and redo bring back jobs by name; merged changes are one") {
    History history(two_boxes());
    auto moved_to = [&](double x) {
        Job job = history.job();
        job.find_part("part-2")->placement.position.x = x;
        return job;
    };
    CHECK(!history.is_changed());
    history.change(moved_to(1), "move cutter", "drag");
    history.change(moved_to(2), "move cutter", "drag");
    history.end_merge();
    history.change(moved_to(5), "move cutter", "drag");
    CHECK(history.undo_name() == "move cutter");
    CHECK(history.is_changed());
    history.undo();
    CHECK(history.job().find_part("part-2")->placement.position.x == 2);
    history.undo();
    CHECK(history.job().find_part("part-2")->placement.position.x == 0);
    CHECK(!history.can_undo());
    CHECK(!history.is_changed());
    history.redo();
    history.redo();
    CHECK(history.job().find_part("part-2")->placement.position.x == 5);
    CHECK(!history.can_redo());
    history.mark_saved();
    history.undo();
    CHECK(history.is_changed());
}

TEST_CASE("removing a part takes its steps; removing the base finds another") {
    Job job = two_boxes();
    job.remove_part("part-2");
    CHECK(job.steps.empty());
    Job other = two_boxes();
    other.remove_part("part-1");
    CHECK(other.base == "part-2");
    CHECK(other.steps.empty());
    other.remove_part("part-2");
    CHECK(other.base.empty());
    CHECK(other.add_part("new", nullptr) == other.base);
}

TEST_CASE("a job comes back from its file as it was, unknown fields included") {
    TempFolder folder;
    Job job = demo::lantern_job();
    job.find_part("part-2")->placement = {{0.1, -2.5, 1e-7}, {12.5, 0, 90}};
    job.steps[2].on = false;
    job.extra = R"({"author":"someone"})";
    job.parts[0].extra = R"({"material":{"name":"PETG"}})";
    job.steps[0].extra = R"({"note":"flush"})";
    job.settings.extra = R"({"bed":220})";
    REQUIRE(write_job(job, folder / "lantern.anvil"));
    auto back = read_job(folder / "lantern.anvil");
    INFO((back ? "" : back.error().sentence()));
    REQUIRE(back);
    CHECK(back->base == job.base);
    CHECK(back->extra == job.extra);
    CHECK(back->parts[0].extra == job.parts[0].extra);
    CHECK(back->steps[0].extra == job.steps[0].extra);
    CHECK(back->settings == job.settings);
    REQUIRE(back->parts.size() == job.parts.size());
    for (std::size_t k = 0; k < job.parts.size(); ++k) {
        CHECK(*back->parts[k].mesh == *job.parts[k].mesh);
        CHECK(back->parts[k].placement == job.parts[k].placement);
        CHECK(back->parts[k].name == job.parts[k].name);
    }
    for (std::size_t k = 0; k < job.steps.size(); ++k) {
        CHECK(back->steps[k].id == job.steps[k].id);
        CHECK(back->steps[k].operation == job.steps[k].operation);
        CHECK(back->steps[k].on == job.steps[k].on);
    }
    REQUIRE(write_job(*back, folder / "again.anvil"));
    CHECK(read_job(folder / "again.anvil")->extra == job.extra);
    CHECK(std::distance(std::filesystem::directory_iterator(folder.path()), {}) == 2);
}

TEST_CASE("bad job files: a sentence with the file, and why") {
    TempFolder folder;
    const auto file = folder / "job.anvil";
    CHECK(read_error(folder / "none.anvil").code == ErrorCode::cannot_open);
    CHECK(read_error(folder.path()).code == ErrorCode::not_a_file);
    write_bytes(file, "");
    CHECK(read_error(file).code == ErrorCode::bad_syntax);
    write_bytes(file, "no zip at all");
    CHECK(read_error(file).text.find("zip") != std::string::npos);
    write_zip(file, {{"other.txt", "x"}});
    CHECK(read_error(file).text.find("job.json") != std::string::npos);
    write_zip(file, {{"job.json", "{ not json"}});
    CHECK(read_error(file).code == ErrorCode::bad_syntax);
    write_zip(file, {{"job.json", R"({"format":{"major":9,"minor":0},"base":"","parts":[],"steps":[]})"}});
    const Error newer = read_error(file);
    CHECK(newer.code == ErrorCode::newer_version);
    CHECK(newer.text.find("newer version") != std::string::npos);
    const std::string part = R"({"id":"p","name":"p","mesh":"parts/p.ply","position":[0,0,0],"rotation":[0,0,0]})";
    write_zip(file,
              {{"job.json", R"({"format":{"major":1,"minor":0},"base":"p","parts":[)" + part + R"(],"steps":[]})"}});
    CHECK(read_error(file).text.find("parts/p.ply") != std::string::npos);
    const std::string mesh = format_mesh(make_box({0, 0, 0}, {1, 1, 1}), MeshFormat::ply);
    auto with_steps = [&](const std::string& steps) {
        write_zip(file, {{"job.json", R"({"format":{"major":1,"minor":7},"base":"p","parts":[)" + part +
                                          R"(],"steps":[)" + steps + "]}"},
                         {"parts/p.ply", mesh}});
    };
    with_steps("");
    CHECK(read_job(file).ok());
    with_steps(R"({"id":"s","operation":"union","part":"q"})");
    CHECK(read_error(file).code == ErrorCode::bad_index);
    with_steps(R"({"id":"s","operation":"explode","part":"p"})");
    CHECK(read_error(file).text.find("explode") != std::string::npos);
    write_job(two_boxes(), file).ok();
    std::string bytes = read_bytes(file);
    for (std::uint64_t seed = 0; seed < 200; ++seed) {  // damage of any kind: an error or a job, never a crash
        std::mt19937_64 random(seed);
        std::string bad = bytes;
        for (int k = 0; k < 3; ++k) bad[random() % bad.size()] = static_cast<char>(random());
        write_bytes(file, bad);
        const auto job = read_job(file);
        CHECK((job.ok() || !job.error().text.empty()));
    }
}

TEST_CASE("typed numbers: units and arithmetic") {
    auto mm = [](const char* text) {
        const auto v = parse_quantity(text, Unit::millimetre);
        INFO(text);
        REQUIRE(v);
        return v.value();
    };
    CHECK(mm("12.5") == 12.5);
    CHECK(mm("12.5+1in") == Approx(37.9));
    CHECK(mm(" 3/4 in ") == Approx(19.05));
    CHECK(mm("(2+1)*4mm") == 12);
    CHECK(mm("-1.5 cm") == -15);
    CHECK(mm("2*-3") == -6);
    CHECK(mm("1ft - 12in") == Approx(0).margin(1e-12));
    CHECK(mm("0.5m+250um") == Approx(500.25));
    CHECK(parse_quantity("0.5rad", Unit::degree).value() == Approx(28.6478897565));
    for (const char* bad : {"", "abc", "1+", "(1", "1/0", "2..5", "1 mm mm2", "5kg", "1e999",
                            "(((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((("
                            "((((((((((((((((("}) {
        INFO(bad);
        const auto v = parse_quantity(bad, Unit::millimetre);
        REQUIRE(!v);
        CHECK(!v.error().text.empty());
    }
    CHECK(format_quantity(12.5, Unit::millimetre) == "12.5 mm");
    CHECK(format_quantity(-0.0, Unit::millimetre) == "0 mm");
    // Also where numbers have a comma; a machine without that locale keeps its own.
    const std::string locale = std::setlocale(LC_NUMERIC, nullptr);
    std::setlocale(LC_NUMERIC, "de_DE.UTF-8");
    CHECK(parse_quantity(format_quantity(12.5, Unit::millimetre), Unit::millimetre).value() == 12.5);
    CHECK(short_text(12.5) == "12.5");
    std::setlocale(LC_NUMERIC, locale.c_str());
    CHECK(format_quantity(-1e-9, Unit::millimetre) == "0 mm");
    CHECK(format_quantity(100, Unit::millimetre) == "100 mm");
}

TEST_CASE("the demo's files are those that the program generates") {
    const std::filesystem::path folder = ANVIL_DEMO_FILES;
    const auto shipped = read_job(folder / "lantern.anvil");
    REQUIRE(shipped);
    const Job made = demo::lantern_job();
    REQUIRE(shipped->parts.size() == made.parts.size());
    REQUIRE(shipped->steps.size() == made.steps.size());
    auto same_mesh = [](const Mesh& a, const Mesh& b) {
        REQUIRE(a.points.size() == b.points.size());
        bool near = true;  // another machine's sines may differ in the last bit
        for (VertexId v : ids<VertexId>(a.points.size())) near = near && norm(a.points[v] - b.points[v]) < 1e-9;
        CHECK(near);
        CHECK(a.faces.raw() == b.faces.raw());
    };
    for (std::size_t i = 0; i < made.parts.size(); ++i) {
        CHECK(shipped->parts[i].name == made.parts[i].name);
        CHECK(shipped->parts[i].placement == made.parts[i].placement);
        same_mesh(*shipped->parts[i].mesh, *made.parts[i].mesh);
    }
    for (std::size_t i = 0; i < made.steps.size(); ++i) CHECK(shipped->steps[i].operation == made.steps[i].operation);
    const auto scan = read_mesh(folder / "scanned-bracket.ply");
    REQUIRE(scan);
    same_mesh(*scan, demo::scanned_bracket());
}

TEST_CASE("saving the same job twice gives the same bytes") {
    TempFolder folder;
    REQUIRE(write_job(two_boxes(), folder / "one.anvil"));
    REQUIRE(write_job(two_boxes(), folder / "two.anvil"));
    CHECK(read_bytes(folder / "one.anvil") == read_bytes(folder / "two.anvil"));
}

TEST_CASE("a file's unit: the size each way, the scaled part, and the answer kept in the job's file") {
    Job job = two_boxes();
    const std::vector<std::string> parts{job.base};
    CHECK(!job.settings.import_unit);
    CHECK(size_as(job, parts, ImportUnit::millimetre) == Vec3{4, 4, 4});
    CHECK(size_as(job, parts, ImportUnit::metre) == Vec3{4000, 4000, 4000});
    CHECK(size_as(job, {}, ImportUnit::inch) == Vec3{});
    read_as(job, parts, ImportUnit::inch);
    CHECK(bounds(*job.find_part(job.base)->mesh).size().x == Approx(101.6));
    CHECK(bounds(*job.parts[1].mesh).size().x == 2);
    TempFolder folder;
    REQUIRE(write_job(job, folder / "job.anvil"));
    CHECK(read_job(folder / "job.anvil")->settings.import_unit == ImportUnit::inch);
}

TEST_CASE("a job of split, inlay and gather: pieces, volumes step by step, and the words in its file") {
    Job job = two_boxes();
    const std::string plate = job.add_part("plate", std::make_shared<const Mesh>(make_box({3, 3, 3}, {5, 5, 5})));
    const std::string beside = job.add_part("beside", std::make_shared<const Mesh>(make_box({9, 9, 9}, {10, 10, 10})));
    job.steps[0].operation = Operation::split;
    job.add_step(Operation::gather, beside);
    job.add_step(Operation::inlay, plate);
    Evaluator evaluator;
    Progress progress;
    const auto result = evaluator.evaluate(job, progress);
    REQUIRE(result);
    CHECK(result->combined->pieces() == 4);  // 56 - 1, 8, the plate of 8, and the box beside
    CHECK(signed_volume(result->combined->piece(0)) == Approx(55));
    CHECK(signed_volume(result->combined->piece(1)) == Approx(8));
    CHECK(signed_volume(result->combined->piece(2)) == Approx(8));
    CHECK(signed_volume(result->combined->piece(3)) == Approx(1));
    CHECK(result->operand_parts[result->combined->source.back().operand] == beside);
    CHECK(result->steps[0].volume_after == Approx(64));
    CHECK(result->steps[1].volume_after == Approx(65));
    CHECK(result->steps[2].volume_after == Approx(72));
    TempFolder folder;
    REQUIRE(write_job(job, folder / "job.anvil"));
    const auto back = read_job(folder / "job.anvil");
    REQUIRE(back);
    CHECK(back->steps[1].operation == Operation::gather);
    CHECK(back->steps[2].operation == Operation::inlay);
}

TEST_CASE("what was found out about parts stands at their rows: turned faces, steps without effect") {
    Job job = two_boxes();
    Mesh inside_out = make_box({1, 1, -1}, {3, 3, 9});
    turn_over(inside_out);
    const std::string turned_part = job.add_part("turned", std::make_shared<const Mesh>(inside_out));
    job.add_step(Operation::difference, turned_part);
    const std::string away = job.add_part("away", std::make_shared<const Mesh>(make_box({6, 0, 0}, {7, 1, 1})));
    job.add_step(Operation::difference, away);
    Evaluator evaluator;
    Progress progress;
    const auto result = evaluator.evaluate(job, progress);
    REQUIRE(result);
    CHECK(result->base_note.empty());
    CHECK(result->steps[0].note.empty());
    CHECK(result->steps[1].note == "It was inside out; its faces were turned.");
    CHECK(result->steps[2].note == "It removes nothing: it is 2 mm away from the body.");
    REQUIRE(result->remarks.size() == 2);
    CHECK(result->remarks[1].text == "step 3 (away): " + result->steps[2].note);
}

TEST_CASE("accepted findings travel in the job's file, by part") {
    TempFolder folder;
    Job job = two_boxes();
    const AcceptedFinding skin{FindingKind::thin_skins, {0.1, -2e-17, 3}}, hole{FindingKind::holes, {1, 2, 3}};
    accept_findings(job.settings, "", std::vector{skin, hole});
    accept_findings(job.settings, "", std::vector{hole});
    accept_findings(job.settings, "part-2", std::vector{hole});
    REQUIRE(write_job(job, folder / "a.anvil"));
    auto read = read_job(folder / "a.anvil");
    REQUIRE(read);
    CHECK(accepted_findings(read->settings, "") == std::vector{hole, skin});
    CHECK(accepted_findings(read->settings, "part-2") == std::vector{hole});
    CHECK(accepted_findings(read->settings, "part-1").empty());
    take_back_findings(read->settings, "", std::vector{skin});
    CHECK(accepted_findings(read->settings, "") == std::vector{hole});
    take_back_findings(read->settings, "", std::vector{hole});
    take_back_findings(read->settings, "part-2", std::vector{hole});
    CHECK(read->settings.accepted.empty());
}
