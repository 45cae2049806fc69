#include "core/job/job_file.h"
#include "core/job/job_text.h"
#include "core/job/new_shape.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A box with a bore through it.
struct Drilled {
    Job job;
    std::string box, bore, step;
    Drilled() {
        box = add_part(job, "block", Shape{.kind = "box", .values = {{"edge_radius", 2.0}}});
        bore = add_part(job, "bore", Shape{.kind = "cylinder", .values = {{"height", 40.0}}}, {{0, 0, -10}, {}});
        step = add_combining(job, Operation::difference, bore);
    }
};

void set(Job& job, const std::string& part, const char* field, Value value) {
    edit_part(job, part, [&](Part& p) { std::get<Shape>(p.source).values[field] = std::move(value); });
}

}  // namespace

TEST_CASE("every shape is made from its usual values, and each of its numbers can be set to its least") {
    REQUIRE(all_shapes().size() >= 10);
    for (const Kind* kind : all_shapes()) {
        INFO(kind->word);
        CHECK(find_kind(kind->word) == nullptr);
        CHECK(!kind->says.empty());
        auto usual = kind->make({});
        REQUIRE(usual);
        CHECK(inspected(usual->mesh).print_ready);
        CHECK(usual->side.size() == usual->mesh.faces.size());
        for (const Field& field : kind->fields) {
            INFO(field.name);
            CHECK(!field.label.empty());
            Values values;
            if (std::holds_alternative<double>(field.usual)) values[field.name] = field.least;
            if (std::holds_alternative<std::int64_t>(field.usual))
                values[field.name] = static_cast<std::int64_t>(field.least);
            CHECK(check_values(*kind, values));
            auto made = kind->make(values);
            // Sound, or refused with a sentence.
            if (made)
                CHECK(inspected(made->mesh).closed);
            else
                CHECK(made.error().text.size() > 20);
        }
    }
}

TEST_CASE("a shape stays live: its numbers change the result, and what it was is kept") {
    Drilled d;
    Evaluator evaluator;
    const double before = volume(evaluated(evaluator, d.job));
    Job wider = d.job;
    set(wider, d.bore, "diameter", 14.0);
    const double after = volume(evaluated(evaluator, wider));
    // The part of a circle that a polygon of n corners fills, of any handbook.
    auto bore = [](double diameter) {
        const int n = faces_around(diameter / 2, {});
        return 20 * n * diameter * diameter / 8 * std::sin(2 * 3.14159265358979323846 / n);
    };
    CHECK(before - after == Approx(bore(14) - bore(10)));
    const Evaluation again = evaluated(evaluator, d.job);
    CHECK(again.reused_arrangement);
    CHECK(volume(again) == before);
    CHECK(again.given.at(d.bore)->faces.size() > 100);
}

TEST_CASE("a shape that cannot be leaves its step out, with a sentence; the body goes on") {
    Drilled d;
    edit_part(d.job, d.bore, [](Part& p) { p.source = Shape{.kind = "tube", .values = {{"inner", 30.0}}}; });
    Evaluator evaluator;
    const Evaluation done = evaluated(evaluator, d.job);
    REQUIRE(done.row(d.step)->error);
    CHECK(done.row(d.step)->error->text.find("smaller than the outer one") != std::string::npos);
    CHECK(!done.combined->empty);
    REQUIRE(done.first_error);
    edit_part(d.job, d.bore, [](Part& p) { p.source = Shape{.kind = "gear"}; });
    CHECK(evaluated(evaluator, d.job).first_error->text.find("no shape of the kind \"gear\"") != std::string::npos);
}

TEST_CASE("sides of a shape are tags that stay the same when its numbers change") {
    Drilled d;
    auto tags = [&](const Job& job) {
        std::set<Tag> out;
        const Solid solid = *find_shape("cylinder")->make(std::get<Shape>(job.find_part(d.bore)->source).values);
        const Tags of = tags_of_shape(d.bore, solid.side);
        out.insert(of.table.begin(), of.table.end());
        return out;
    };
    Job wider = d.job;
    set(wider, d.bore, "diameter", 14.0);
    CHECK(tags(d.job) == tags(wider));
    CHECK(tags(d.job) == std::set<Tag>{{{}, d.bore, 0}, {{}, d.bore, 1}, {{}, d.bore, 2}});
}

