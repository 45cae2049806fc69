#include "core/job/place_edits.h"

#include "core/job/job_text.h"
#include "tests/job/jobs.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A block with a bore whose cutter is notched first.
struct Bench {
    Job job;
    std::string block, bore, notch, cut, inner;
    Bench() {
        block = add_part(job, "block", std::make_shared<const Mesh>(make_box({0, 0, 0}, {40, 40, 10})));
        bore = add_part(job, "bore", std::make_shared<const Mesh>(make_box({0, 0, 0}, {4, 4, 20})));
        edit_part(job, bore, [](Part& p) { p.bench = {{5, 5, -5}, {}}; });
        cut = add_combining(job, Operation::difference, bore);
        notch = add_part(job, "notch", std::make_shared<const Mesh>(make_box({0, 0, 0}, {2, 4, 30})));
        edit_part(job, notch, [](Part& p) { p.bench = {{5, 5, -8}, {}}; });
        inner = add_combining(job, Operation::difference, notch);
        REQUIRE(move_into(job, inner, cut));
    }
    double volume() const {
        Evaluator evaluator;
        return test::volume(evaluated(evaluator, job));
    }
    Row row(const std::string& step) const {
        static std::vector<Row> rows;
        rows = rows_of(job);
        return *std::ranges::find_if(rows, [&](const Row& r) { return r.id.step() == step; });
    }
};

}  // namespace

TEST_CASE("duplicate repeats a step with its part and the bundle of that, behind it and a way off") {
    Bench b;
    REQUIRE(b.volume() == Approx(16000 - 2 * 4 * 10));
    const std::string before = job_text(b.job);
    const RowId made = duplicate(b.job, b.row(b.cut).id, {10, 0, 0});
    REQUIRE(!made.empty());
    CHECK(b.job.find_part(made.part)->name == "bore 2");
    CHECK(b.volume() == Approx(16000 - 2 * 2 * 4 * 10));
    CHECK(b.row(made.step()).placement().position == Vec3{15, 5, -5});
    // What is changed of one is not changed of the other.
    set_placement(b.job, b.row(made.step()).id, {{25, 5, -5}, {}});
    CHECK(b.row(b.cut).placement().position == Vec3{5, 5, -5});
    remove_step(b.job, b.row(b.cut).step->id);
    CHECK(b.volume() == Approx(16000 - 2 * 4 * 10));
}

TEST_CASE("duplicate: of a part that waits, of the base, of a treatment, and of nothing") {
    Bench b;
    const std::string idle =
        add_part(b.job, "idle", Shape{.kind = "box", .values = {{"x", 3.0}}}, {{1, 2, 3}, {0, 0, 90}});
    const RowId row{idle, {idle}}, made = duplicate(b.job, row, {0, 5, 0});
    CHECK(b.job.find_part(made.part)->name == "idle 2");
    CHECK(b.job.find_part(made.part)->bench == Placement{{1, 7, 3}, {0, 0, 90}});
    CHECK(std::get<Shape>(b.job.find_part(made.part)->source).values.at("x") == Value(3.0));
    const RowId base = rows_of(b.job).front().id, other = duplicate(b.job, base, {50, 0, 0});
    CHECK(b.job.find_part(other.part)->name == "block 2");
    CHECK(b.job.find_part(other.part)->bench.position.x == 50);
    const std::string mirror = add_treatment(b.job, {b.job.work()}, "mirror");
    const RowId twice = duplicate(b.job, b.row(mirror).id, {});
    CHECK(b.row(twice.step()).step->kind == "mirror");
    CHECK(b.volume() == Approx(16000 - 2 * 4 * 10));
    CHECK(duplicate(b.job, {"none", {"none"}}, {}).empty());
}

