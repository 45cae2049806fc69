// The real window and files: what comes in, what is saved and exported, and what is left after a crash.
#include "tests/app/shown.h"

#include <QSignalSpy>

using namespace anvil;
using namespace anvil::test;

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

TEST_CASE("an export after a stop is refused: what is shown is an older job's") {
    TempFolder folder;
    Shown w;
    w.demo();
    CHECK(w->export_name().endsWith(".stl"));
    Job job = w.job();
    job.steps[0].on = !job.steps[0].on;
    w->controller().change(job, "switch");
    w->controller().stop();
    w.settle();
    w->controller().deliver(q(folder / "old.ply"));
    w.settle();
    CHECK(!std::filesystem::exists(folder / "old.ply"));
    CHECK(w->hint_line()->text().contains("stopped"));
    job.steps[0].on = !job.steps[0].on;
    w->controller().change(job, "switch back");
    w.settle();
    w->controller().deliver(q(folder / "new.ply"));
    w.settle();
    CHECK(std::filesystem::exists(folder / "new.ply"));
}

TEST_CASE("what was worked out for one job is never shown in the next, whose ids are the same") {
    Shown w;
    w.demo();
    Job job = w.job();
    job.find_part("part-2")->placement.position.x += 1;
    w->controller().change(job, "move");  // at work while the next job is opened
    Job next;
    next.add_part("block", std::make_shared<const Mesh>(make_box({0, 0, 0}, {2, 3, 4})));
    QSignalSpy shown(&w->controller(), &JobController::evaluated);
    w->controller().open(next, {});
    CHECK(!w->controller().outcome());
    w.settle();
    CHECK(w.volume() == Approx(24));
    CHECK(shown.count() == 1);
}

TEST_CASE("the find box starts anew, and says when nothing is found") {
    Shown w;
    auto* box = w->findChild<FindBox*>();
    REQUIRE(box);
    box->setFocus();
    QTest::keyClicks(box, "zzz");
    auto* list = w->findChild<QListWidget*>("findList");
    REQUIRE(list);
    REQUIRE(list->count() == 1);
    CHECK(list->item(0)->text().contains("zzz"));
    QTest::keyClick(box, Qt::Key_Return);
    w->viewport()->setFocus();
    CHECK(box->text().isEmpty());
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
    CHECK(w.job().steps.size() == 8);
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
