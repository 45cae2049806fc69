// Parts that own lists of steps: segments and treatments by turns, bundles, uses, and what is left out.
#include <random>

#include "core/job/edits.h"
#include "core/job/field_text.h"
#include "core/job/list_evaluator.h"
#include "core/mend/mend.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A list with its results at hand.
struct Lists {
    Job job;
    KeptResults kept;
    ListEvaluator evaluator{kept};

    void part(const std::string& id, Mesh mesh, Steps steps = {}) {
        add({id, id, StoredMesh{std::make_shared<const Mesh>(std::move(mesh))}, std::move(steps)});
    }
    void add(Part made) {
        std::erase_if(job.parts, [&](const auto& p) { return p->id == made.id; });
        job.parts.push_back(std::make_shared<const Part>(std::move(made)));
    }
    ListOutcome run(const std::string& work, const std::set<std::string>& below = {}) {
        job.results = {work};
        Progress progress;
        kept.begin_round();
        auto done = evaluator.run(job, below, {}, ResultAt::its_place, progress);
        INFO((done ? "" : done.error().sentence()));
        REQUIRE(done);
        return std::move(*done);
    }
};

std::shared_ptr<const Step> step(const std::string& id, const std::string& kind, const std::string& operand,
                                 Vec3 at = {}) {
    return std::make_shared<const Step>(Step{.id = id, .kind = kind, .operand = Use{operand, {at, {}}}});
}
std::shared_ptr<const Step> treatment(const std::string& id, const std::string& kind, Values values = {}) {
    return std::make_shared<const Step>(Step{.id = id, .kind = kind, .values = std::move(values)});
}

/// Kinds of the tests' own: one tears a face out, one throws what no library should.
Kind test_kind(const char* word, bool throws) {
    Kind out{.word = word, .of = KindClass::treat};
    out.treat = [throws](const std::shared_ptr<const Mesh>& body, const Values&, const TreatSettings&,
                         Progress&) -> Result<Treated> {
        if (throws) throw std::runtime_error("of a library");
        auto torn = std::make_shared<Mesh>(*body);
        if (!torn->faces.empty()) torn->faces.raw().pop_back();
        return Treated{.mesh = torn};
    };
    return out;
}
const RegisterKind tears(test_kind("test-tear", false)), throws(test_kind("test-throw", true));

double volume(const ListOutcome& o) { return signed_volume(o.result.combined->mesh); }

Mesh open_box(Vec3 low, Vec3 high) {
    Mesh out = make_box(low, high);
    out.faces.raw().resize(out.faces.size() - 2);
    return out;
}

}  // namespace

TEST_CASE("a treatment stands between two combining steps, and what it leaves is cut on") {
    // The second shell is loose once the rod is cut through; dropped, its end cannot be met any more.
    Lists l;
    l.part("rod", make_box({0, 0, 0}, {10, 1, 1}),
           {step("s1", "difference", "saw"),
            treatment("s2", "mend", {{"repairs", std::vector<std::string>{"shells"}}, {"min_shell", 4.5}}),
            step("s3", "union", "knob", {9, 0, 0})});
    l.part("saw", make_box({6, -1, -1}, {7, 2, 2}));
    l.part("knob", make_box({0, 0, 0}, {2, 1, 1}));
    const ListOutcome all = l.run("rod");
    CHECK(volume(all) == Approx(6 + 2));
    CHECK(all.rows.at("s2").treated->mended->repairs.front().changed == 1);
    CHECK(signed_volume(*all.rows.at("s2").from) == Approx(9));
    CHECK(all.rows.at("s3").volume_before == Approx(6));
    CHECK(inspected(all.result.combined->mesh).print_ready);
    // As of any row.
    CHECK(volume(l.run("rod", {"s3"})) == Approx(6));
    CHECK(volume(l.run("rod", {"s2", "s3"})) == Approx(9));
    CHECK(volume(l.run("rod", {"s1", "s2", "s3"})) == Approx(10));
    // Above the treatment nothing is worked out again where something below it moves.
    l.part("knob", make_box({0, 0, 0}, {3, 1, 1}));
    const ListOutcome longer = l.run("rod");
    CHECK(volume(longer) == Approx(6 + 3));
    CHECK(longer.rows.at("s2").treated == all.rows.at("s2").treated);
}

