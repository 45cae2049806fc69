// Work by hand in the real window: choosing by click, box, lasso and brush, and the tools.
#include "app/panels/hand_strip.h"
#include "app/panels/mend_panel.h"
#include "tests/app/shown.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A cube of 40 mm, seen from above.
struct Cube : Shown {
    TempFolder folder;
    Cube() {
        REQUIRE(write_mesh(make_box({-20, -20, 0}, {20, 20, 40}), folder / "cube.ply"));
        window.open_files({q(folder / "cube.ply")});
        window.unit_strip()->dismiss();
        settle();
        Camera c = window.viewport()->camera();
        c.turn = 0;
        c.tilt = 90;
        window.viewport()->set_camera(c);
        window.action("by-hand")->trigger();
        window.viewport()->frame_all();
        settle();
    }
    HandMode& hand() { return *window.hand(); }
    void press(const QString& name) {
        QTest::mouseClick(window.hand_strip()->button(name), Qt::LeftButton);
        settle();
    }
    void use(HandTool tool) {
        REQUIRE(window.hand_strip()->tool_button(tool)->isEnabled());
        QTest::mouseClick(window.hand_strip()->tool_button(tool), Qt::LeftButton);
        settle();
    }
    QPoint at(const Vec3& p) { return window.viewport()->pixel_of(p).toPoint(); }
    std::size_t chosen() { return hand().selection().elements.size(); }
};

}  // namespace

TEST_CASE(
    "click chooses a face, Shift adds, Ctrl takes away, the ground chooses none; delete makes a hole, undo fills it") {
    Cube w;
    REQUIRE(w->hand_strip()->isVisible());
    Viewport* v = w->viewport();
    QTest::mouseClick(v, Qt::LeftButton, {}, w.at({10, 5, 40}));
    CHECK(w.chosen() == 1);
    QTest::mouseClick(v, Qt::LeftButton, Qt::ShiftModifier, w.at({-10, -5, 40}));
    QTest::mouseClick(v, Qt::LeftButton, Qt::ShiftModifier, w.at({-5, 10, 40}));
    QTest::mouseClick(v, Qt::LeftButton, Qt::ShiftModifier, w.at({5, -10, 40}));
    CHECK(w.chosen() == 2);
    QTest::mouseClick(v, Qt::LeftButton, Qt::ControlModifier, w.at({10, 5, 40}));
    CHECK(w.chosen() == 1);
    w.use(HandTool::delete_faces);
    CHECK(w->ledger()->verdict().contains("open"));
    CHECK(w->hint_line()->text() == "1 face was deleted.");
    CHECK(w.chosen() == 0);
    CHECK(w->job_sheet()->model()->index(1).data().toString() == "by hand: 1 edit");
    CHECK(w->controller().history().undo_name() == "delete faces");
    w->controller().undo();
    w.settle();
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    QTest::mouseClick(v, Qt::LeftButton, {}, w.at({10, 5, 40}));
    REQUIRE(w.chosen() == 1);
    QTest::mouseClick(v, Qt::LeftButton, {}, QPoint(4, v->height() - 4));
    CHECK(w.chosen() == 0);
}

TEST_CASE("a box takes what it holds, what is hidden only on request; a lasso and a brush do, too") {
    Cube w;
    w.press("points");
    w.press("box");
    const QPoint corner(w.at({-20, 20, 40}) - QPoint(30, 30)), other(w.at({20, -20, 40}) + QPoint(30, 30));
    w.drag(corner, other);
    CHECK(w.chosen() == 4);
    w.hand().set_visible_only(false);
    w.drag(corner, other);
    CHECK(w.chosen() == 8);
    w.press("lasso");
    w.hand().set_visible_only(true);
    Viewport* v = w->viewport();
    // A triangle round one corner of the top.
    const QPoint middle = w.at({20, 20, 40});
    QTest::mousePress(v, Qt::LeftButton, {}, middle + QPoint(-25, 25));
    for (const QPoint& p : {QPoint(-12, -10), QPoint(0, -40), QPoint(40, 0), QPoint(20, 40)})
        QTest::mouseMove(v, middle + p);
    QTest::mouseRelease(v, Qt::LeftButton, {}, middle + QPoint(-25, 25));
    CHECK(w.chosen() == 1);
    w.press("brush");
    w.press("faces");
    w.drag(w.at({-15, -10, 40}), w.at({15, 10, 40}));
    CHECK(w.chosen() >= 1);
    CHECK(w.chosen() <= 2);
    w.press("none");
    CHECK(w.chosen() == 0);
    CHECK(!w->hand_strip()->button("grow")->isEnabled());
}

