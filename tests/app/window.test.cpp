// Drives the real window: real keys, real mouse, real files.
#define CATCH_CONFIG_RUNNER
#include <QApplication>
#include <QCheckBox>
#include <QDir>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMessageBox>
#include <QMimeData>
#include <QProcess>
#include <QProgressBar>
#include <QPushButton>
#include <QStandardPaths>
#include <QTest>
#include <QToolButton>
#include <QWheelEvent>

#include "app/panels/find_box.h"
#include "app/panels/hint_line.h"
#include "app/panels/job_sheet.h"
#include "app/panels/ledger.h"
#include "app/panels/step_panel.h"
#include "app/panels/unit_strip.h"
#include "app/shots.h"
#include "app/theme.h"
#include "app/view/viewport.h"
#include "app/window.h"
#include "core/io/mesh_file.h"
#include "core/job/job_file.h"
#include "demo/lantern.h"
#include "tests/support/support.h"

using namespace anvil;
using namespace anvil::test;
using namespace anvil::app;

int main(int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);
    QApplication application(argc, argv);
    QApplication::setApplicationName("clean-anvil-test");
    apply_theme(application, Theme::light);
    return Catch::Session().run(argc, argv);
}

namespace {

QString q(const std::filesystem::path& p) { return QString::fromStdString(p.string()); }

/// A shown, active window that never asks whether to save.
struct Shown {
    Window window;
    Shown() {
        window.show();
        window.activateWindow();
        (void)QTest::qWaitForWindowActive(&window, 2000);
        settle();
    }
    ~Shown() { window.controller().stop(); }
    void settle() { REQUIRE(wait_until_idle(window, 60)); }
    void demo() {
        window.open_demo();
        settle();
    }
    std::string part(const std::string& name) const {
        for (const Part& p : const_cast<Shown*>(this)->window.controller().job().parts)
            if (p.name == name) return p.id;
        return {};
    }
    Window* operator->() { return &window; }
    const Job& job() { return window.controller().job(); }
    double volume() { return signed_volume(window.controller().outcome()->evaluation->combined.mesh); }
    Vec3 position(const std::string& id) { return job().find_part(id)->placement.position; }
    void drag(const QPoint& from, const QPoint& to, Qt::MouseButton button = Qt::LeftButton) {
        Viewport* v = window.viewport();
        QTest::mouseMove(v, from);
        QTest::mousePress(v, button, {}, from);
        for (int k = 1; k <= 8; ++k) QTest::mouseMove(v, from + (to - from) * k / 8);
        QTest::mouseRelease(v, button, {}, to);
        settle();
    }
    void key(Qt::Key k) {
        window.viewport()->setFocus();
        QTest::keyClick(window.viewport(), k);
        settle();
    }
};

}  // namespace

TEST_CASE("the demo opens, evaluates and is judged print-ready; the view shows it") {
    Shown w;
    CHECK(w->ledger()->verdict().contains("Nothing to judge"));
    w.demo();
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    CHECK(w->job_sheet()->model()->rowCount() == 8);
    CHECK(w->job_sheet()->model()->index(1).data(JobSheetModel::ChangeRole).toString().startsWith("+"));
    const QImage image = w->viewport()->grab().toImage();
    const QPointF middle = w->viewport()->pixel_of({0, 0, 40});
    const QColor at = image.pixelColor(middle.toPoint()), ground = image.pixelColor(5, 5);
    CHECK(std::abs(at.lightness() - ground.lightness()) > 25);  // the body stands out against the paper
}