TEST_CASE("an operand is cut, mended and cut again in its own list before it cuts") {
    Lists l;
    l.part("block", make_box({0, 0, 0}, {4, 4, 4}), {step("s9", "difference", "cutter", {1, 1, 2})});
    l.part("cutter", open_box({0, 0, 0}, {2, 2, 3}),
           {treatment("s1", "mend"), step("s2", "difference", "slot"), treatment("s3", "mend"),
            step("s4", "union", "slot", {0, 0, -1})});
    l.part("slot", make_box({0, 0, 0}, {1, 1, 1}));
    // The cutter: 2 x 2 x 3 less a corner of 1, and 1 under it; within the block 2 x 2 x 2 - 1 + 1.
    CHECK(volume(l.run("block")) == Approx(64 - 8));
    CHECK(volume(l.run("cutter")) == Approx(12 - 1 + 1));
}

TEST_CASE("a part used twice stands where each use says, alone or with its bundle") {
    Lists l;
    l.part("block", make_box({0, 0, 0}, {10, 4, 4}),
           {step("s1", "difference", "ring", {1, 1, 0}), step("s2", "difference", "ring", {5, 1, 0})});
    l.part("ring", make_box({0, 0, -1}, {3, 2, 5}), {step("s3", "difference", "core", {1, 0.5, 0})});
    l.part("core", make_box({0, 0, -2}, {1, 1, 6}));
    const ListOutcome o = l.run("block");
    CHECK(volume(o) == Approx(160 - 2 * (6 - 1) * 4));
    CHECK(o.result.combined->pieces() == 1);
    CHECK(inspected(o.result.combined->mesh).measures.shells == 3);
    CHECK(o.rows.at("s3").volume_after == Approx((6 - 1) * 6));
    // An operand with combining steps only joins the arrangement: the block, the ring and the core, twice.
    CHECK(o.result.operand_parts.size() == 5);
}

TEST_CASE("a part whose source is another part follows it, at its own place") {
    Lists l;
    l.part("bore", make_box({0, 0, 0}, {1, 1, 9}));
    l.add({"second", "second bore", Use{"bore", {{3, 0, 0}, {}}}});
    l.part("block", make_box({-1, -1, 1}, {6, 2, 5}),
           {step("s1", "difference", "bore"), step("s2", "difference", "second")});
    CHECK(volume(l.run("block")) == Approx(7 * 3 * 4 - 2 * 4));
    l.part("bore", make_box({0, 0, 0}, {1, 2, 9}));
    CHECK(volume(l.run("block")) == Approx(7 * 3 * 4 - 2 * 8));
}

TEST_CASE("a circle of parts is named, and its step is left out; so is a use of a part that is not there") {
    Lists l;
    l.part("lantern", make_box({0, 0, 0}, {4, 4, 4}),
           {step("s1", "difference", "plate"), step("s2", "union", "knob", {4, 0, 0}), step("s3", "union", "gone")});
    l.part("plate", make_box({0, 0, 0}, {2, 2, 2}), {step("s4", "union", "rim")});
    l.part("rim", make_box({0, 0, 0}, {2, 2, 2}), {step("s5", "union", "plate")});
    l.part("knob", make_box({0, 0, 0}, {1, 1, 1}));
    const ListOutcome o = l.run("lantern");
    // Whichever of the two is taken first, its step with the other is the one that closes the circle.
    const auto& closing = o.rows.at("s5").error ? o.rows.at("s5") : o.rows.at("s4");
    REQUIRE(closing.error);
    CHECK(closing.error->text.find("made of itself: ") != std::string::npos);
    CHECK(closing.error->text.find("plate") != std::string::npos);
    CHECK(closing.error->text.find("rim") != std::string::npos);
    CHECK(!o.rows.at("s3").counted);
    CHECK(o.rows.at("s2").counted);
    l.add({"own", "own", Use{"own"}});
    CHECK(l.run("lantern").broken.at("own").text.find("own, own") != std::string::npos);
}

