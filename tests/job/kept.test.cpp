// What evaluations keep: by content, up to a budget, and whatever was kept the result is that of the job from scratch.
#include <random>

#include "core/job/groups.h"
#include "core/job/history.h"
#include "core/job/job_text.h"
#include "core/job/links.h"
#include "core/job/place_edits.h"
#include "demo/lantern.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

bool same_result(const Evaluation& a, const Evaluation& b) {
    const Combined &p = *a.combined, &q = *b.combined;
    if (!(p.mesh.points.raw() == q.mesh.points.raw() && p.mesh.faces.raw() == q.mesh.faces.raw())) return false;
    if (p.piece_start != q.piece_start || p.reason != q.reason || p.flush.size() != q.flush.size()) return false;
    if (a.operand_parts != b.operand_parts || a.remarks.size() != b.remarks.size()) return false;
    for (std::size_t k = 0; k < a.remarks.size(); ++k)
        if (a.remarks[k].text != b.remarks[k].text || a.remarks[k].row != b.remarks[k].row) return false;
    for (const auto& [id, row] : a.rows) {
        const RowOutcome& other = b.rows.at(id);
        if (row.volume_after != other.volume_after || row.note != other.note || row.counted != other.counted)
            return false;
        if (row.error.has_value() != other.error.has_value() || !row.treated != !other.treated) return false;
        // Bodies between edits are kept as long as there is room.
        const bool both = row.treated && row.treated->mesh && other.treated->mesh;
        if (both && !(*row.treated->mesh == *other.treated->mesh)) return false;
    }
    for (const auto& [id, other] : a.also)
        if (!b.also.contains(id) || !(other->mesh == b.also.at(id)->mesh)) return false;
    return a.rows.size() == b.rows.size() && a.also.size() == b.also.size() && a.broken.size() == b.broken.size();
}

/// Boxes, balls, an open tray that wants mending and a plate, some of them steps.
Job some_job(std::mt19937& random) {
    Job job;
    add(job, "block", make_box({0, 0, 0}, {4, 4, 4}));
    std::vector<std::string> operands = {
        add(job, "flush", make_box({1, 1, 2}, {3, 3, 4})), add(job, "ball", make_icosphere({2, 2, 4}, 1.25, 2)),
        add(job, "beside", make_box({4, 0, 0}, {5, 2, 2})), add(job, "plate", make_plate({2, 2, 2}, 8, 8))};
    Mesh tray = make_box({-1, 1, 1}, {1, 2, 2});
    tray.faces.raw().resize(tray.faces.size() - 2);
    operands.push_back(add(job, "tray", std::move(tray)));
    operands.push_back(add_part(job, "half", Shape{.kind = "half-space"}, {{2, 2, 3}, {0, 20, 0}}));
    for (std::size_t k = 0; k < 4; ++k)
        add_combining(job, all_operations[random() % std::size(all_operations)], operands[random() % operands.size()]);
    return job;
}

/// A cut, or what comes after one, that is flush with much of what these jobs have.
std::pair<std::string, Values> some_cut(std::mt19937& random) {
    auto half = [&](int to) { return 0.5 * static_cast<double>(random() % static_cast<unsigned>(to)); };
    const Vec3 at{half(6), half(6), half(6)};
    Vec3 normal;
    normal[static_cast<int>(random() % 3)] = random() % 2 ? 1 : -1;
    if (random() % 4 == 0) normal = {1, half(3), 2};
    switch (random() % 6) {
        case 0: return {"cut-plane", {{"origin", at}, {"normal", normal}}};
        case 1: return {"cut-plane", {{"origin", at}, {"planes", std::string("layers")}, {"layer", 0.5 + half(3)}}};
        case 2: return {"drill", {{"at", std::vector<Vec3>{at}}, {"normal", normal}, {"diameter", 0.5 + half(3)}}};
        case 3:
            return {"cut-outline",
                    {{"origin", at},
                     {"normal", normal},
                     {"width", 1 + half(3)},
                     {"length", 1.0},
                     {"does", std::string(random() % 2 ? "union" : "split")}}};
        case 4: return {"symmetry", {{"at", at.x}}};
        default: return {random() % 2 ? "clear-residue" : "merge-flat", {}};
    }
}

