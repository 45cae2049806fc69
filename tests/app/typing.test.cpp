// The real window: numbers typed while something is dragged or drawn, and Esc, which has it as it was.
#include "core/shape/drawn.h"
#include "tests/app/cut_block.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Takes hold at a point, goes some way, and stays.
void hold(CutBlock& b, const QPoint& from, const QPoint& by) {
    QTest::mouseMove(b.view(), from);
    QTest::mousePress(b.view(), Qt::LeftButton, {}, from);
    for (int k = 1; k <= 4; ++k) QTest::mouseMove(b.view(), from + by * k / 4);
}
void type_held(CutBlock& b, const char* text) {
    b.view()->setFocus();
    QTest::keyClicks(b.view(), text);
    b.w.settle();
}
void let_go(CutBlock& b, const QPoint& at) {
    QTest::mouseRelease(b.view(), Qt::LeftButton, {}, at);
    b.w.settle();
}

}  // namespace

TEST_CASE("a number typed while a plane is dragged by its bar is what it is moved by; the pointer waits meanwhile") {
    CutBlock b;
    b.w.look(25, 25);
    b.start("cut-plane");
    b.w.key(Qt::Key_X);
    const Vec3 before = b.value<Vec3>("origin");
    const QPoint at = b.view()->cut_handle("origin")->toPoint();
    hold(b, at, {30, 0});
    const Vec3 dragged = b.value<Vec3>("origin");
    CHECK(dragged.x != before.x);
    type_held(b, "-7.125");
    CHECK(b.value<Vec3>("origin") == before - Vec3{7.125, 0, 0});
    QTest::mouseMove(b.view(), at + QPoint(60, 0));
    CHECK(b.value<Vec3>("origin") == before - Vec3{7.125, 0, 0});
    for (int k = 0; k < 6; ++k) QTest::keyClick(b.view(), Qt::Key_Backspace);
    CHECK(b.value<Vec3>("origin").x > dragged.x);  // nothing is typed any more: the pointer leads
    type_held(b, "3/8in");
    let_go(b, at + QPoint(60, 0));
    CHECK(norm(b.value<Vec3>("origin") - before - Vec3{9.525, 0, 0}) < 1e-12);
    b.w->controller().undo();
    b.w.settle();
    CHECK(b.value<Vec3>("origin") == before);  // all of it is one change

    // Enter ends it, whatever the button does after that.
    hold(b, at, {30, 0});
    type_held(b, "2");
    QTest::keyClick(b.view(), Qt::Key_Return);
    QTest::mouseMove(b.view(), at + QPoint(90, 0));
    let_go(b, at + QPoint(90, 0));
    CHECK(b.value<Vec3>("origin") == before + Vec3{2, 0, 0});
    CHECK(b.cuts() == 1);

    // An arc takes degrees.
    const QPoint arc = b.view()->cut_handle("normal")->toPoint();
    hold(b, arc, {0, -10});
    type_held(b, "30");
    let_go(b, arc);
    CHECK(std::acos(b.value<Vec3>("normal").x) == Approx(M_PI / 6));
}

TEST_CASE("Esc while dragging has it as it was: a cut's handle, a part, a section") {
    CutBlock b;
    b.w.look(25, 25);
    b.start("cut-plane");
    b.w.key(Qt::Key_X);
    const Vec3 before = b.value<Vec3>("origin");
    const std::string last = b.w->controller().history().undo_name();
    const QPoint at = b.view()->cut_handle("origin")->toPoint();
    hold(b, at, {30, 0});
    CHECK(b.value<Vec3>("origin") != before);
    QTest::keyClick(b.view(), Qt::Key_Escape);
    b.w.settle();
    CHECK(b.value<Vec3>("origin") == before);
    CHECK(b.w->controller().history().undo_name() == last);
    QTest::mouseMove(b.view(), at + QPoint(50, 0));
    let_go(b, at + QPoint(50, 0));
    CHECK(b.value<Vec3>("origin") == before);
    CHECK(b.cuts() == 1);  // the next Esc, with nothing held, takes the new cut back
    b.w.key(Qt::Key_Escape);
    CHECK(b.cuts() == 0);

    b.view()->start_section(0);
    const Vec3 section = b.view()->section()->origin;
    const QPoint tag = b.view()->section_handle()->toPoint();
    hold(b, tag, {40, 0});
    type_held(b, "4");
    CHECK(norm(b.view()->section()->origin - section) == Approx(4));
    QTest::keyClick(b.view(), Qt::Key_Escape);
    CHECK(b.view()->section()->origin == section);
    let_go(b, tag);
    b.view()->end_section();

    b.w->choose_part(b.w.base());
    b.w.settle();
    const QPoint turn = b.view()->rotate_handle(2)->toPoint();
    const Job job = b.w.job();
    hold(b, turn, {20, 5});
    type_held(b, "22.5");
    CHECK(b.w->controller().history().undo_name().find("rotate") == 0);
    QTest::keyClick(b.view(), Qt::Key_Escape);
    let_go(b, turn);
    CHECK(b.w->controller().history().undo_name().find("rotate") != 0);
    const QPoint side = b.view()->scale_handle(0)->toPoint();
    hold(b, side, {5, 0});
    type_held(b, "64");
    let_go(b, side);
    CHECK(b.w.volume() == Approx(64 * 30 * 20));
}