TEST_CASE(
    "where a body cannot be combined its steps are left out, and the treatment behind them works on it as it is") {
    Lists l;
    l.part("nothing", Mesh(),
           {step("s1", "difference", "cutter"), treatment("s2", "mirror"), step("s3", "union", "cutter")});
    l.part("cutter", make_box({1, 1, 1}, {5, 5, 5}));
    const ListOutcome o = l.run("nothing");
    REQUIRE(o.rows.at("s1").error);
    CHECK(o.rows.at("s1").error->text == "it has no faces");
    CHECK(!o.rows.at("s1").counted);
    CHECK(o.rows.at("s2").treated);
    REQUIRE(o.result.error);  // the last segment's body is the part in work
    CHECK(o.result.combined->empty);
}

TEST_CASE("parts that use each other twice, level by level, are not worked out as often as a power of two") {
    Lists l;
    constexpr int levels = 40;
    for (int k = 0; k < levels; ++k) {
        const std::string next = "p" + std::to_string(k + 1), id = "s" + std::to_string(k);
        l.part("p" + std::to_string(k), make_box({0, 0, 0}, {1, 1, 1}),
               {step(id + "a", "union", next, {0.5, 0, 0}), step(id + "b", "union", next)});
    }
    l.part("p" + std::to_string(levels), make_box({0, 0, 0}, {1, 1, 1}));
    CHECK(volume(l.run("p0")) == Approx(1 + 0.5 * levels));
}

TEST_CASE("a treatment that cannot be done leaves the body as it was and says why; an unknown kind does nothing") {
    Lists l;
    l.part("block", make_box({0, 0, 0}, {4, 4, 4}),
           {treatment("s1", "mend", {{"weld", -1.0}}), treatment("s2", "of a later version"),
            step("s3", "difference", "cutter")});
    l.part("cutter", make_box({3, 3, 3}, {5, 5, 5}));
    const ListOutcome o = l.run("block");
    REQUIRE(o.rows.at("s1").error);
    CHECK(o.rows.at("s1").error->text == "\"weld\" is below 0");
    CHECK(o.rows.at("s1").error->row == "s1");
    CHECK(!o.rows.at("s2").counted);
    CHECK(volume(o) == Approx(63));
}

TEST_CASE("a treatment that would leave a fault in a sound body is not taken; of one that is not sound it may") {
    Lists l;
    l.part("block", make_box({0, 0, 0}, {4, 4, 4}), {treatment("s1", "test-tear"), step("s2", "difference", "cutter")});
    l.part("cutter", make_box({3, 3, 3}, {5, 5, 5}));
    const ListOutcome o = l.run("block");
    REQUIRE(o.rows.at("s1").error);
    CHECK(o.rows.at("s1").error->code == ErrorCode::would_break);
    CHECK(o.rows.at("s1").error->text.find("3 open edges") != std::string::npos);
    CHECK(volume(o) == Approx(63));
    l.part("tray", open_box({0, 0, 0}, {1, 1, 1}), {treatment("s3", "test-tear")});
    CHECK(l.run("tray").result.combined->mesh.faces.size() == 9);
}

TEST_CASE("what a library throws leaves the row out, not the job") {
    Lists l;
    l.part("block", make_box({0, 0, 0}, {4, 4, 4}),
           {treatment("s1", "test-throw"), step("s2", "difference", "cutter")});
    l.part("cutter", make_box({3, 3, 3}, {5, 5, 5}));
    const ListOutcome o = l.run("block");
    REQUIRE(o.rows.at("s1").error);
    CHECK(o.rows.at("s1").error->code == ErrorCode::unexpected);
    CHECK(volume(o) == Approx(63));
}