/// One of all the edits that there are, at a place by chance; what is refused leaves the job as it was.
void edit(Job& job, std::mt19937& random) {
    const std::vector<Row> rows = rows_of(job);
    std::vector<RowId> steps, parts;
    for (const Row& row : rows) (row.step ? steps : parts).push_back(row.id);
    auto chance = [&](std::size_t n) { return random() % n; };
    auto any_mesh = [&] {
        std::vector<std::string> ids;
        for (const auto& part : job.parts)
            if (part->has_own_body()) ids.push_back(part->id);
        return ids[chance(ids.size())];
    };
    auto any_list = [&] { return job.parts[chance(job.parts.size())]->id; };
    auto placement = [&] {
        const double quarter = 90.0 * static_cast<double>(chance(4));
        return Placement{{0.5 * static_cast<double>(chance(3)), 0, 0.25 * static_cast<double>(chance(2))},
                         {0, 0, chance(3) == 0 ? quarter : 0}};
    };
    if (job.parts.empty()) {
        add(job, "another", make_box({0, 0, 0}, {3, 3, 3}));
        return;
    }
    if (steps.empty() || chance(8) == 0) {
        const Operation operation = all_operations[chance(std::size(all_operations))];
        if (const std::string part = any_mesh(); part != base_of(job)) add_combining(job, operation, part);
        return;
    }
    const std::string step = steps[chance(steps.size())].step(), other = steps[chance(steps.size())].step();
    switch (chance(30)) {
        case 0: edit_step(job, step, [](Step& s) { s.on = !s.on; }); break;
        case 1:
            if (find_step(job, step).step->operand) set_operation(job, step, all_operations[chance(11)]);
            break;
        case 2: (void)move_step(job, step, place_of(*find_row(rows, row_of(job, other)))); break;
        case 3: (void)move_into(job, step, other); break;
        case 4: (void)move_out(job, row_of(job, step)); break;
        case 5: set_placement(job, row_of(job, step), placement()); break;
        case 6: job.settings.merge_flush = !job.settings.merge_flush; break;
        case 7: job.settings.contact = chance(2) ? ContactRule::join : ContactRule::separate; break;
        case 8: add_mending(job, any_list(), whole_plan()); break;
        case 9: add_treatment(job, {any_list()}, "mirror", {{"across", std::string(chance(2) ? "x" : "z")}}); break;
        case 10: add_treatment(job, {find_step(job, step).part->id, step}, "place", {{"move_x", 0.5}}); break;
        case 11: add_treatment(job, {job.work()}, "keep-largest"); break;
        case 12: {
            const auto corner = [&] { return static_cast<double>(chance(5)); };
            const Vec3 at{corner(), corner(), corner()};
            add_edit(job, {any_list()}, {HandTool::delete_faces, {at, at + Vec3{1, 0, 0}, at + Vec3{0, 1, 0}}});
            break;
        }
        case 13: set_placement(job, parts[chance(parts.size())], placement()); break;
        case 14: make_base(job, any_mesh()); break;
        case 15: {
            const char* const kinds[] = {"box", "cylinder", "prism", "wedge"};
            const double size = 1 + 0.5 * static_cast<double>(chance(4));
            const Kind& kind = *find_shape(kinds[chance(4)]);
            add_part(job, "shape", Shape{.kind = kind.word, .values = {{kind.fields[1].name, size}}}, placement());
            break;
        }
        case 16:
            for (const auto& part : std::vector(job.parts))
                if (const auto* shape = std::get_if<Shape>(&part->source); shape && chance(2) == 0)
                    edit_part(job, part->id, [&](Part& p) {
                        auto& values = std::get<Shape>(p.source).values;
                        for (auto& [name, value] : values) value = 0.5 + 0.5 * static_cast<double>(chance(5));
                    });
            break;
        case 17:
            edit_step(job, step, [&](Step& s) {
                if (!s.operand) return;
                s.operand->copies.reset();
                if (chance(4) == 0) return;
                const Values in_rows{{"count_x", std::int64_t{2}}, {"x", 1.5}},
                    few{{"count", std::int64_t{3}}, {"seed", static_cast<std::int64_t>(chance(3))}};
                s.operand->copies = chance(3) == 0   ? Copies{.kind = "rows", .values = in_rows}
                                    : chance(2) == 0 ? Copies{.kind = "mirrored", .values = {{"at", 1.0}}}
                                    : chance(2) == 0 ? Copies{.kind = "round", .values = {{"count", std::int64_t{3}}}}
                                                     : Copies{.kind = "scattered", .values = few};
            });
            break;
        case 18:
            if (rows.size() < 24) (void)duplicate(job, rows[chance(rows.size())].id, {0.5, 0, 0});
            break;
        case 19: {
            const Row& row = rows[chance(rows.size())];
            if (!row.step || row.use)
                move_row(job, row, chance(2) ? turned_about({1, 1, 1}, 2, 90) : translation({0.25, 0, 0.5}));
            break;
        }
        case 20: {
            const Row& row = rows[chance(rows.size())];
            if (rows.size() < 24)
                add_link(job, "link", chance(2) ? link_to(job, row) : link_to_stage(row), placement());
            break;
        }
        case 21: {
            std::vector<std::string> ids{step, other};
            if (step == other) ids.pop_back();
            (void)group_steps(job, ids);
            break;
        }
        case 22:
            if (chance(2))
                ungroup(job, step);
            else
                set_operation_of_group(job, step, all_operations[chance(4)]);
            break;
        case 23: {
            const std::string part = any_mesh();
            edit_part(job, part, [&](Part& p) { p.stays = !p.stays; });
            if (part != base_of(job) && std::erase(job.results, part) == 0) job.results.push_back(part);
            break;
        }
        case 24: {
            const std::string part = any_mesh();
            if (chance(2))
                use_copy(job, part, std::make_shared<const Mesh>(make_box({0, 0, 0}, {1, 2, 1})));
            else
                (void)follow_again(job, part);
            (void)follow_as_of(job, part, chance(2) ? std::optional(step) : std::nullopt);
            break;
        }
        case 25: edit_step(job, step, [](Step& s) { s.unlinked = !s.unlinked; }); break;
        case 28: {
            const auto [kind, values] = some_cut(random);
            add_treatment(job, {any_list()}, kind, values);
            break;
        }
        case 29:
            edit_step(job, step, [&](Step& s) {
                const Kind* kind = find_kind(s.kind);
                if (!kind || kind->of != KindClass::cut) return;
                const Values changed = some_cut(random).second;
                for (const auto& [name, value] : changed)
                    if (kind->find_field(name)) s.values[name] = value;
                if (kind->find_field("keep") && chance(2)) s.values["keep"] = std::string("back");
            });
            break;
        case 26: set_placement(job, rows.front().id, {{1, 0.5, 0}, {17, 31, 40}}); break;
        default:
            if (chance(6) == 0)
                remove_part(job, any_mesh());
            else
                remove_step(job, step);
            break;
    }
}