TEST_CASE("what is typed while dragging and cannot be read, or is out of range, is said and changes nothing") {
    CutBlock b;
    b.w.look(0, 70);
    b.start("cut-circle");
    b.w.drag(b.at({0, 0, 20}), b.at({6, 0, 20}));
    REQUIRE(b.cuts() == 1);
    const double before = b.value<double>("diameter");
    const QPoint at = b.view()->cut_handle("diameter")->toPoint();
    hold(b, at, {1, 0});
    type_held(b, "3+*");
    CHECK(b.value<double>("diameter") == 3);  // as far as it could be read
    CHECK(!b.hint().isEmpty());
    for (int k = 0; k < 3; ++k) QTest::keyClick(b.view(), Qt::Key_Backspace);
    type_held(b, "-4");
    CHECK(b.value<double>("diameter") != -4);
    CHECK(b.hint().contains("diameter"));
    QTest::keyClick(b.view(), Qt::Key_Escape);
    let_go(b, at);
    CHECK(b.value<double>("diameter") == before);
    CHECK(b.w->ledger()->verdict().contains("Print-ready"));
}

TEST_CASE("an outline that is dragged takes typed sizes, a line across an angle") {
    CutBlock b;
    b.w.look(0, 70);
    b.start("cut-rectangle");
    const QPoint from = b.at({-10, -5, 20}), to = b.at({6, 5, 20});
    hold(b, from, to - from);
    type_held(b, "25.4, 1/4in");
    let_go(b, to);
    REQUIRE(b.cuts() == 1);
    CHECK(b.value<double>("width") == 25.4);
    CHECK(b.value<double>("length") == 6.35);
    CHECK(b.w.volume() == Approx(40 * 30 * 20 - 20 * 25.4 * 6.35));
    b.w.key(Qt::Key_Escape);
    REQUIRE(b.cuts() == 0);

    // Beyond what the field takes it is refused with the bound: the saved job could not be read.
    b.start("cut-rectangle");
    hold(b, from, to - from);
    type_held(b, "1e9, 5");
    let_go(b, to);
    CHECK(b.cuts() == 0);
    CHECK(b.hint().contains("width"));

    b.start("cut-circle");
    hold(b, b.at({0, 0, 20}), {20, 0});
    type_held(b, "12");
    QTest::keyClick(b.view(), Qt::Key_Return);
    let_go(b, b.at({0, 0, 20}));
    REQUIRE(b.cuts() == 1);
    CHECK(b.value<double>("diameter") == 12);
    b.w.key(Qt::Key_Escape);

    b.w.look(0, 0);
    b.start("cut-plane");
    hold(b, b.at({-30, -15, 10}), {200, 20});
    type_held(b, "90");
    let_go(b, b.at({-30, -15, 10}) + QPoint(200, 20));
    REQUIRE(b.cuts() == 1);
    CHECK(std::fabs(b.value<Vec3>("normal").z) < 1e-9);  // upright on the screen
}

TEST_CASE("stretches of a drawn outline by typed length and angle are exact") {
    CutBlock b;
    b.w.look(0, 70);
    b.start("cut-drawing");
    b.click({-10, -8, 20});
    for (const char* stretch : {"18.25, 0", "7.125, 90", "18.25, 180"}) {
        type_held(b, stretch);
        CHECK(b.hint().contains("length, angle"));
        QTest::keyClick(b.view(), Qt::Key_Return);
        b.w.settle();
    }
    CHECK(b.cuts() == 0);
    QTest::keyClick(b.view(), Qt::Key_Return);
    b.w.settle();
    REQUIRE(b.cuts() == 1);
    CHECK(b.w.volume() == Approx(40 * 30 * 20 - 20 * 18.25 * 7.125).epsilon(1e-9));
    b.w.key(Qt::Key_Escape);

    // A length by itself runs towards the pointer, and Backspace takes back what is typed before points.
    b.start("cut-drawing");
    b.click({-10, -8, 20});
    QTest::mouseMove(b.view(), b.at({10, -8, 20}));
    type_held(b, "15");
    QTest::keyClick(b.view(), Qt::Key_Backspace);
    QTest::keyClick(b.view(), Qt::Key_Backspace);
    type_held(b, "12.5");
    QTest::keyClick(b.view(), Qt::Key_Return);
    b.w.settle();
    b.click({0, 5, 20});
    QTest::keyClick(b.view(), Qt::Key_Return);
    b.w.settle();
    REQUIRE(b.cuts() == 1);
    const auto drawn = drawn_from_text(b.value<std::string>("outline"));
    REQUIRE(drawn);
    const auto& line = drawn->front();
    REQUIRE(line.size() == 3);
    CHECK(std::hypot(line[1].at.u - line[0].at.u, line[1].at.v - line[0].at.v) == Approx(12.5).epsilon(1e-6));
    CHECK(std::fabs(line[1].at.v - line[0].at.v) < 0.5);
}