namespace {

/// A kind of the tests' own that takes a text and another part, which it puts beside the body.
Kind beside_kind() {
    Kind out{.word = "test-beside", .of = KindClass::treat, .stays_sound = false};
    out.fields = {{"label", Field::Type::text, std::string(), "label", "what is said"},
                  {"other", Field::Type::part, std::string(), "other part", "what is put beside it"}};
    out.treat = [](const std::shared_ptr<const Mesh>& body, const Values& values, const TreatSettings& settings,
                   Progress&) -> Result<Treated> {
        Treated done{.mesh = body, .said = value_of<std::string>(*find_kind("test-beside"), values, "label")};
        const auto other = settings.parts.find("other");
        if (other == settings.parts.end()) return done;
        Mesh both = *body;
        const auto offset = static_cast<std::uint32_t>(both.points.size());
        both.points.raw().insert(both.points.raw().end(), other->second->points.begin(), other->second->points.end());
        for (const Triangle& t : other->second->faces)
            both.faces.push_back(
                {VertexId(t[0].value() + offset), VertexId(t[1].value() + offset), VertexId(t[2].value() + offset)});
        done.mesh = std::make_shared<const Mesh>(std::move(both));
        return done;
    };
    return out;
}
const RegisterKind beside(beside_kind());

}  // namespace

TEST_CASE("a treatment takes text, and the body of a part that it names as all of that one's list leaves it") {
    Lists l;
    l.part("ball", make_box({5, 5, 5}, {6, 6, 6}), {treatment("s1", "place", {{"scale", 2.0}})});
    l.part("box", make_box({0, 0, 0}, {2, 2, 2}),
           {treatment("s2", "test-beside", {{"label", std::string("a knob")}, {"other", std::string("ball")}})});
    ListOutcome o = l.run("box");
    CHECK(volume(o) == Approx(8 + 8));
    CHECK(o.rows.at("s2").treated->said == "a knob");
    edit_part(l.job, "ball", [](Part& part) { part.bench.position = {100, 0, 0}; });
    CHECK(bounds(l.run("box").result.combined->mesh).high.x > 100);
    // None, one that is not there, and itself.
    edit_step(l.job, "s2", [](Step& step) { step.values["other"] = std::string(); });
    CHECK(volume(l.run("box")) == Approx(8));
    edit_step(l.job, "s2", [](Step& step) { step.values["other"] = std::string("gone"); });
    o = l.run("box");
    REQUIRE(o.rows.at("s2").error);
    CHECK(o.rows.at("s2").error->text == "it uses a part that is not there: gone");
    CHECK(volume(o) == Approx(8));
    edit_step(l.job, "s2", [](Step& step) { step.values["other"] = std::string("box"); });
    o = l.run("box");
    REQUIRE(o.rows.at("s2").error);
    CHECK(o.rows.at("s2").error->text == "a part is made of itself: box, box");
    CHECK(volume(o) == Approx(8));
    const Kind& kind = *find_kind("test-beside");
    CHECK(std::get<std::string>(*value_from_text(*kind.find_field("label"), "M3, left")) == "M3, left");
    CHECK(!value_from_text(*kind.find_field("other"), "ball"));
    CHECK(check_values(kind, {{"other", 1.0}}).error().text == "\"other\" is of another type");
}

TEST_CASE("edits by hand are steps of a group: what each did, and what they did together") {
    Lists l;
    const Mesh box = make_box({0, 0, 0}, {2, 2, 2});
    auto face = [&](std::uint32_t f) {
        std::vector<Vec3> out;
        for (const VertexId v : box.faces[FaceId(f)]) out.push_back(box.points[v]);
        return out;
    };
    Step group{.id = "g", .kind = "by-hand"};
    group.steps = {treatment("e1", "delete-faces", {{"at", face(0)}}),
                   treatment("e2", "delete-faces", {{"at", face(0)}}),
                   treatment("e3", "flip-faces", {{"at", face(1)}})};
    l.part("box", box, {std::make_shared<const Step>(group)});
    const ListOutcome o = l.run("box");
    CHECK(o.rows.at("e1").treated->by_hand->changed == 1);
    CHECK(o.rows.at("e2").treated->by_hand->refused);
    REQUIRE(o.rows.at("g").treated);
    const Mended& together = *o.rows.at("g").treated->mended;
    CHECK(together.by_hand.size() == 3);
    CHECK(together.before.print_ready);
    CHECK(together.after.count(FindingKind::holes) == 1);
    group.on = false;
    l.part("box", box, {std::make_shared<const Step>(group)});
    CHECK(l.run("box").result.combined->mesh.faces.size() == box.faces.size());
}