/// As it comes back from a file.
Job saved_and_read(const Job& job) {
    std::map<std::string, std::shared_ptr<const Mesh>> meshes;
    for (const auto& part : job.parts)
        if (const auto* stored = std::get_if<StoredMesh>(&part->source))
            meshes["parts/" + part->id + ".ply"] = stored->mesh;
    const std::string text = job_text(job);
    auto read = job_from_text(
        text, [&](const std::string& entry) -> Result<std::shared_ptr<const Mesh>> { return meshes.at(entry); });
    INFO((read ? "" : read.error().sentence()));
    INFO(text);
    REQUIRE(read);
    CHECK(job_text(*read) == text);
    return std::move(*read);
}

void edit_at_random(std::uint32_t seed, int edits) {
    INFO("seed " << seed);
    std::mt19937 random(seed);
    const Job first = some_job(random);
    History history(first);
    Evaluator kept;
    for (int k = 0; k < edits; ++k) {
        INFO("edit " << k);
        const auto what = random() % 10;
        if (what < 2 && history.can_undo()) {
            history.undo();
        } else if (what < 3 && history.can_redo()) {
            history.redo();
        } else {
            Job next = what < 4 ? saved_and_read(history.job()) : history.job();
            if (what >= 4) edit(next, random);
            history.change(std::move(next), "edit");
        }
        const std::size_t stop = random() % 4 == 0 ? random() % 4 : ~std::size_t{0};
        Evaluator fresh;
        REQUIRE(same_result(evaluated(kept, history.job(), stop), evaluated(fresh, history.job(), stop)));
    }
    while (history.can_undo()) history.undo();
    CHECK(job_text(history.job()) == job_text(first));
}

}  // namespace

