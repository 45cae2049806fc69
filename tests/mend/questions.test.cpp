// Decisions that mending leaves to the user: when they come up, in which order, and what each answer gives.
#include "core/mend/questions.h"
#include "tests/mend/plan.h"
#include "tests/support/mending.h"

using namespace anvil;
using namespace anvil::test;
using About = Question::About;

namespace {

std::optional<Question> asked(const Mesh& mesh, const MendOptions& options, std::vector<About> answered = {}) {
    return next_question(mesh, mended_by_plan(mesh, options), options, answered);
}
Mesh tube(double length) {
    Mesh box = make_box({0, 0, 0}, {10, 10, length});
    std::vector<Triangle> walls;
    for (const Triangle& t : box.faces) {
        const double z = box.points[t[0]].z;
        if (box.points[t[1]].z != z || box.points[t[2]].z != z) walls.push_back(t);
    }
    box.faces.raw() = walls;
    return box;
}

}  // namespace

TEST_CASE("a flat sheet is asked about: left as it is, or made so thick that it prints") {
    const Mesh plate = make_plate({0, 0, 0}, 100, 80);
    const auto q = asked(plate, cautious_options(plate));
    REQUIRE(q);
    CHECK(q->about == About::sheet);
    REQUIRE(q->answers.size() == 2);
    CHECK(q->answers[1].said == "Give it a thickness");
    CHECK(q->answers[1].options.thickness == 1.2);
    const Mended left = mended_by_plan(plate, q->answers[0].options),
                 thick = mended_by_plan(plate, q->answers[1].options);
    CHECK(left.sheet);
    CHECK(thick.after.print_ready);
    CHECK(signed_volume(thick.mesh) == Approx(100 * 80 * 1.2));
    CHECK(!asked(plate, q->answers[1].options));
    CHECK(!asked(plate, cautious_options(plate), {About::sheet}));
    // Smaller parts get less, in round numbers.
    CHECK(asked(make_plate({0, 0, 0}, 10, 8), {})->answers[1].options.thickness == Approx(0.24));
}

TEST_CASE("a bowl can be closed, too") {
    const Mesh bowl = without_top(
        combined(Operation::intersection, {make_icosphere({0, 0, 0}, 10, 3), make_box({-20, -20, -20}, {20, 20, -1})})
            .mesh,
        -1);
    const auto q = asked(bowl, cautious_options(bowl));
    REQUIRE(q);
    REQUIRE(q->answers.size() == 3);
    CHECK(q->answers[2].said == "Close it");
    const Mended closed = mended_by_plan(bowl, q->answers[2].options);
    CHECK(closed.after.print_ready);
    CHECK(!asked(bowl, q->answers[2].options));
}

TEST_CASE("holes longer than twice the part's diagonal are asked about, the longest one shown; shorter ones are not") {
    const Mesh open = tube(13);  // rims of 40 mm, diagonal 19.2 mm
    const auto q = asked(open, cautious_options(open));
    REQUIRE(q);
    CHECK(q->about == About::long_holes);
    CHECK(q->asked == "2 holes of up to 40 mm round the rim are large for this part.");
    CHECK((q->place.z == Approx(0).margin(1e-9) || q->place.z == Approx(13)));
    CHECK(mended_by_plan(open, q->answers[0].options).after.count(FindingKind::holes) == 2);
    const Mended filled = mended_by_plan(open, q->answers[1].options);
    CHECK(filled.after.print_ready);
    CHECK(signed_volume(filled.mesh) == Approx(1300));
    CHECK(!asked(tube(30), cautious_options(tube(30))));
}

TEST_CASE("bodies that only touch are asked about; both answers print") {
    Mesh touching = make_box({0, 0, 0}, {10, 10, 10});
    append(touching, make_box({10, 10, 0}, {20, 20, 10}));
    const auto q = asked(touching, cautious_options(touching));
    REQUIRE(q);
    CHECK(q->about == About::touching);
    CHECK(q->place.x == Approx(10));
    CHECK(q->answers[0].said == "Set them back from each other");
    const Mended apart = mended_by_plan(touching, q->answers[0].options),
                 bridged = mended_by_plan(touching, q->answers[1].options);
    CHECK(apart.after.print_ready);
    CHECK(apart.after.measures.shells == 2);
    CHECK(bridged.after.print_ready);
    CHECK(bridged.after.measures.shells == 1);
}

TEST_CASE("what is sound asks nothing, and words lead back") {
    CHECK(cautious_options(make_box({0, 0, 0}, {30, 40, 0.1})).longest_hole == 110);
    const Mesh box = make_box({0, 0, 0}, {1, 1, 1});
    CHECK(!asked(box, cautious_options(box)));
    for (const About about : {About::sheet, About::long_holes, About::touching})
        CHECK(about_from(word(about)) == about);
    CHECK(!about_from("weather"));
}