TEST_CASE(
    "of the bodies between edits by hand as many are kept as there is room for, and one more goes on from there") {
    const Mesh ball = make_icosphere({0, 0, 0}, 10, 4);
    Lists l;
    Step group{.id = "g", .kind = "by-hand"};
    for (std::uint32_t k = 0; k < 50; ++k) {
        std::vector<Vec3> at;
        for (const VertexId v : ball.faces[FaceId(20 * k)]) at.push_back(ball.points[v]);
        group.steps.push_back(treatment("e" + std::to_string(k), "delete-faces", {{"at", at}}));
    }
    const auto last = group.steps.back();
    group.steps.pop_back();
    l.part("ball", ball, {std::make_shared<const Step>(group)});
    CHECK(l.run("ball").rows.at("e48").treated->by_hand->changed == 1);
    const std::size_t of_one = ball.faces.size() * sizeof(Triangle) + ball.points.size() * sizeof(Vec3);
    CHECK(l.kept.bytes() > 40 * of_one);
    ListOutcome some = l.run("ball");
    REQUIRE(some.rows.at("e7").from);
    CHECK(some.rows.at("e7").from->faces.size() == ball.faces.size() - 7);
    CHECK(some.rows.at("e7").treated->mesh->faces.size() == ball.faces.size() - 8);
    Lists tight;
    tight.kept.set_budget(40 * of_one);
    tight.job = l.job;
    some = tight.run("ball");
    CHECK(tight.kept.bytes() < 40 * of_one);
    CHECK(!some.rows.at("e7").from);  // what it did is told nevertheless
    CHECK(some.rows.at("e7").treated->by_hand->changed == 1);
    REQUIRE(some.rows.at("e48").from);
    CHECK(some.rows.at("e48").treated->mesh->faces.size() == ball.faces.size() - 49);
    group.steps.push_back(last);
    l.part("ball", ball, {std::make_shared<const Step>(group)});
    const ListOutcome all = l.run("ball");
    CHECK(all.rows.at("e48").treated->by_hand->changed == 1);
    CHECK(all.rows.at("g").treated->mended->by_hand.size() == 50);
    CHECK(all.rows.at("g").treated->mesh->faces.size() == ball.faces.size() - 50);
    Lists fresh;
    fresh.job = l.job;
    CHECK(fresh.run("ball").result.combined->mesh.faces.raw() == all.result.combined->mesh.faces.raw());
}

TEST_CASE("kinds: every operation, repair and tool has one; their usual values are values of theirs") {
    for (const Operation op : all_operations) {
        const Kind* kind = find_kind(word(op));
        REQUIRE(kind);
        CHECK(kind->of == KindClass::combine);
        CHECK(kind->operation == op);
    }
    for (int k = 0; k < hand_tools; ++k) {
        const Kind* kind = find_kind(word(static_cast<HandTool>(k)));
        REQUIRE(kind);
        CHECK(kind->find_field("at")->type == Field::Type::elements);
    }
    const Kind& mend = *find_kind("mend");
    for (const Repair r : whole_plan())
        CHECK(check_values(mend, {{"repairs", std::vector<std::string>{std::string(word(r))}}}).ok());
    CHECK(!find_kind("no such thing"));
    for (const Kind* kind : all_kinds()) {
        INFO(kind->word);
        Values usual;
        std::set<std::string> names;
        for (const Field& field : kind->fields) {
            CHECK(names.insert(field.name).second);
            CHECK(!field.label.empty());
            usual[field.name] = field.usual;
        }
        CHECK(check_values(*kind, usual).ok());
        CHECK((kind->of == KindClass::treat) == static_cast<bool>(kind->treat));
    }
}

