// The real window: measuring between places, and parts dragged onto places exactly.
#include <QClipboard>

#include "tests/app/shown.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A block of 40 by 20 by 10, seen from above at a slant, and a cube of 12 beside it.
struct Block {
    TempFolder folder;
    Shown w;
    std::string peg;
    Block() {
        REQUIRE(write_mesh(make_box({0, 0, 0}, {40, 20, 10}), folder / "block.ply"));
        REQUIRE(write_mesh(make_box({50, 0, 0}, {62, 12, 12}), folder / "peg.ply"));
        w->open_files({q(folder / "block.ply"), q(folder / "peg.ply")});
        w.settle();
        w->unit_strip()->dismiss();
        peg = w.part("peg");
        Camera c = w->viewport()->camera();
        c.turn = -30;
        c.tilt = 55;
        w->viewport()->set_camera(c);
        w->viewport()->frame_all();
        w->choose({});
        w.settle();
    }
    QPoint at(const Vec3& p) { return w->viewport()->pixel_of(p).toPoint(); }
    void click(const Vec3& p, QPoint beside = {}) {
        QTest::mouseMove(w->viewport(), at(p) + beside);
        QTest::mouseClick(w->viewport(), Qt::LeftButton, {}, at(p) + beside);
        w.settle();
    }
};

}  // namespace

TEST_CASE("measuring: two clicks near corners and middles measure between them exactly; it stays until taken off") {
    Block b;
    Viewport* view = b.w->viewport();
    b.w.key(Qt::Key_A);
    REQUIRE(view->is_measuring());
    CHECK(b.w->action("measure")->isChecked());
    QTest::mouseMove(view, b.at({10, 10, 10}));
    QTest::mouseMove(view, b.at({20, 10, 10}));
    // The pointer's way goes by the screen's server, which may be busy.
    CHECK(QTest::qWaitFor([&] { return b.w->hint_line()->text().startsWith("middle of a face"); }));
    b.click({0, 0, 10}, {5, -3});
    b.click({40, 20, 10}, {-5, 3});
    REQUIRE(view->measurements().size() == 1);
    CHECK(view->measurements()[0].a == Vec3{0, 0, 10});
    CHECK(view->measurements()[0].b == Vec3{40, 20, 10});
    CHECK(view->measurements()[0].value == "44.721 mm");
    // From the top to the front, with the angle of the faces.
    b.click({10, 16, 10});
    b.click({8, 0, 4});
    INFO(b.w->hint_line()->text().toStdString());
    REQUIRE(view->measurements().size() == 2);
    CHECK(view->measurements()[1].text.contains("faces at 90°"));
    // A click on a label copies its number.
    const QPointF middle = (view->pixel_of({0, 0, 10}) + view->pixel_of({40, 20, 10})) / 2;
    QTest::mouseClick(view, Qt::LeftButton, {}, (middle - QPointF(0, 19)).toPoint());
    CHECK(QApplication::clipboard()->text() == "44.721 mm");
    QTest::keyClick(view, Qt::Key_Backspace);
    CHECK(view->measurements().size() == 1);
    QTest::keyClick(view, Qt::Key_Escape);
    CHECK(!view->is_measuring());
    CHECK(view->measurements().size() == 1);
    b.w->action("measure-clear")->trigger();
    CHECK(view->measurements().empty());
    CHECK(b.w->controller().history().undo_name() == "bring in 2 meshes");
}

TEST_CASE("measuring a bore: its centre is met, and clicked twice its diameter is told") {
    Block b;
    Job job = b.w.job();
    const std::string bore = add_part(
        job, "bore", Shape{.kind = "cylinder", .values = {{"diameter", 8.0}, {"height", 20.0}}}, {{20, 10, -5}, {}});
    add_combining(job, Operation::difference, bore);
    b.w->controller().change(std::move(job), "bore");
    b.w.settle();
    b.w->choose({});
    b.w->action("measure")->trigger();
    // Beside its rim, on the top.
    b.click({24.4, 10, 10});
    CHECK(b.w->hint_line()->text().contains("centre of a circle, Ø 8 mm"));
    b.click({24.4, 10, 10});
    REQUIRE(b.w->viewport()->measurements().size() == 1);
    CHECK(b.w->viewport()->measurements()[0].text == "Ø 8 mm, R 4 mm");
    CHECK(norm(b.w->viewport()->measurements()[0].a - Vec3{20, 10, 10}) < 1e-9);
    // To the corner beside it.
    b.click({20, 5.6, 10});
    b.click({0, 0, 10});
    CHECK(b.w->viewport()->measurements().back().value == "22.361 mm");
}

TEST_CASE("with Ctrl a dragged part goes onto corners exactly, and on nothing onto a grid; it says so") {
    Block b;
    b.w->choose_part(b.peg);
    b.w.settle();
    Viewport* view = b.w->viewport();
    auto drag = [&](const Vec3& from, const Vec3& to, Qt::KeyboardModifiers keys) {
        const QPoint p = b.at(from), t = b.at(to);
        QTest::mouseMove(view, p);
        QTest::mousePress(view, Qt::LeftButton, keys, p);
        for (int k = 1; k <= 6; ++k) {
            const QPoint here = p + (t - p) * k / 6;
            QTest::qSleep(30);  // what is dragged is not moved more often
            QMouseEvent move(QEvent::MouseMove, here, view->mapToGlobal(here), Qt::NoButton, Qt::LeftButton, keys);
            QCoreApplication::sendEvent(view, &move);
        }
        const QString said = b.w->hint_line()->text();
        QTest::mouseRelease(view, Qt::LeftButton, keys, t);
        b.w.settle();
        return said;
    };
    // Taken by the corner at its foot that is seen, onto a corner of the block's top.
    const QString said = drag({50, 0, 12}, {40, 0, 10}, Qt::ControlModifier);
    INFO(said.toStdString());
    CHECK(said == "Snapped to: corner");
    CHECK(norm(b.w.position(b.peg) - Vec3{-10, 0, -2}) < 1e-12);
    b.w->controller().undo();
    b.w.settle();
    const QString grid = drag({61, 11, 12}, {75, -20, 12}, Qt::ControlModifier);
    INFO(grid.toStdString());
    CHECK(grid.startsWith("Snapped to: grid of"));
    const Vec3 there = b.w.position(b.peg);
    CHECK(there.x == std::round(there.x));
    CHECK(there.y == std::round(there.y));
}
