#include <clocale>

#include "core/base/number_text.h"
#include "core/io/mesh_file.h"
#include "core/job/accepted_in_job.h"
#include "core/job/history.h"
#include "core/job/job_file.h"
#include "core/job/job_text.h"
#include "core/job/quantity.h"
#include "demo/lantern.h"
#include "tests/job/jobs.h"
#include "tests/support/archive.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A block and what is cut out of it.
struct TwoBoxes {
    Job job;
    std::string block = add(job, "block", make_box({0, 0, 0}, {4, 4, 4})),
                cutter = add(job, "cutter", make_box({0, 0, 0}, {2, 2, 2})),
                cut = add_combining(job, Operation::difference, cutter);
    std::string third(Operation operation, Vec3 low = {3, 3, 3}, Vec3 high = {5, 5, 5}) {
        return add_combining(job, operation, add(job, "third", make_box(low, high)));
    }
};

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
    const TwoBoxes two;
    const Evaluation e = evaluated(evaluator, two.job);
    CHECK(volume(e) == Approx(56));
    CHECK(e.rows.at(two.cut).volume_before == Approx(64));
    CHECK(e.rows.at(two.cut).volume_after == Approx(56));
    CHECK(e.operand_parts == std::vector{two.block, two.cutter});
}

TEST_CASE("operation, switch, order and stop line reuse the arrangement; moving a part does not") {
    Evaluator evaluator;
    TwoBoxes two;
    const std::string third = two.third(Operation::union_of);
    auto next = [&](std::size_t stop = ~std::size_t{0}) { return evaluated(evaluator, two.job, stop); };
    CHECK(volume(next()) == Approx(56 + 7));
    set_operation(two.job, two.cut, Operation::intersection);
    Evaluation e = next();
    CHECK(volume(e) == Approx(8 + 8));
    CHECK(e.reused_arrangement);
    set_on(two.job, third, false);
    e = next();
    CHECK(volume(e) == Approx(8));
    CHECK(e.reused_arrangement);
    set_on(two.job, third, true);
    REQUIRE(move_step(two.job, third, {two.job.work(), two.cut}));
    e = next();
    CHECK(volume(e) == Approx(8));
    CHECK(e.reused_arrangement);
    e = next(1);
    CHECK(volume(e) == Approx(71));
    CHECK(e.reused_arrangement);
    CHECK(volume(next(0)) == Approx(64));
    move_to(two.job, third, {-1, -1, -1});
    e = next();
    CHECK(volume(e) == Approx(8));
    CHECK(!e.reused_arrangement);
}

TEST_CASE("a part used twice, and a base changed for an operand, still come out right") {
    Evaluator evaluator;
    TwoBoxes two;
    CHECK(volume(evaluated(evaluator, two.job)) == Approx(56));
    add_combining(two.job, Operation::union_of, two.cutter);
    CHECK(volume(evaluated(evaluator, two.job)) == Approx(64));
    make_base(two.job, two.cutter);
    add_combining(two.job, Operation::union_of, two.block);
    CHECK(volume(evaluated(evaluator, two.job)) == Approx(64));
}

TEST_CASE("a step whose part cannot be taken is left out and says why; the base alone needs not be sound") {
    Evaluator evaluator;
    TwoBoxes two;
    Job& job = two.job;
    const std::string third = two.third(Operation::union_of);
    set_mesh(job, two.cutter, Mesh());
    const Evaluation without = evaluated(evaluator, job);
    REQUIRE(without.first_error);
    CHECK(without.first_error->place == "step 1 (cutter)");
    CHECK(without.first_error->row == two.cut);
    CHECK(!without.rows.at(two.cut).counted);
    CHECK(!without.rows.at(third).error);
    CHECK(volume(without) == Approx(64 + 7));
    // What lies in its bundle has nothing to act on.
    Job bundled = job;
    REQUIRE(move_into(bundled, third, two.cut));
    const Evaluation none = evaluated(evaluator, bundled);
    CHECK(!none.rows.at(third).counted);
    CHECK(volume(none) == Approx(64));
    set_mesh(job, two.block, Mesh());
    const Evaluation nothing = evaluated(evaluator, job);
    CHECK(nothing.base_error);
    CHECK(nothing.combined->empty);
    TwoBoxes other;
    Mesh sheet = make_box({0, 0, 0}, {2, 2, 2});
    sheet.faces.raw().resize(2);
    set_mesh(other.job, other.cutter, sheet);
    const Evaluation tried = evaluated(evaluator, other.job);
    CHECK(tried.rows.at(other.cut).note.find("it is a sheet and encloses nothing") != std::string::npos);
    make_base(other.job, other.cutter);
    CHECK(evaluated(evaluator, other.job).combined->mesh.faces.size() == 2);
}