TEST_CASE("values that are none of their kind's are refused, and the field is named") {
    const Kind& mend = *find_kind("mend");
    auto why = [&](Values values) {
        const auto checked = check_values(mend, values);
        return checked ? std::string() : checked.error().text;
    };
    CHECK(why({{"colour", 1.0}}) == "\"colour\" is no setting of mend");
    CHECK(why({{"weld", true}}) == "\"weld\" is of another type");
    CHECK(why({{"weld", std::nan("")}}) == "\"weld\" is not a number");
    CHECK(why({{"fill", std::string("with foam")}}) == "\"fill\" knows no \"with foam\"");
    CHECK(why({{"repairs", std::vector<std::string>{"weld", "weld"}}}) == "\"repairs\" names \"weld\" twice");
    CHECK(why({{"places", std::vector<Vec3>{{0, 0, std::numeric_limits<double>::infinity()}}}})
              .starts_with("\"places\" has a coordinate"));
    CHECK(why({{"max_hole", std::numeric_limits<double>::infinity()}}).empty());
}

TEST_CASE("random lists, edited at random: what is kept gives the bytes of an evaluation from scratch") {
    const std::uint32_t seed = seed_of_run();
    INFO("seed " << seed);
    std::mt19937 random(seed);
    const std::vector<std::string> ids = {"a", "b", "c", "d"};
    int number = 0;
    auto any_step = [&](std::size_t below) {  // parts use those after them only
        const std::string id = "s" + std::to_string(++number);
        if (below == ids.size() || random() % 4 == 0) return treatment(id, "mend");
        const Operation op = all_operations[random() % std::size(all_operations)];
        return step(id, std::string(word(op)), ids[below + random() % (ids.size() - below)],
                    {0.5 * static_cast<double>(random() % 4), 0.25 * static_cast<double>(random() % 3), 0});
    };
    for (int round = 0; round < 10; ++round) {
        Lists l;
        l.part("a", make_box({0, 0, 0}, {4, 4, 4}));
        l.part("b", make_icosphere({2, 2, 4}, 1.25, 2));
        l.part("c", open_box({1, 1, 2}, {3, 3, 4}));
        l.part("d", make_box({0, 0, 0}, {2, 1, 5}));
        for (int edit = 0; edit < 6; ++edit) {
            const std::size_t which = random() % ids.size();
            Part part = *l.job.find_part(ids[which]);
            const std::size_t at = part.steps.empty() ? 0 : random() % part.steps.size();
            if (part.steps.size() > 3 || (!part.steps.empty() && random() % 4 == 0)) {
                part.steps.erase(part.steps.begin() + static_cast<long>(at));
            } else if (!part.steps.empty() && random() % 3 == 0) {
                Step other = *part.steps[at];
                other.on = !other.on;
                part.steps[at] = std::make_shared<const Step>(std::move(other));
            } else {
                part.steps.insert(part.steps.begin() + static_cast<long>(at), any_step(which + 1));
            }
            l.add(std::move(part));
            Lists fresh;
            fresh.job = l.job;
            const ListOutcome kept = l.run("a"), scratch = fresh.run("a");
            INFO("round " << round << ", edit " << edit);
            REQUIRE(kept.result.combined->mesh.points.raw() == scratch.result.combined->mesh.points.raw());
            REQUIRE(kept.result.combined->mesh.faces.raw() == scratch.result.combined->mesh.faces.raw());
            REQUIRE(kept.rows.size() == scratch.rows.size());
            for (const auto& [id, row] : kept.rows) {
                REQUIRE(row.note == scratch.rows.at(id).note);
                REQUIRE(row.volume_after == scratch.rows.at(id).volume_after);
                REQUIRE(row.error.has_value() == scratch.rows.at(id).error.has_value());
            }
        }
    }
}