TEST_CASE("a cutter moved behind many others: what was proven before and what is proven anew give the same") {
    // Enough sub-faces for what was proven to be kept.
    constexpr int count = 40;
    Job job;
    add(job, "ball", make_icosphere({0, 0, 0}, 50, 6));
    std::string last;
    for (int k = 0; k < count; ++k) {
        const double z = 1 - (2 * k + 1.0) / count, r = std::sqrt(1 - z * z), angle = 2.399963229728653 * k;
        const std::string id = add(job, "knob", make_icosphere({0, 0, 0}, 4, 4));
        edit_part(job, id, [&](Part& p) { p.bench.position = Vec3{r * std::cos(angle), r * std::sin(angle), z} * 50; });
        last = add_combining(job, k % 3 == 0 ? Operation::union_of : Operation::difference, id);
    }
    Evaluator kept;
    Progress progress;
    const RowId row{{}, {job.work(), last}};
    for (const Vec3& by : {Vec3{}, Vec3{0.01, 0, 0}, Vec3{5, -3, 0.3}, Vec3{1e-9, 0, 0}}) {
        Placement placement = find_row(rows_of(job), row)->placement();
        placement.position = placement.position + by;
        set_placement(job, row, placement);
        const auto now = kept.evaluate(job, progress), scratch = Evaluator().evaluate(job, progress);
        REQUIRE(now);
        REQUIRE(scratch);
        CHECK(same_result(*now, *scratch));
    }
}

TEST_CASE("after random edits, undo, redo and files the kept evaluation gives the bytes of one from scratch") {
    const std::uint32_t seed = seed_of_run();
    for (std::uint32_t k = 0; k < 12; ++k) edit_at_random(seed + k, 10);
}

TEST_CASE("random edits, at length", "[.long]") {
    for (std::uint32_t seed = 1; seed <= 500; ++seed) edit_at_random(seed, 14);
}

TEST_CASE("a switch, an order, an operation and the stop line choose cells anew, and nothing else") {
    const Job job = demo::lantern_job();
    Evaluator evaluator;
    CHECK(!evaluated(evaluator, job).reused_arrangement);
    auto step = [&](std::size_t k) { return rows_of(job)[k].step->id; };
    auto is_reused = [&](const auto& change, std::size_t stop_after = ~std::size_t{0}) {
        Job next = job;
        change(next);
        return evaluated(evaluator, next, stop_after).reused_arrangement;
    };
    CHECK(is_reused([&](Job& j) { set_on(j, step(2), false); }));
    CHECK(is_reused([&](Job& j) { set_operation(j, step(2), Operation::intersection); }));
    CHECK(is_reused([&](Job& j) { (void)move_step(j, step(4), {j.work(), step(2)}); }));
    CHECK(is_reused([](Job&) {}, 2));
    CHECK(is_reused([](Job& j) { rename_part(j, "part-3", "another name"); }));
    CHECK(!is_reused([&](Job& j) { move_to(j, step(3), {1, 0, 0}); }));
    CHECK(is_reused([](Job&) {}));  // back where it was
}