TEST_CASE("meshes come in by command line and drop; the first is the base, the others wait") {
    TempFolder folder;
    REQUIRE(write_mesh(make_box({0, 0, 0}, {40, 40, 40}), folder / "block.stl"));
    REQUIRE(write_mesh(make_box({20, 20, 20}, {60, 60, 60}), folder / "cutter.ply"));
    Shown w;
    w->open_files({q(folder / "block.stl")});
    QMimeData mime;
    mime.setUrls({QUrl::fromLocalFile(q(folder / "cutter.ply"))});
    QDragEnterEvent enter(QPoint(100, 100), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(w->viewport(), &enter);
    QDropEvent drop(QPointF(100, 100), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(w->viewport(), &drop);
    w.settle();
    REQUIRE(w.job().parts.size() == 2);
    CHECK(w.job().steps.empty());
    CHECK(w.job().find_part(w.job().base)->name == "block");
    // The ledger speaks of the waiting part alone: 64 cm3, not "before -> now".
    CHECK(w->ledger()->measures().contains("64.00 cm³"));
    CHECK(!w->ledger()->measures().contains("→"));
    // The dropped one is chosen; D in the view makes it a cutter.
    w.key(Qt::Key_D);
    REQUIRE(w.job().steps.size() == 1);
    CHECK(w.volume() == Approx(64000 - 8000));
    w.key(Qt::Key_U);
    CHECK(w.volume() == Approx(2 * 64000 - 8000));
    w.key(Qt::Key_I);
    CHECK(w.volume() == Approx(8000));
    w.key(Qt::Key_O);
    CHECK(w.volume() == Approx(64000));
    CHECK(w->windowTitle().contains("*"));
}

TEST_CASE("clicking chooses a part, dragging its handle moves it, and one undo takes the drag back") {
    Shown w;
    w.demo();
    const std::string bore = w.part("gland bore");
    w->choose_part(bore);
    w.settle();
    const double before = w.volume();
    Viewport* v = w->viewport();
    const Vec3 middle = v->chosen_middle();
    // The z handle stands straight up from the middle.
    const QPointF foot = v->pixel_of(middle), up = v->pixel_of(middle + Vec3{0, 0, 10});
    CHECK(std::abs(foot.x() - up.x()) < 2);
    const QPoint grip = (foot - QPointF(0, 50)).toPoint();
    w.drag(grip, grip - QPoint(0, 40));
    const Vec3 moved = w.position(bore);
    CHECK(moved.z > 17);
    CHECK(moved.x == 0);
    CHECK(moved.y == 20);
    CHECK(w->controller().history().undo_name() == "move gland bore");
    CHECK(w->action("undo")->toolTip().contains("Undo: move gland bore"));
    CHECK(w.volume() != Approx(before).epsilon(1e-6));
    w->action("undo")->trigger();
    w.settle();
    CHECK(w.position(bore).z == 16);
    CHECK(w.volume() == Approx(before));
    w->action("redo")->trigger();
    w.settle();
    CHECK(w.position(bore).z == moved.z);
}

TEST_CASE("dragging the part itself moves it over the bed") {
    Shown w;
    w.demo();
    const std::string bore = w.part("gland bore");
    w->choose_part(bore);
    w.settle();
    const QPoint on = (w->viewport()->pixel_of(w->viewport()->chosen_middle()) + QPointF(-12, 6)).toPoint();
    w.drag(on, on + QPoint(40, 0));
    const Vec3 moved = w.position(bore);
    CHECK(moved.z == 16);
    CHECK(norm(moved - Vec3{0, 20, 16}) > 2);
}

TEST_CASE("dragging the ground turns, right-dragging slides, the wheel zooms to the pointer") {
    Shown w;
    w.demo();
    Viewport* v = w->viewport();
    const Camera start = v->camera();
    w.drag({20, 400}, {120, 420});
    CHECK(v->camera().turn != start.turn);
    CHECK(v->camera().tilt != start.tilt);
    CHECK(v->camera().distance == start.distance);
    const Camera turned = v->camera();
    w.drag({300, 300}, {340, 300}, Qt::RightButton);
    CHECK(norm(v->camera().target - turned.target) > 1);
    CHECK(v->camera().turn == turned.turn);
    const double distance = v->camera().distance;
    QWheelEvent wheel({200, 200}, v->mapToGlobal(QPoint(200, 200)), {}, {0, 240}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(v, &wheel);
    CHECK(v->camera().distance < distance);
    w.key(Qt::Key_W);
    CHECK(v->camera().distance == Approx(start.distance));
    CHECK(w.job().steps.size() == 7);  // looking changes nothing
    CHECK(!w->controller().history().can_undo());
}

TEST_CASE("clicking a face chooses the part that it came from") {
    Shown w;
    w.demo();
    Viewport* v = w->viewport();
    QTest::mouseClick(v, Qt::LeftButton, {}, v->pixel_of({-50, 0, 6}).toPoint());
    CHECK(w->job_sheet()->chosen_part() == w.part("mounting ears"));
    QTest::mouseClick(v, Qt::LeftButton, {}, QPoint(8, 300));
    CHECK(w->job_sheet()->chosen_part().empty());
}

TEST_CASE("typed numbers move the part; nonsense is marked and said, and changes nothing") {
    Shown w;
    w.demo();
    const std::string bore = w.part("gland bore");
    w->choose_part(bore);
    w.settle();
    auto type = [&](int field, const char* text) {
        QLineEdit* edit = w->step_panel()->field(field);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
        w.settle();
    };
    type(2, "12.5+1in");
    CHECK(w.position(bore).z == Approx(37.9));
    CHECK(w->step_panel()->field(2)->text() == "37.9 mm");
    type(5, "45");
    CHECK(w.job().find_part(bore)->placement.angles.z == 45);
    const std::size_t steps_back = w->controller().history().can_undo();
    type(0, "5 parsecs");
    CHECK(w.position(bore).x == 0);
    CHECK(w->step_panel()->field(0)->property("wrong").toBool());
    CHECK(w->hint_line()->text().contains("did not expect"));
    CHECK(w->controller().history().can_undo() == steps_back);
}

TEST_CASE("the peg switches a step, rows reorder by drop, rename in place, and Delete removes") {
    Shown w;
    w.demo();
    JobSheetModel* model = w->job_sheet()->model();
    QListView* view = w->job_sheet()->view();
    const double all = w.volume();
    const QRect row = view->visualRect(model->index(7));
    QTest::mouseClick(view->viewport(), Qt::LeftButton, {}, QPoint(row.right() - 12, row.center().y()));
    w.settle();
    CHECK(!w.job().steps[6].on);
    CHECK(w.volume() > all);
    CHECK(w->controller().outcome()->evaluation->reused_arrangement);
    std::unique_ptr<QMimeData> mime(model->mimeData({model->index(1)}));
    model->dropMimeData(mime.get(), Qt::MoveAction, 8, 0, {});
    w.settle();
    CHECK(w.job().find_part(w.job().steps.back().part)->name == "mounting ears");
    CHECK(model->setData(model->index(0), "buoy lantern", Qt::EditRole));
    CHECK(w.job().find_part(w.job().base)->name == "buoy lantern");
    w->choose_part(w.part("vent slots"));
    w->action("remove")->trigger();
    w.settle();
    CHECK(w.job().steps.size() == 6);
    CHECK(w.part("vent slots").empty());
}

TEST_CASE("a job saved and opened again is the same") {
    TempFolder folder;
    Shown w;
    w.demo();
    w->choose_part(w.part("lens seat"));
    w.key(Qt::Key_O);
    REQUIRE(w->controller().save(q(folder / "lantern.anvil")));
    CHECK(!w->windowTitle().contains("*"));
    CHECK(w->windowTitle().contains("lantern.anvil"));
    const double volume = w.volume();
    Shown other;
    other->open_files({q(folder / "lantern.anvil")});
    other.settle();
    CHECK(other.volume() == Approx(volume));
    CHECK(!other.job().steps[3].on);
}

TEST_CASE("export writes what is shown") {
    TempFolder folder;
    Shown w;
    w.demo();
    for (const char* name : {"out.stl", "out.obj", "out.ply", "out.off"}) {
        w->controller().deliver(q(folder / name));
        w.settle();
        CHECK(signed_volume(*read_mesh(folder / name)) == Approx(w.volume()).epsilon(1e-5));
    }
    CHECK(w->hint_line()->text().startsWith("Exported"));
    w->controller().deliver(q(folder / "missing" / "out.stl"));
    w.settle();
    CHECK(w->hint_line()->text().contains("cannot be written"));
}

TEST_CASE("bad files: the sentence in the hint line, a details button, and the job as it was") {
    TempFolder folder;
    REQUIRE(write_mesh(make_box({0, 0, 0}, {4, 4, 4}), folder / "good.stl"));
    write_bytes(folder / "cut.stl", read_bytes(folder / "good.stl").substr(0, 300));
    write_bytes(folder / "bad.off", "OFF\n3 1 0\n0 0 0\n1 0 nan\n0 1 0\n3 0 1 2\n");
    write_bytes(folder / "bad.anvil", "nothing");
    std::filesystem::create_directory(folder / "folder.obj");
    Shown w;
    w.demo();
    const std::size_t parts = w.job().parts.size();
    for (const char* bad : {"cut.stl", "bad.off", "bad.anvil", "folder.obj", "missing.ply"}) {
        INFO(bad);
        w->open_files({q(folder / "good.stl"), q(folder / bad)});
        w.settle();
        CHECK(w.job().parts.size() == parts);
        CHECK(w->hint_line()->text().contains(bad));
        auto* details = w->hint_line()->findChildren<QPushButton*>().first();
        for (QPushButton* b : w->hint_line()->findChildren<QPushButton*>())
            if (b->text() == "Details") details = b;
        CHECK(details->isVisible());
        bool shown = false;
        QTimer::singleShot(50, [&] {
            for (QWidget* top : QApplication::topLevelWidgets())
                if (auto* box = qobject_cast<QMessageBox*>(top)) {
                    shown = box->text().contains(bad);
                    box->accept();
                }
        });
        QTest::mouseClick(details, Qt::LeftButton);
        CHECK(shown);
    }
    w.key(Qt::Key_X);  // the next change of the job clears it
    w->choose_part(w.part("lens seat"));
    w.key(Qt::Key_O);
    CHECK(!w->hint_line()->text().contains("missing"));
}

TEST_CASE("a broken operand: its row says so, the ledger shows what is wrong, the last result stays") {
    TempFolder folder;
    Mesh open = make_box({0, 0, 0}, {40, 40, 40});
    open.faces.raw().resize(2);  // encloses nothing
    REQUIRE(write_mesh(make_box({-20, -20, 0}, {20, 20, 60}), folder / "block.ply"));
    REQUIRE(write_mesh(open, folder / "open.ply"));
    Shown w;
    w->open_files({q(folder / "block.ply"), q(folder / "open.ply")});
    w.settle();
    const double before = w.volume();
    w.key(Qt::Key_D);
    CHECK(w->job_sheet()->model()->index(1).data(JobSheetModel::NoteRole).toString().contains("is a sheet"));
    CHECK(w.volume() == before);
    // A part without a face cannot be an operand.
    Job job = w.job();
    job.find_part(job.steps[0].part)->mesh = std::make_shared<const Mesh>();
    w->controller().change(std::move(job), "empty it");
    w.settle();
    CHECK(w->hint_line()->text().contains("step 1 (open)"));
    CHECK(w->job_sheet()->model()->index(1).data(JobSheetModel::FaultRole).toBool());
    CHECK(w.volume() == before);
    CHECK(w->viewport()->isVisible());
}

TEST_CASE("split by a plane: two pieces, moved and turned live; trims leave an open surface") {
    TempFolder folder;
    REQUIRE(write_mesh(make_box({0, 0, 0}, {40, 40, 40}), folder / "block.ply"));
    Shown w;
    w->open_files({q(folder / "block.ply")});
    w.settle();
    w->action("plane")->trigger();
    w.settle();
    REQUIRE(w.job().steps.size() == 1);
    CHECK(w->controller().outcome()->evaluation->combined.pieces() == 2);
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    CHECK(w->job_sheet()->model()->index(1).data(JobSheetModel::ChangeRole) == "2 pieces");
    w->step_panel()->field(2)->setFocus();
    w->step_panel()->field(2)->selectAll();
    QTest::keyClicks(w->step_panel()->field(2), "10");
    QTest::keyClick(w->step_panel()->field(2), Qt::Key_Return);
    w.settle();
    w->controller().deliver(q(folder / "half.stl"));
    w.settle();
    std::vector<double> v{signed_volume(*read_mesh(folder / "half-1.stl")),
                          signed_volume(*read_mesh(folder / "half-2.stl"))};
    std::sort(v.begin(), v.end());
    CHECK(v[0] == Approx(16000));
    CHECK(v[1] == Approx(48000));
    // Far away it says so; undo brings it back.
    w->step_panel()->field(2)->setFocus();
    w->step_panel()->field(2)->selectAll();
    QTest::keyClicks(w->step_panel()->field(2), "50");
    QTest::keyClick(w->step_panel()->field(2), Qt::Key_Return);
    w.settle();
    CHECK(w->job_sheet()->model()->index(1).data(JobSheetModel::NoteRole).toString() ==
          "It cuts nothing: it is 10 mm away from the body.");
    w->controller().undo();
    w.settle();
    CHECK(w->controller().outcome()->evaluation->combined.pieces() == 2);
    // The plane as the base, trimmed by the block.
    Job job = w.job();
    std::swap(job.base, job.steps[0].part);
    job.steps[0].operation = Operation::trim_inside;
    w->controller().change(std::move(job), "trim the plane");
    w.settle();
    CHECK(surface_area(w->controller().outcome()->evaluation->combined.mesh) == Approx(1600));
    CHECK(w->ledger()->verdict().contains("Not print-ready"));
}

TEST_CASE("settings of the result: the contact rule and flush faces, undoable, kept in the job") {
    TempFolder folder;
    Mesh left = make_box({0, 0, 0}, {20, 20, 20}), right = make_box({20, 20, 0}, {40, 40, 20});
    REQUIRE(write_mesh(left, folder / "left.ply"));
    REQUIRE(write_mesh(right, folder / "right.ply"));
    Shown w;
    w->open_files({q(folder / "left.ply"), q(folder / "right.ply")});
    w.settle();
    w.key(Qt::Key_U);
    CHECK(w.volume() < 16000);  // they touch along an edge and were set back
    w->choose_part(w.job().base);
    QToolButton* bridge = nullptr;
    for (QToolButton* b : w->step_panel()->findChildren<QToolButton*>())
        if (b->text() == "bridge") bridge = b;
    REQUIRE(bridge);
    REQUIRE(bridge->isVisible());
    QTest::mouseClick(bridge, Qt::LeftButton);
    w.settle();
    CHECK(contact_rule(w.job()) == ContactRule::join);
    CHECK(w.volume() > 16000);
    CHECK(w->ledger()->verdict().contains("1 shell"));
    auto* merge = w->step_panel()->findChild<QCheckBox*>();
    REQUIRE(merge);
    QTest::mouseClick(merge, Qt::LeftButton, {}, QPoint(8, merge->height() / 2));
    w.settle();
    CHECK(merge_flush(w.job()));
    w->controller().undo();
    w->controller().undo();
    w.settle();
    CHECK(contact_rule(w.job()) == ContactRule::separate);
    CHECK(!bridge->isChecked());
}

TEST_CASE("the ledger lists kinds with counts, pins their places and steps through them") {
    Shown w;
    w->open_demo_scan();
    w.settle();
    QListWidget* kinds = w->ledger()->kinds();
    CHECK(w->ledger()->verdict().contains("Not print-ready"));
    CHECK(kinds->count() == finding_kinds);
    REQUIRE(kinds->item(0)->data(Qt::UserRole + 1).toInt() > 0);
    CHECK(w->ledger()->pins().empty());
    kinds->setCurrentRow(0);
    const auto pins = w->ledger()->pins();
    REQUIRE(!pins.empty());
    CHECK(pins.back().chosen);
    CHECK(pins.back().number == 1);
    const Vec3 first = w->viewport()->camera().target;
    CHECK(norm(first - pins.back().place) < 1e-9);
    QTest::keyClick(&w.window, Qt::Key_F4);
    CHECK(w->ledger()->pins().back().number == 2);
    CHECK(norm(w->viewport()->camera().target - first) > 0);
}

TEST_CASE("the horizon dial turns the view to a named side") {
    Shown w;
    w.demo();
    QWidget* dial = nullptr;
    for (QWidget* child : w->viewport()->findChildren<QWidget*>())
        if (child->accessibleName().startsWith("Horizon dial")) dial = child;
    REQUIRE(dial);
    QTest::keyClick(dial, Qt::Key_2);
    CHECK(w->viewport()->camera().turn == 90);
    CHECK(w->viewport()->camera().tilt == 0);
    QTest::mouseClick(dial, Qt::LeftButton, {}, dial->rect().center() - QPoint(0, 9));
    CHECK(w->viewport()->camera().tilt == 90);
}

TEST_CASE("the find box finds tools by plain words and runs them") {
    Shown w;
    w.demo();
    w->choose_part(w.part("vent slots"));
    w->action("find")->trigger();
    QTest::keyClicks(w->find_box(), "keep what both");
    QTest::keyClick(w->find_box(), Qt::Key_Return);
    w.settle();
    CHECK(w.job().steps[6].operation == Operation::intersection);
}

TEST_CASE("long work shows progress and can be stopped; the last result stays") {
    TempFolder folder;
    REQUIRE(write_mesh(make_icosphere({0, 0, 0}, 50, 8), folder / "large.ply"));
    REQUIRE(write_mesh(turned(make_icosphere({3, 2, 1}, 50, 8), 0.1, {1, 1, 0}), folder / "other.ply"));
    Shown w;
    w->open_files({q(folder / "large.ply"), q(folder / "other.ply")});
    w.settle();
    const auto before = w->controller().outcome();
    w->viewport()->setFocus();
    QTest::keyClick(w->viewport(), Qt::Key_U);
    CHECK(w->controller().is_busy());
    auto* bar = w->hint_line()->findChild<QProgressBar*>();
    QElapsedTimer timer;
    timer.start();
    while (!bar->isVisible() && w->controller().is_busy() && timer.elapsed() < 20000)
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    REQUIRE(bar->isVisible());
    for (QPushButton* b : w->hint_line()->findChildren<QPushButton*>())
        if (b->text() == "Stop") QTest::mouseClick(b, Qt::LeftButton);
    w.settle();
    CHECK(w->controller().outcome()->evaluation == before->evaluation);
    CHECK(w.job().steps.size() == 1);  // the step is there, and can be tried again or undone
}

TEST_CASE("the stop line is pulled up by its tab or by keys: the model as of that step, and back") {
    Shown w;
    w.demo();
    const double all = w.volume();
    SheetView* view = w->job_sheet()->view();
    auto at_row = [&](int row) {
        return QPoint(view->stop_line().right() - 50, view->visualRect(w->job_sheet()->model()->index(row)).bottom());
    };
    QTest::mousePress(view->viewport(), Qt::LeftButton, {}, view->stop_line().center());
    for (int row = 7; row >= 2; --row) QTest::mouseMove(view->viewport(), at_row(row));
    QTest::mouseRelease(view->viewport(), Qt::LeftButton, {}, at_row(2));
    w.settle();
    CHECK(w->controller().stop_after() == 2);
    CHECK(w->hint_line()->text().contains("as of step 2 of 7"));
    CHECK(w->job_sheet()->model()->index(3).data(JobSheetModel::ChangeRole) == "stopped");
    CHECK(w.volume() > all);  // ears joined, nothing hollowed out yet
    CHECK(w->controller().outcome()->evaluation->reused_arrangement);
    CHECK(!w->controller().history().can_undo());  // looking back changes no job
    view->setFocus();
    for (int k = 0; k < 9; ++k) QTest::keyClick(view, Qt::Key_Down, Qt::ControlModifier);
    w.settle();
    CHECK(w->controller().stop_after() > 7);
    CHECK(w.volume() == Approx(all));
    for (int k = 0; k < 9; ++k) w->action("stop-earlier")->trigger();
    w.settle();
    CHECK(w->controller().stop_after() == 0);
}

TEST_CASE("the unit of a file is asked for once, by its size each way, and the answer can be undone") {
    TempFolder folder;
    REQUIRE(write_mesh(make_box({0, 0, 0}, {2, 3, 4}), folder / "block.stl"));
    Shown w;
    w->open_files({q(folder / "block.stl")});
    w.settle();
    REQUIRE(w->unit_strip()->isVisible());
    QPushButton* inches = nullptr;
    for (QPushButton* b : w->unit_strip()->findChildren<QPushButton*>())
        if (b->accessibleName() == "Inches") inches = b;
    REQUIRE(inches);
    CHECK(inches->text().contains(QString::fromUtf8("50.8 × 76.2 × 101.6 mm")));
    CHECK(w.volume() == Approx(24));  // millimetres hold until the answer
    QTest::mouseClick(inches, Qt::LeftButton);
    w.settle();
    CHECK(!w->unit_strip()->isVisible());
    CHECK(w.volume() == Approx(24 * 25.4 * 25.4 * 25.4));
    w->open_files({q(folder / "block.stl")});
    w.settle();
    CHECK(!w->unit_strip()->isVisible());  // asked once
    CHECK(bounds(*w.job().parts[1].mesh).size().z == Approx(101.6));
    w->action("undo")->trigger();
    w->action("undo")->trigger();
    w.settle();
    CHECK(w.volume() == Approx(24));
}

TEST_CASE("a job left by a program that is gone is offered, and opened as unsaved") {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave";
    QDir().mkpath(folder);
    // The number of a process that has ended.
    QProcess gone;
    gone.start("true", {});
    const qint64 pid = gone.processId();
    REQUIRE(gone.waitForFinished());
    const QString file = folder + "/" + QString::number(pid) + ".anvil";
    REQUIRE(write_job(demo::lantern_job(), file.toStdString()));
    bool asked = false;
    QTimer::singleShot(300, [&] {
        for (QWidget* top : QApplication::topLevelWidgets())
            if (auto* box = qobject_cast<QMessageBox*>(top))
                for (QAbstractButton* b : box->buttons())
                    if (b->text() == "Open it") {
                        asked = true;
                        b->click();
                    }
    });
    Shown w;
    w.settle();
    REQUIRE(asked);
    CHECK(w.job().steps.size() == 7);
    CHECK(w->windowTitle().contains("*"));
    CHECK(!QFile::exists(file));
}

TEST_CASE("unsaved work is kept beside while the program runs, and the copy goes when it ends well") {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave";
    const QString file = folder + "/" + QString::number(QCoreApplication::applicationPid()) + ".anvil";
    {
        Shown w;
        w.demo();
        w->autosave();
        CHECK(!QFile::exists(file));  // nothing has been changed yet
        w->choose_part(w.part("vent slots"));
        w->action("switch")->trigger();
        w.settle();
        w->autosave();
        const auto copy = read_job(file.toStdString());
        REQUIRE(copy);
        CHECK(!copy->steps[6].on);
        QTimer::singleShot(300, [&] {
            for (QWidget* top : QApplication::topLevelWidgets())
                if (auto* box = qobject_cast<QMessageBox*>(top))
                    for (QAbstractButton* b : box->buttons())
                        if (b->text() == "Drop changes") b->click();
        });
        w->close();
    }
    CHECK(!QFile::exists(file));
}

TEST_CASE("text stands out from every ground in both themes") {
    // WCAG 2.1, success criterion 1.4.3 (AA): 4.5 : 1; relative luminance as defined there.
    auto luminance = [](const QColor& c) {
        auto linear = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
        return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
    };
    auto contrast = [&](const QColor& a, const QColor& b) {
        const double l = luminance(a), m = luminance(b);
        return (std::max(l, m) + 0.05) / (std::min(l, m) + 0.05);
    };
    CHECK(contrast(Qt::black, Qt::white) == Approx(21));  // the largest there is, by the same page
    for (const Theme theme : {Theme::light, Theme::dark}) {
        const Palette& p = palette_of(theme);
        const std::pair<const char*, std::pair<QColor, QColor>> pairs[] = {
            {"ink on paper", {p.ink, p.paper}},       {"ink on panel", {p.ink, p.panel}},
            {"ink on field", {p.ink, p.field}},       {"ink on wash", {p.ink, p.wash}},
            {"ink on hover", {p.ink, p.hover}},       {"ink on blush", {p.ink, p.blush}},
            {"ink on ask", {p.ink, p.ask}},           {"muted on paper", {p.muted, p.paper}},
            {"muted on panel", {p.muted, p.panel}},   {"muted on wash", {p.muted, p.wash}},
            {"petrol on panel", {p.petrol, p.panel}}, {"petrol on wash", {p.petrol, p.wash}},
            {"brick on panel", {p.brick, p.panel}},   {"brick on blush", {p.brick, p.blush}},
            {"brick on field", {p.brick, p.field}},   {"pine on panel", {p.pine, p.panel}},
            {"ochre on panel", {p.ochre, p.panel}},   {"on petrol", {p.on_accent, p.petrol}},
            {"on fuchsia", {p.on_accent, p.fuchsia}}, {"on brick", {p.on_accent, p.brick}},
            {"on x", {p.on_accent, p.axis_x}},        {"on y", {p.on_accent, p.axis_y}},
            {"on z", {p.on_accent, p.axis_z}},        {"x on panel", {p.axis_x, p.panel}},
            {"y on panel", {p.axis_y, p.panel}},      {"z on panel", {p.axis_z, p.panel}},
            {"hint line", {p.strip_ink, p.strip}}};
        for (const auto& [name, colours] : pairs) {
            INFO(name << (theme == Theme::dark ? ", dark" : ", light"));
            CHECK(contrast(colours.first, colours.second) >= 4.5);
        }
    }
}

TEST_CASE("the lamp turns the bench dark and back, and the choice is kept") {
    Shown w;
    w.demo();
    auto lightness = [&] { return w->grab().toImage().pixelColor(20, w->height() / 2).lightness(); };
    const int light = lightness();
    w->action("dark")->setChecked(true);
    w.settle();
    CHECK(saved_theme() == Theme::dark);
    CHECK(lightness() < light - 120);
    const QImage view = w->viewport()->grab().toImage();
    CHECK(view.pixelColor(5, 5).lightness() < 80);
    w->action("dark")->setChecked(false);
    w.settle();
    CHECK(saved_theme() == Theme::light);
    CHECK(lightness() == light);
}

TEST_CASE("the empty bench shows how to start, and its buttons do") {
    Shown w;
    QPushButton* example = nullptr;
    for (QPushButton* b : w->viewport()->findChildren<QPushButton*>())
        if (b->text().contains("signal lantern")) example = b;
    REQUIRE(example);
    CHECK(example->isVisible());
    QTest::mouseClick(example, Qt::LeftButton);
    w.settle();
    CHECK(w.job().steps.size() == 7);
    CHECK(!example->isVisible());
}

TEST_CASE("split and inlay by key and by panel: pieces judged by themselves, exported one file each") {
    TempFolder folder;
    REQUIRE(write_mesh(make_box({0, 0, 0}, {40, 40, 40}), folder / "block.ply"));
    REQUIRE(write_mesh(make_box({20, 20, 20}, {60, 60, 60}), folder / "plate.ply"));
    Shown w;
    w->open_files({q(folder / "block.ply"), q(folder / "plate.ply")});
    w.settle();
    w.key(Qt::Key_S);
    REQUIRE(w.job().steps.size() == 1);
    CHECK(w.job().steps[0].operation == Operation::split);
    CHECK(w->controller().outcome()->evaluation->combined.pieces() == 2);
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    CHECK(w->ledger()->verdict().contains("2 shells"));
    w->controller().deliver(q(folder / "out.stl"));
    w.settle();
    CHECK(!std::filesystem::exists(folder / "out.stl"));
    CHECK(signed_volume(*read_mesh(folder / "out-1.stl")) == Approx(64000 - 8000));
    CHECK(signed_volume(*read_mesh(folder / "out-2.stl")) == Approx(8000));
    QToolButton* inlay = nullptr;
    for (QToolButton* b : w->step_panel()->findChildren<QToolButton*>())
        if (b->text() == "inlay") inlay = b;
    REQUIRE(inlay);
    QTest::mouseClick(inlay, Qt::LeftButton);
    w.settle();
    CHECK(w.job().steps[0].operation == Operation::inlay);
    CHECK(inlay->isChecked());
    CHECK(w.volume() == Approx(2 * 64000 - 8000));
    w->action("gather")->trigger();
    w.settle();
    CHECK(w.volume() == Approx(2 * 64000));
}

TEST_CASE("a cutter that removes nothing says so, with its distance, where its row is and where it is set") {
    TempFolder folder;
    REQUIRE(write_mesh(make_box({0, 0, 0}, {40, 40, 40}), folder / "block.ply"));
    REQUIRE(write_mesh(make_box({40.4, 0, 0}, {60, 40, 40}), folder / "bore.ply"));
    Shown w;
    w->open_files({q(folder / "block.ply"), q(folder / "bore.ply")});
    w.settle();
    w.key(Qt::Key_D);
    const QModelIndex row = w->job_sheet()->model()->index(1);
    const QString note = row.data(JobSheetModel::NoteRole).toString();
    CHECK(note == "It removes nothing: it is 0.4 mm away from the body.");
    CHECK(row.data(Qt::ToolTipRole).toString() == note);
    bool told = false;
    for (QLabel* label : w->step_panel()->findChildren<QLabel*>())
        told = told || (label->isVisible() && label->text() == note);
    CHECK(told);
    w->step_panel()->field(0)->setFocus();
    w->step_panel()->field(0)->selectAll();
    QTest::keyClicks(w->step_panel()->field(0), "-1");
    QTest::keyClick(w->step_panel()->field(0), Qt::Key_Return);
    w.settle();
    CHECK(w->job_sheet()->model()->index(1).data(JobSheetModel::NoteRole).toString().isEmpty());
}