TEST_CASE("the demo job evaluates to one print-ready body") {
    Evaluator evaluator;
    const Evaluation e = evaluated(evaluator, demo::lantern_job());
    const Inspection i = inspected(e.combined->mesh);
    CHECK(findings_text(i) == "none");
    CHECK(i.measures.shells == 1);
    CHECK(e.rows.size() == 8);
    for (const auto& [id, row] : e.rows) CHECK(row.volume_before != row.volume_after);
    // Two screw holes, the lens, two gland bores and five slots, each parted by the rib, open the one cavity or pass
    // through: by Euler's formula each adds a handle, the first opening of the cavity none.
    CHECK(euler_characteristic(i.mesh) == 2 - 2 * (2 + 1 + 2 + 2 * 5 - 1));
}

TEST_CASE("undo and redo bring back jobs by name; merged changes are one") {
    const TwoBoxes two;
    History history(two.job);
    auto moved_to = [&](double x) {
        Job job = history.job();
        move_to(job, two.cut, {x, 0, 0});
        return job;
    };
    auto x = [&] { return find_step(history.job(), two.cut).step->operand->placement.position.x; };
    CHECK(!history.is_changed());
    history.change(moved_to(1), "move cutter", "drag");
    history.change(moved_to(2), "move cutter", "drag");
    history.end_merge();
    history.change(moved_to(5), "move cutter", "drag");
    CHECK(history.undo_name() == "move cutter");
    CHECK(history.is_changed());
    history.undo();
    CHECK(x() == 2);
    history.undo();
    CHECK(x() == 0);
    CHECK(!history.can_undo());
    CHECK(!history.is_changed());
    history.redo();
    history.redo();
    CHECK(x() == 5);
    CHECK(!history.can_redo());
    history.mark_saved();
    history.undo();
    CHECK(history.is_changed());
    // A drag that is given up leaves no entry, and can't be redone.
    const double before = x();
    const std::string name = history.undo_name();
    history.change(moved_to(7), "move cutter", "drag");
    history.change(moved_to(8), "move cutter", "drag");
    CHECK(!history.take_back_merge("field"));
    CHECK(history.take_back_merge("drag"));
    CHECK(x() == before);
    CHECK(history.undo_name() == name);
    CHECK(!history.can_redo());
    CHECK(!history.take_back_merge("drag"));
}