TEST_CASE("dropped, centred, laid down and turned: against places worked out by hand") {
    const Mesh box = make_box({0, 0, 0}, {2, 4, 6});
    const Transform stands = translation({10, 20, 30});
    auto after = [&](const Transform& move) { return bounds(transformed(box, move * stands)); };
    CHECK(after(onto_height(box, stands, 1)).low == Vec3{10, 20, 1});
    CHECK(after(over_middle(box, stands, {0, 0, 9})).low == Vec3{-1, -2, 30});
    // On its side along +x: 2 high, as long in z as it was in y... turned about y.
    const Box on_x = after(laid_down(box, stands, {1, 0, 0}, 0));
    CHECK(on_x.low.z == 0);
    CHECK(on_x.size() == Vec3{6, 4, 2});
    CHECK(after(laid_down(box, stands, {0, -3, 0}, 0)).size() == Vec3{2, 6, 4});
    CHECK(after(laid_down(box, stands, {0, 0, -1}, 30)).low == Vec3{10, 20, 30});
    CHECK(after(laid_down(box, stands, {0, 0, 1}, 0)).low.z == 0);
    // A slope of a wedge comes to lie flat: all its points on the bed.
    const Vec3 slope = normalized(Vec3{-3, 0, 4});
    const Transform move = laid_down(box, stands, slope, 0);
    const Vec3 down = apply(move, slope) - apply(move, Vec3{});
    CHECK(norm(down - Vec3{0, 0, -1}) < 1e-12);
    CHECK(std::fabs(after(move).low.z) < 1e-12);
    const Transform quarter = turned_about({1, 1, 0}, 2, 90);
    CHECK(apply(quarter, {2, 1, 5}) == Vec3{1, 2, 5});
}

TEST_CASE("a row is moved in the coordinates of the job, whatever it is told in") {
    Bench b;
    // The bundle's head stands turned: what lies in it is told in turned coordinates.
    set_placement(b.job, b.row(b.cut).id, {{20, 5, -5}, {0, 0, 90}});
    const Row inner = b.row(b.inner);
    const Vec3 before = apply(inner.frame * inner.placement().transform(), Vec3{});
    move_row(b.job, inner, translation({1, 0, 0}));
    const Row now = b.row(b.inner);
    CHECK(norm(apply(now.frame * now.placement().transform(), Vec3{}) - before - Vec3{1, 0, 0}) < 1e-12);
    move_row(b.job, b.row(b.cut), turned_about({20, 5, 0}, 2, -90));
    CHECK(b.row(b.cut).placement() == Placement{{20, 5, -5}, {0, 0, 0}});
}

TEST_CASE("a face is laid against another one, at any angle and distance, and to the bit along the axes") {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> unit(-1, 1);
    for (int k = 0; k < 200; ++k) {
        auto any = [&] { return normalized(Vec3{unit(random), unit(random), unit(random)}); };
        const Vec3 place{unit(random), unit(random), unit(random)}, normal = any(), onto{unit(random) * 9, 3, 1},
                                                                    to = k % 10 == 0   ? normal
                                                                         : k % 10 == 1 ? -normal
                                                                                       : any();
        const double offset = unit(random);
        const Transform move = put_flush(place, normal, onto, to, offset);
        const Vec3 there = apply(move, place), looks = apply(move, place + normal) - there;
        CHECK(norm(looks + to) < 1e-9);
        CHECK(dot(there - onto, to) == Approx(offset).margin(1e-9));
        // Only along the other's normal.
        CHECK(norm(cross(there - place, to)) < 1e-9);
    }
    Job job;
    add_part(job, "base", std::make_shared<const Mesh>(make_box({0, 0, 0}, {1, 1, 0.25})));
    const std::string peg = add_part(job, "peg", Shape{.kind = "box"}, {{0.1, 0.2, 0.7}, {90, 0, 0}});
    const auto rows = rows_of(job);
    const Row* row = find_row(rows, {peg, {peg}});
    REQUIRE(row);
    // Its side that looks along +y in its own coordinates looks up now; it is to look down onto 0.25.
    lay_flush(job, *row, {0, 10, 3}, {0, 0, 1}, {0.5, 0.5, 0.25}, {0, 0, 1}, 0);
    CHECK(apply(job.find_part(peg)->bench.transform(), Vec3{0, 10, 3}).z == 0.25);
}