TEST_CASE("the same content is kept once, whichever part it is of") {
    Job job;
    add(job, "block", make_box({0, 0, 0}, {4, 4, 4}));
    const std::string one = add(job, "one", make_box({3, 3, 3}, {5, 5, 5}));
    add_combining(job, Operation::difference, one);
    Evaluator evaluator;
    const Evaluation first = evaluated(evaluator, job);
    const std::size_t bytes = evaluator.kept().bytes();
    set_mesh(job, one, make_box({3, 3, 3}, {5, 5, 5}));  // read again, say
    const Evaluation second = evaluated(evaluator, job);
    CHECK(second.combined.get() == first.combined.get());
    CHECK(evaluator.kept().bytes() == bytes);
}

TEST_CASE("what is used least goes when the budget is full, what is in use stays") {
    KeptResults kept;
    kept.set_budget(100);
    auto key = [](int n) { return KeyMaker("number").add(n).key(); };
    auto keep = [&](int n) { kept.keep(key(n), std::make_shared<const int>(n), 40); };
    auto has = [&](int n) { return kept.find<int>(key(n)) != nullptr; };
    kept.begin_round();
    for (int n = 0; n < 5; ++n) keep(n);
    CHECK(kept.bytes() == 200);  // all of one round
    kept.begin_round();
    CHECK(*kept.find<int>(key(1)) == 1);
    keep(5);
    CHECK(kept.bytes() == 80);
    CHECK(has(1));
    CHECK(has(5));
    CHECK(!has(4));
    keep(5);  // in place of itself
    CHECK(kept.bytes() == 80);
    kept.begin_round();
    kept.set_budget(40);
    CHECK(kept.bytes() == 40);
    kept.forget();
    CHECK(kept.bytes() == 0);
    CHECK(!has(5));
}

TEST_CASE("keys tell contents apart: each field, each length, each kind of result") {
    auto mesh_key = [](const Mesh& mesh) { return KeyMaker("mesh").add(mesh).key(); };
    const Mesh box = make_box({0, 0, 0}, {1, 1, 1});
    Mesh moved = box, turned = box, coloured = box;
    moved.points[VertexId(0)].x = 0x1p-60;
    std::swap(turned.faces[FaceId(0)][0], turned.faces[FaceId(0)][1]);
    coloured.materials = {{"red", std::array<std::uint8_t, 3>{255, 0, 0}}};
    coloured.material.raw().assign(box.faces.size(), 0);
    CHECK(mesh_key(box) == mesh_key(make_box({0, 0, 0}, {1, 1, 1})));
    for (const Mesh& other : {moved, turned, coloured}) CHECK(mesh_key(box) != mesh_key(other));
    CHECK(KeyMaker("a").add("bc").key() != KeyMaker("ab").add("c").key());
    CHECK(KeyMaker("a").add(std::string_view()).key() != KeyMaker("a").key());
    CHECK(KeyMaker("a").add_list(std::vector<Vec3>(1)).add_list(std::vector<Vec3>(0)).key() !=
          KeyMaker("a").add_list(std::vector<Vec3>(0)).add_list(std::vector<Vec3>(1)).key());
    MeshKeys keys;
    auto shared = std::make_shared<const Mesh>(box);
    CHECK(keys.of(shared) == mesh_key(box));
    const auto aliased = keys.of(std::make_shared<const Mesh>(moved));
    CHECK(aliased == mesh_key(moved));
}