TEST_CASE("a job comes back from its file as it was, unknown fields included") {
    TempFolder folder;
    Job job = demo::lantern_job();
    const std::string step = rows_of(job)[3].step->id;
    edit_use(job, rows_of(job)[1].id, [](Use& use) { use.placement = {{0.1, -2.5, 1e-7}, {12.5, 0, 90}}; });
    edit_step(job, step, [](Step& s) {
        s.on = false;
        s.extra = R"({"note":"flush"})";
    });
    job.extra = R"({"author":"someone"})";
    edit_part(job, "part-1", [](Part& p) { p.extra = R"({"material":{"name":"PETG"}})"; });
    job.settings.extra = R"({"bed":220})";
    REQUIRE(write_job(job, folder / "lantern.anvil"));
    auto back = read_job(folder / "lantern.anvil");
    INFO((back ? "" : back.error().sentence()));
    REQUIRE(back);
    CHECK(job_text(*back) == job_text(job));
    CHECK(back->settings == job.settings);
    CHECK(find_step(*back, step).step->extra == R"({"note":"flush"})");
    for (const char* id : {"part-1", "part-5", "part-9"}) CHECK(*mesh_of(*back, id) == *mesh_of(job, id));
    REQUIRE(write_job(*back, folder / "again.anvil"));
    CHECK(read_bytes(folder / "again.anvil") == read_bytes(folder / "lantern.anvil"));
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
    write_job(TwoBoxes().job, file).ok();
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
    for (const char* bad : {"", "abc", "1+", "(1", "1/0", "2..5", "1 mm mm2", "5kg", "1e999", "1e308", "1e10 m",
                            "(((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((("
                            "((((((((((((((((("}) {
        INFO(bad);
        const auto v = parse_quantity(bad, Unit::millimetre);
        REQUIRE(!v);
        CHECK(!v.error().text.empty());
    }
    CHECK(parse_quantity("by 5", Unit::millimetre, 12).value() == 17);
    CHECK(parse_quantity(" by -1/2 in", Unit::millimetre, 12.7).value() == 0);
    CHECK(parse_quantity("15", Unit::degree, 30).value() == 15);
    CHECK(!parse_quantity("by", Unit::millimetre, 1));
    CHECK(!parse_quantity("by 5", Unit::millimetre));
    CHECK(!parse_quantity(std::string(200'000, '-') + "1", Unit::millimetre));
    CHECK(mm("--1 in") == 25.4);
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
    auto same_mesh = [](const Mesh& a, const Mesh& b) {
        REQUIRE(a.points.size() == b.points.size());
        bool near = true;  // another machine's sines may differ in the last bit
        for (VertexId v : ids<VertexId>(a.points.size())) near = near && norm(a.points[v] - b.points[v]) < 1e-9;
        CHECK(near);
        CHECK(a.faces.raw() == b.faces.raw());
    };
    for (const auto& part : made.parts)
        if (std::holds_alternative<StoredMesh>(part->source))
            same_mesh(*mesh_of(*shipped, part->id), *mesh_of(made, part->id));
    // The number of a bore's place may differ in its last digit.
    const auto is = rows_of(*shipped), was = rows_of(made);
    REQUIRE(is.size() == was.size());
    for (std::size_t k = 0; k < is.size(); ++k) {
        CHECK(is[k].id == was[k].id);
        CHECK(is[k].kind == was[k].kind);
        CHECK(norm(is[k].placement().position - was[k].placement().position) < 1e-9);
        CHECK(is[k].placement().angles == was[k].placement().angles);
    }
    const auto scan = read_mesh(folder / "scanned-bracket.ply");
    REQUIRE(scan);
    same_mesh(*scan, demo::scanned_bracket());
}

TEST_CASE("saving the same job twice gives the same bytes") {
    TempFolder folder;
    REQUIRE(write_job(TwoBoxes().job, folder / "one.anvil"));
    REQUIRE(write_job(TwoBoxes().job, folder / "two.anvil"));
    CHECK(read_bytes(folder / "one.anvil") == read_bytes(folder / "two.anvil"));
}

TEST_CASE("a file's unit: the size each way, the scaled part, and the answer kept in the job's file") {
    TwoBoxes two;
    Job& job = two.job;
    const std::vector<std::string> parts{two.block};
    CHECK(!job.settings.import_unit);
    CHECK(size_as(job, parts, ImportUnit::millimetre) == Vec3{4, 4, 4});
    CHECK(size_as(job, parts, ImportUnit::metre) == Vec3{4000, 4000, 4000});
    CHECK(size_as(job, {}, ImportUnit::inch) == Vec3{});
    read_as(job, parts, ImportUnit::inch);
    CHECK(bounds(*mesh_of(job, two.block)).size().x == Approx(101.6));
    CHECK(bounds(*mesh_of(job, two.cutter)).size().x == 2);
    TempFolder folder;
    REQUIRE(write_job(job, folder / "job.anvil"));
    CHECK(read_job(folder / "job.anvil")->settings.import_unit == ImportUnit::inch);
}

TEST_CASE("a job of split, inlay and gather: pieces, volumes step by step") {
    TwoBoxes two;
    set_operation(two.job, two.cut, Operation::split);
    const std::string beside = add(two.job, "beside", make_box({9, 9, 9}, {10, 10, 10}));
    const std::string gathered = add_combining(two.job, Operation::gather, beside);
    const std::string inlaid = two.third(Operation::inlay);
    Evaluator evaluator;
    const Evaluation e = evaluated(evaluator, two.job);
    CHECK(e.combined->pieces() == 4);  // 56 - 1, 8, the plate of 8, and the box beside
    CHECK(signed_volume(e.combined->piece(0)) == Approx(55));
    CHECK(signed_volume(e.combined->piece(1)) == Approx(8));
    CHECK(signed_volume(e.combined->piece(2)) == Approx(8));
    CHECK(signed_volume(e.combined->piece(3)) == Approx(1));
    CHECK(e.operand_parts[e.combined->source.back().operand] == beside);
    CHECK(e.rows.at(two.cut).volume_after == Approx(64));
    CHECK(e.rows.at(gathered).volume_after == Approx(65));
    CHECK(e.rows.at(inlaid).volume_after == Approx(72));
}

TEST_CASE("what was found out about parts stands at their rows: turned faces, steps without effect") {
    TwoBoxes two;
    Mesh inside_out = make_box({1, 1, -1}, {3, 3, 9});
    turn_over(inside_out);
    const std::string turned = add_combining(two.job, Operation::difference, add(two.job, "turned", inside_out));
    const std::string away =
        add_combining(two.job, Operation::difference, add(two.job, "away", make_box({6, 0, 0}, {7, 1, 1})));
    Evaluator evaluator;
    const Evaluation e = evaluated(evaluator, two.job);
    CHECK(e.base_note.empty());
    CHECK(e.rows.at(two.cut).note.empty());
    CHECK(e.rows.at(turned).note == "It was inside out; its faces were turned.");
    CHECK(e.rows.at(away).note == "It removes nothing: it is 2 mm away from the body.");
    REQUIRE(e.remarks.size() == 2);
    CHECK(e.remarks[1].text == "step 3 (away): " + e.rows.at(away).note);
    CHECK(e.remarks[1].row.step() == away);
}

TEST_CASE("accepted findings travel in the job's file, by part") {
    TempFolder folder;
    Job job = TwoBoxes().job;
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