TEST_CASE("handles of shapes: each stands on the surface, and goes as far as its number says") {
    int handles = 0;
    for (const Kind* kind : all_shapes()) {
        REQUIRE(kind->handles);
        for (const MeasureHandle& handle : kind->handles({})) {
            INFO(kind->word << ", " << handle.field);
            const Field* field = kind->find_field(handle.field);
            REQUIRE(field);
            CHECK(norm(handle.along) == Approx(1));
            const double usual = std::get<double>(field->usual);
            const Values more{{handle.field, usual + 0.5 * handle.per}};
            const auto moved = kind->handles(more);
            const auto same = std::ranges::find(moved, handle.field, &MeasureHandle::field);
            REQUIRE(same != moved.end());
            CHECK(norm(same->at - handle.at - handle.along * 0.5) < 1e-9);
            const Box box = bounds(kind->make({})->mesh);
            for (int k = 0; k < 3; ++k) {
                CHECK(handle.at[k] >= box.low[k] - 1e-9);
                CHECK(handle.at[k] <= box.high[k] + 1e-9);
            }
            ++handles;
        }
    }
    CHECK(handles >= 20);
}

TEST_CASE("what lies in a bundle goes with its head, by numbers and by moves, and stays where it is when it leaves") {
    Bench b;
    const double cut = b.volume();
    const Placement before = b.row(b.cut).placement();
    CHECK(before.position == Vec3{5, 5, -5});
    set_placement(b.job, b.row(b.cut).id, {{20.1, 10, -5}, {}});
    CHECK(b.volume() == Approx(cut));  // the notch went along
    CHECK(b.row(b.cut).placement() == Placement{{20.1, 10, -5}, {}});
    set_placement(b.job, b.row(b.cut).id, {{20, 10, -5}, {0, 0, 90}});
    CHECK(b.volume() == Approx(cut));
    CHECK(b.row(b.cut).placement().angles.z == Approx(90));
    // Out of the bundle it stays in its place; the head then cuts whole.
    const Row inner = b.row(b.inner);
    const Vec3 at = apply(inner.frame * inner.placement().transform(), Vec3{1, 1, 1});
    REQUIRE(move_out(b.job, inner.id));
    const Row outer = b.row(b.inner);
    CHECK(norm(apply(outer.frame * outer.placement().transform(), Vec3{1, 1, 1}) - at) < 1e-12);
    CHECK(b.volume() == Approx(16000 - 4 * 4 * 10));
    // Taken out of the job, its part lies on the bench where it stood.
    Bench c;
    set_placement(c.job, c.row(c.cut).id, {{15, 5, -5}, {}});
    remove_step(c.job, c.cut);
    CHECK(c.job.find_part(c.bore)->bench.position == Vec3{15, 5, -5});
    CHECK(c.job.find_part(c.notch)->bench.position == Vec3{15, 5, -8});
}

TEST_CASE("a part is made larger about its middle, evenly and along an axis; one step holds it, and goes at 1") {
    Job job;
    const std::string part = add(job, "block", make_box({10, 20, 30}, {20, 40, 60}));
    Evaluator evaluator;
    auto box = [&] { return bounds(*evaluated(evaluator, job).parts.at(part)); };
    scale_part(job, part, {2, 2, 2}, box().center());
    CHECK(box().low == Vec3{5, 10, 15});
    CHECK(box().high == Vec3{25, 50, 75});
    REQUIRE(job.find_part(part)->steps.size() == 1);
    CHECK(std::get<double>(job.find_part(part)->steps[0]->values.at("scale")) == 2);
    scale_part(job, part, {1, 0.5, 1}, box().center());
    CHECK(job.find_part(part)->steps.size() == 1);
    CHECK(box().size() == Vec3{20, 20, 60});
    CHECK(box().center() == Vec3{15, 30, 45});
    scale_part(job, part, {0.5, 1, 0.5}, box().center());
    scale_part(job, part, {0.5, 0.5, 0.5}, box().center());
    scale_part(job, part, {2, 2, 2}, box().center());
    CHECK(box().size() == Vec3{10, 20, 30});
    // Behind another step it is one of its own, and a rotation is left as it is.
    add_treatment(job, {part}, "place", {{"turn_z", 90.0}});
    scale_part(job, part, {2, 1, 1}, box().center());
    CHECK(job.find_part(part)->steps.size() == 3);
    CHECK(norm(box().size() - Vec3{40, 10, 30}) < 1e-12);
}

