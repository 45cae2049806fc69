// What evaluations keep: by content, up to a budget, and whatever was kept the result is that of the job from scratch.
#include <random>

#include "core/job/bundles.h"
#include "core/job/evaluate.h"
#include "demo/lantern.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Evaluation worked_out(Evaluator& evaluator, const Job& job, std::size_t stop_after = ~std::size_t{0}) {
    Progress progress;
    auto done = evaluator.evaluate(job, progress, stop_after);
    INFO((done ? "" : done.error().sentence()));
    REQUIRE(done);
    return std::move(*done);
}

bool same_result(const Evaluation& a, const Evaluation& b) {
    const Combined &p = *a.combined, &q = *b.combined;
    if (!(p.mesh.points.raw() == q.mesh.points.raw() && p.mesh.faces.raw() == q.mesh.faces.raw())) return false;
    if (p.piece_start != q.piece_start || p.reason != q.reason || p.flush.size() != q.flush.size()) return false;
    if (a.operand_parts != b.operand_parts || a.remarks.size() != b.remarks.size()) return false;
    for (std::size_t k = 0; k < a.remarks.size(); ++k)
        if (a.remarks[k].text != b.remarks[k].text || a.remarks[k].step != b.remarks[k].step) return false;
    for (std::size_t i = 0; i < a.steps.size(); ++i)
        if (a.steps[i].volume_after != b.steps[i].volume_after || a.steps[i].note != b.steps[i].note) return false;
    return true;
}

/// Boxes, balls, an open tray that wants mending and a plate, some of them steps.
Job some_job(std::mt19937& random) {
    Job job;
    auto add = [&](const char* name, Mesh mesh) {
        return job.add_part(name, std::make_shared<const Mesh>(std::move(mesh)));
    };
    add("block", make_box({0, 0, 0}, {4, 4, 4}));
    std::vector<std::string> operands = {
        add("flush", make_box({1, 1, 2}, {3, 3, 4})), add("ball", make_icosphere({2, 2, 4}, 1.25, 2)),
        add("beside", make_box({4, 0, 0}, {5, 2, 2})), add("plate", make_plate({2, 2, 2}, 8, 8))};
    Mesh tray = make_box({-1, 1, 1}, {1, 2, 2});
    tray.faces.raw().resize(tray.faces.size() - 2);
    operands.push_back(add("tray", std::move(tray)));
    for (std::size_t k = 0; k < 4; ++k)
        job.add_step(all_operations[random() % std::size(all_operations)], operands[random() % operands.size()]);
    return job;
}

void edit(Job& job, std::mt19937& random) {
    const std::size_t i = random() % std::max<std::size_t>(1, job.steps.size());
    auto any_part = [&] { return job.parts[1 + random() % (job.parts.size() - 1)].id; };
    if (job.steps.empty() || random() % 10 == 0) {
        job.add_step(all_operations[random() % std::size(all_operations)], any_part());
        return;
    }
    switch (random() % 10) {
        case 0: job.steps[i].on = !job.steps[i].on; break;
        case 1: job.steps[i].operation = all_operations[random() % std::size(all_operations)]; break;
        case 2: move_step(job.steps, i, random() % (job.steps.size() + 1)); break;
        case 3: put_in_bundle(job.steps, i); break;
        case 4: take_out_of_bundle(job.steps, i); break;
        case 5: {
            Vec3& at = job.find_part(job.steps[i].part)->placement.position;
            at = {0.5 * static_cast<double>(random() % 3), 0, 0.25 * static_cast<double>(random() % 2)};
            break;
        }
        case 6: job.settings.merge_flush = !job.settings.merge_flush; break;
        case 7: job.settings.contact = random() % 2 ? ContactRule::join : ContactRule::separate; break;
        case 8: {
            const std::string chosen = any_part();
            if (job.find_part(chosen)->mendings.empty())
                job.add_mending(chosen, whole_plan());
            else
                job.find_part(chosen)->mendings.clear();
            break;
        }
        default: job.remove_steps_of(job.steps[i].part); break;
    }
}

}  // namespace

TEST_CASE("after random edits, undo and redo the kept evaluation gives the bytes of one from scratch") {
    const std::uint32_t seed = std::random_device()();
    INFO("seed " << seed);
    std::mt19937 random(seed);
    for (int job_number = 0; job_number < 12; ++job_number) {
        History history(some_job(random));
        Evaluator kept;
        for (int k = 0; k < 8; ++k) {
            if (random() % 4 == 0 && history.can_undo()) {
                history.undo();
            } else {
                Job next = history.job();
                edit(next, random);
                history.change(std::move(next), "edit");
            }
            const std::size_t stop = random() % 4 == 0 ? random() % 4 : ~std::size_t{0};
            Evaluator fresh;
            INFO("job " << job_number << ", edit " << k);
            REQUIRE(same_result(worked_out(kept, history.job(), stop), worked_out(fresh, history.job(), stop)));
        }
    }
}

TEST_CASE("a switch, an order, an operation and the stop line choose cells anew, and nothing else") {
    const Job job = demo::lantern_job();
    Evaluator evaluator;
    CHECK(!worked_out(evaluator, job).reused_arrangement);
    auto is_reused = [&](const auto& change, std::size_t stop_after = ~std::size_t{0}) {
        Job next = job;
        change(next);
        return worked_out(evaluator, next, stop_after).reused_arrangement;
    };
    CHECK(is_reused([](Job& j) { j.steps[1].on = false; }));
    CHECK(is_reused([](Job& j) { j.steps[1].operation = Operation::intersection; }));
    CHECK(is_reused([](Job& j) { move_step(j.steps, 3, 1); }));
    CHECK(is_reused([](Job&) {}, 2));
    CHECK(is_reused([](Job& j) { j.parts[2].name = "another name"; }));
    CHECK(!is_reused([](Job& j) { j.find_part(j.steps[2].part)->placement.position.x += 1; }));
    CHECK(is_reused([](Job&) {}));  // back where it was
}

TEST_CASE("the same content is kept once, whichever part it is of") {
    Job job;
    auto box = [] { return std::make_shared<const Mesh>(make_box({3, 3, 3}, {5, 5, 5})); };
    job.add_part("block", std::make_shared<const Mesh>(make_box({0, 0, 0}, {4, 4, 4})));
    job.add_step(Operation::difference, job.add_part("one", box()));
    Evaluator evaluator;
    const Evaluation first = worked_out(evaluator, job);
    const std::size_t bytes = evaluator.kept().bytes();
    job.find_part(job.steps[0].part)->mesh = box();  // read again, say
    const Evaluation second = worked_out(evaluator, job);
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