TEST_CASE("shapes in files: what differs from the usual, kept with what is not known; damage is told with its place") {
    Drilled d;
    edit_part(d.job, d.box, [](Part& p) { std::get<Shape>(p.source).unknown = R"({"fillet_style": "soft"})"; });
    edit_part(d.job, d.bore, [](Part& p) { std::get<Shape>(p.source).extra = R"({"made_by": "hand"})"; });
    const TempFolder folder;
    REQUIRE(write_job(d.job, folder / "drilled.anvil"));
    Progress progress;
    const auto back = read_job(folder / "drilled.anvil", progress);
    INFO((back ? "" : back.error().sentence()));
    REQUIRE(back);
    CHECK(job_text(*back) == job_text(d.job));
    CHECK(job_text(*back).find("fillet_style") != std::string::npos);
    CHECK(job_text(*back).find("made_by") != std::string::npos);
    Evaluator evaluator;
    CHECK(evaluated(evaluator, *back).combined->mesh == evaluated(evaluator, d.job).combined->mesh);

    auto why_not = [&](const std::string& from, const std::string& to) {
        std::string text = job_text(d.job);
        const std::size_t at = text.find(from);
        REQUIRE(at != std::string::npos);
        text.replace(at, from.size(), to);
        const auto read =
            job_from_text(text, [](const std::string&) -> Result<std::shared_ptr<const Mesh>> { return Error{}; });
        REQUIRE(!read);
        return read.error().sentence();
    };
    CHECK(why_not("\"edge_radius\": 2.0", "\"edge_radius\": -2.0").find("below 0") != std::string::npos);
    CHECK(why_not("\"edge_radius\": 2.0", "\"edge_radius\": \"two\"").find("edge_radius") != std::string::npos);
    CHECK(why_not("\"kind\": \"box\"", "\"kind\": 7").find("kind") != std::string::npos);
}

TEST_CASE("a shape as the base: placed, moved from the base's row, and made the base in place of another") {
    Drilled d;
    const RowId base = rows_of(d.job).front().id;
    CHECK(base.part == d.box);
    set_placement(d.job, base, {{5, 0, 0}, {}});
    Evaluator evaluator;
    CHECK(bounds(evaluated(evaluator, d.job).combined->mesh).low.x == -5);
    make_base(d.job, d.bore);
    CHECK(base_of(d.job) == d.bore);
    CHECK(rows_of(d.job).front().placement().position == Vec3{5, 0, -10});  // it had gone along
}

TEST_CASE("a new shape is about a third of the body, in round numbers, and stands on what it is put on") {
    const Kind& cylinder = *find_shape("cylinder");
    CHECK(values_for_size(cylinder, 60).empty());
    CHECK(std::get<double>(values_for_size(cylinder, 30).at("diameter")) == 5);
    CHECK(std::get<double>(values_for_size(cylinder, 600).at("height")) == 200);
    CHECK(!values_for_size(cylinder, 600).contains("chord"));
    CHECK(values_for_size(cylinder, 0).empty());
    CHECK(check_values(cylinder, values_for_size(cylinder, 1e-9)));
    CHECK(check_values(cylinder, values_for_size(cylinder, 1e30)));

    const Vec3 foot{1.23456, 2.34567, 3.45678};
    CHECK(standing_on(foot, {0, 0, 2}) == Placement{{1.23, 2.35, 3.45678}, {0, 0, 0}});
    for (const Vec3& up :
         {Vec3{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}, {1, 2, 3}, {-0.3, 0.1, -2}}) {
        const Transform there = standing_on(foot, up).transform();
        CHECK(norm(apply(there, {0, 0, 1}) - apply(there, {}) - normalized(up)) < 1e-12);
        CHECK(std::fabs(dot(apply(there, {}) - foot, normalized(up))) < 1e-12);
    }
    Drilled d;
    CHECK(unused_name(d.job, "bore") == "bore 2");
    CHECK(unused_name(d.job, "rod") == "rod");
}