TEST_CASE("boxes are aligned with the first by a side or their middles, and distributed with equal gaps between them") {
    auto box = [](double from, double to) {
        Box out;
        out.add(Vec3{from, 0, 0});
        out.add(Vec3{to, 1, 1});
        return out;
    };
    const std::vector<Box> boxes{box(10, 14), box(0, 2), box(30, 40), box(3, 4)};
    CHECK(aligned(boxes, 0, AlignSide::low) == std::vector<double>{0, 10, -20, 7});
    CHECK(aligned(boxes, 0, AlignSide::high) == std::vector<double>{0, 12, -26, 10});
    CHECK(aligned(boxes, 0, AlignSide::middle) == std::vector<double>{0, 11, -23, 8.5});
    CHECK(aligned(boxes, 2, AlignSide::low) == std::vector<double>(4, 0));
    // From 2 to 30 there are 28 mm, 5 of them filled: three gaps of 23 / 3.
    const std::vector<double> ways = distributed(boxes, 0);
    CHECK(ways[1] == 0);
    CHECK(ways[2] == 0);
    CHECK(3 + ways[3] - 2 == Approx(23.0 / 3));
    CHECK(10 + ways[0] - (4 + ways[3]) == Approx(23.0 / 3));
    CHECK(distributed(std::vector<Box>{box(0, 1), box(5, 6)}, 0) == std::vector<double>{0, 0});
}

TEST_CASE("typed angles leave the pivot where it is") {
    const Placement before{{3, 4, 5}, {10, 20, 30}};
    const Vec3 pivot{7, -2, 1}, own = apply(Transform(before.transform().inverse()), pivot);
    const Placement after = with_angles(before, {90, -45, 12}, pivot);
    CHECK(after.angles == Vec3{90, -45, 12});
    CHECK(norm(apply(after.transform(), own) - pivot) < 1e-12);
    CHECK(norm(with_angles(before, before.angles, pivot).position - before.position) < 1e-12);
}

TEST_CASE("a side that is dragged scales to whole steps about the pivot, a corner in proportion") {
    const Box box{{0, 0, 0}, {10, 20, 40}};
    // Five millimetres off the middle, dragged by another 5: twice as wide.
    CHECK(dragged_scale(box, 0, 5, 5, 0.1) == Vec3{2, 1, 1});
    // 20 mm to 22.6 mm by the lever of 10, in whole millimetres 23.
    CHECK(dragged_scale(box, 1, 10, 1.3, 1) == Vec3{1, 23.0 / 20, 1});
    const Vec3 all = dragged_scale(box, 3, box.diagonal() / 2, box.diagonal() / 4, 0.1);
    CHECK(all == Vec3{1.5, 1.5, 1.5});
    // Through the pivot it does not turn inside out; about a point in the side it goes by the size.
    CHECK(dragged_scale(box, 0, 5, -20, 0.01).x == Approx(0.01));
    CHECK(dragged_scale(box, 0, 0, 10, 0.1) == Vec3{2, 1, 1});
    // A typed size, of one axis or of the longest side.
    CHECK(scale_to_size(box, 0, 25) == Vec3{25 / box.size().x, 1, 1});
    const auto longest = scale_to_size(box, 3, 15);
    REQUIRE(longest);
    CHECK(longest->x * std::max({box.size().x, box.size().y, box.size().z}) == Approx(15));
    CHECK(longest->x == longest->z);
    CHECK(!scale_to_size(box, 1, 0));
    CHECK(!scale_to_size(Box{{0, 0, 0}, {1, 1, 0}}, 2, 5));
}