TEST_CASE("edges: split by its button; kinds go over, region, connected, grow and invert choose more") {
    Cube w;
    QTest::mouseClick(w->viewport(), Qt::LeftButton, {}, w.at({10, 5, 40}));
    w.press("region");
    CHECK(w.chosen() == 2);
    w.press("invert");
    CHECK(w.chosen() == 10);
    w.press("connected");
    CHECK(w.chosen() == 12);
    w.press("none");
    w.press("edges");
    CHECK(w->hand_strip()->tool_button(HandTool::split_edge)->isVisible());
    CHECK(!w->hand_strip()->tool_button(HandTool::delete_faces)->isVisible());
    QTest::mouseClick(w->viewport(), Qt::LeftButton, {}, w.at({19, 3, 40}));
    REQUIRE(w.chosen() == 1);
    w.use(HandTool::split_edge);
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    CHECK(w.hand().mesh().points.size() == 9);
    // A second edit goes into the same row, and the row switches both off.
    w.press("points");
    QTest::mouseClick(w->viewport(), Qt::LeftButton, {}, w.at({19, 19, 40}));
    QTest::mouseClick(w->viewport(), Qt::LeftButton, Qt::ShiftModifier, w.at({19, 0.5, 40}));
    REQUIRE(w.chosen() == 2);
    w.use(HandTool::merge_points);
    CHECK(w->job_sheet()->model()->index(1).data().toString() == "by hand: 2 edits");
    w->choose_step(w.mendings().front()->id);
    CHECK(w->mend_panel()->said().contains("2. 2 points were made one."));
    CHECK(!w->mend_panel()->box(Repair::holes)->isVisible());
    w->job_sheet()->model()->setData(w->job_sheet()->model()->index(1), false, JobSheetModel::OnRole);
    w.settle();
    CHECK(w.hand().mesh().points.size() == 8);
}

TEST_CASE("findings are chosen in place of being mended; Escape and choosing another part end the work by hand") {
    Shown w;
    w->open_demo_scan();
    w.settle();
    w->ledger()->choose(FindingKind::holes);
    w->action("by-hand")->trigger();
    w.settle();
    QTest::mouseClick(w->hand_strip()->button("edges"), Qt::LeftButton);
    QTest::mouseClick(w->hand_strip()->button("findings"), Qt::LeftButton);
    std::size_t edges = 0;
    for (const Finding& f : w->ledger()->inspection()->findings)
        if (f.kind == FindingKind::holes) edges += f.vertices.size();
    CHECK(w->hand()->selection().elements.size() == edges);
    QTest::mouseClick(w->hand_strip()->tool_button(HandTool::fill_border), Qt::LeftButton);
    w.settle();
    CHECK(w->ledger()->inspection()->count(FindingKind::holes) == 0);
    w.key(Qt::Key_Escape);
    CHECK(!w->hand()->is_on());
    CHECK(!w->hand_strip()->isVisible());
    w.key(Qt::Key_H);
    CHECK(w->hand()->is_on());
    w->choose({});
    CHECK(!w->hand()->is_on());
}

TEST_CASE("rebuild: the box round the chosen faces is put anew, in cells as typed; nonsense is marked") {
    Cube w;
    QLineEdit* cell = w->hand_strip()->cell_field();
    REQUIRE(cell->isVisible());
    cell->setText("two apples");
    Q_EMIT cell->editingFinished();
    CHECK(cell->property("wrong").toBool());
    cell->setText("5");
    Q_EMIT cell->editingFinished();
    CHECK(!cell->property("wrong").toBool());
    QTest::mouseClick(w->viewport(), Qt::LeftButton, {}, w.at({10, 5, 40}));
    REQUIRE(w.chosen() == 1);
    w.use(HandTool::rebuild_region);
    CHECK(w->hint_line()->text().contains("in cells of 5 mm"));
    REQUIRE(w.mendings().front()->steps.size() == 1);
    const Step& edit = *w.mendings().front()->steps.front();
    CHECK(edit.kind == "rebuild-region");
    CHECK(std::get<std::vector<Vec3>>(edit.values.at("at")).size() == 2);
    CHECK(std::get<double>(edit.values.at("cell")) == 5);
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    CHECK(w.volume() == Approx(64000).epsilon(3e-3));
    REQUIRE(write_job(w.job(), w.folder / "rebuilt.anvil"));
    const Job read = saved_job(w.folder / "rebuilt.anvil");
    CHECK(find_step(read, edit.id).step->values == edit.values);
}
