// The real window and files: what comes in, what is saved and exported, and what is left after a crash.
#include "app/panels/first_hints.h"
#include "app/panels/notice_strip.h"
#include "app/panels/recovery_strip.h"
#include "app/panels/unsaved_strip.h"
#include "app/user_settings.h"
#include "app/view/looks.h"
#include "core/io/archive.h"
#include "core/job/job_text.h"
#include "tests/app/shown.h"

#include <QMenu>
#include <QSignalSpy>

using namespace anvil;
using namespace anvil::test;

namespace {

void press(const QWidget& strip, const QString& name) {
    for (auto* b : strip.findChildren<QPushButton*>())
        if (b->text() == name) return b->click();
    FAIL("no button " << name.toStdString());
}

}  // namespace

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
    CHECK(!other.steps()[3].step->on);
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
    w->controller().change(w.switched(0), "switch");
    w->controller().stop();
    w.settle();
    w->controller().deliver(q(folder / "old.ply"));
    w.settle();
    CHECK(!std::filesystem::exists(folder / "old.ply"));
    CHECK(w->hint_line()->text().contains("stopped"));
    w->controller().change(w.switched(0), "switch back");
    w.settle();
    w->controller().deliver(q(folder / "new.ply"));
    w.settle();
    CHECK(std::filesystem::exists(folder / "new.ply"));
}

TEST_CASE("what was worked out for one job is never shown in the next, whose ids are the same") {
    Shown w;
    w.demo();
    w.place("part-2", [](Placement& p) { p.position.x += 1; });  // at work while the next job is opened
    Job next;
    add_part(next, "block", std::make_shared<const Mesh>(make_box({0, 0, 0}, {2, 3, 4})));
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
    const std::size_t parts = w.meshes().size();
    for (const char* bad : {"cut.stl", "bad.off", "bad.anvil", "folder.obj", "missing.ply"}) {
        INFO(bad);
        w->open_files({q(folder / "good.stl"), q(folder / bad)});
        w.settle();
        CHECK(w.meshes().size() == parts);
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
    const double distance = w->viewport()->camera().distance;
    QTest::mouseClick(inches, Qt::LeftButton);
    w.settle();
    CHECK(!w->unit_strip()->isVisible());
    CHECK(w.volume() == Approx(24 * 25.4 * 25.4 * 25.4));
    CHECK(w->viewport()->camera().distance == Approx(25.4 * distance).epsilon(0.1));  // it is seen whole again
    w->open_files({q(folder / "block.stl")});
    w.settle();
    CHECK(!w->unit_strip()->isVisible());  // asked once
    CHECK(bounds(*w.meshes()[1]).size().z == Approx(101.6));
    w->action("undo")->trigger();
    w->action("undo")->trigger();
    w.settle();
    CHECK(w.volume() == Approx(24));
}

TEST_CASE(
    "3MF: every body becomes a part with its name, no unit is asked for; a split is exported as bodies of one file") {
    TempFolder folder;
    Shown w;
    const std::vector<NamedMesh> two{{"housing", make_box({0, 0, 0}, {10, 10, 10})},
                                     {"pin", make_box({4, 4, -1}, {6, 6, 11})}};
    REQUIRE(write_meshes(two, folder / "two.3mf"));
    w->open_files({q(folder / "two.3mf")});
    w.settle();
    CHECK(!w.part("housing").empty());
    CHECK(w.name_of_part(w.base()) == "housing");
    CHECK(!w->unit_strip()->isVisible());
    w->choose_part(w.part("pin"));
    w.key(Qt::Key_S);
    w->controller().deliver(q(folder / "out.3mf"));
    w.settle();
    CHECK(w->hint_line()->text().contains("Exported 2 bodies"));
    const auto bodies = read_meshes(folder / "out.3mf");
    REQUIRE(bodies);
    REQUIRE(bodies->size() == 2);
    CHECK((*bodies)[0].name == "housing 1");
    CHECK(signed_volume((*bodies)[0].mesh) + signed_volume((*bodies)[1].mesh) == Approx(1000));
    w->controller().deliver(q(folder / "out.stl"));
    w.settle();
    CHECK(w->hint_line()->text().startsWith("Exported 2 files: " + q(folder / "out-1.stl") + ", out-2.stl."));
}

TEST_CASE("a job left by a program that is gone is offered, and opened as unsaved") {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave";
    QDir().mkpath(folder);
    const QString file = folder + "/left.anvil", lock_file = RecoveryStrip::lock_of(file);
    // One that ended before it had a copy.
    write_bytes(RecoveryStrip::lock_of(folder + "/early.anvil").toStdString(),
                "1\ntrue\n" + QSysInfo::machineHostName().toStdString() + "\n");
    REQUIRE(write_job(demo::lantern_job(), file.toStdString()));
    // A lock of a process that has ended, one whose number another program has now, or none.
    const int lock = GENERATE(0, 1, 2);
    INFO("lock " << lock);
    if (lock == 0) {
        QProcess gone;
        gone.start("true", {});
        const qint64 pid = gone.processId();
        REQUIRE(gone.waitForFinished());
        write_bytes(lock_file.toStdString(),
                    std::to_string(pid) + "\ntrue\n" + QSysInfo::machineHostName().toStdString() + "\n");
    }
    if (lock == 1) write_bytes(lock_file.toStdString(), "1\ntrue\n" + QSysInfo::machineHostName().toStdString() + "\n");
    QString own;
    {
        Shown w;
        own = w->autosave_file();
        REQUIRE(w->recovery_strip()->isVisible());
        CHECK(w.job().parts.empty());
        auto press = [&](const QString& text) {
            for (auto* b : w->recovery_strip()->findChildren<QPushButton*>())
                if (b->text() == text) QTest::mouseClick(b, Qt::LeftButton);
            w.settle();
        };
        press("Later");
        CHECK(!w->recovery_strip()->isVisible());
        CHECK(QFile::exists(file));
        w->recovery_strip()->look_in(folder);
        press("Open it");
        CHECK(w.steps().size() == 8);
        CHECK(w->windowTitle().contains("*"));
        CHECK(!w->recovery_strip()->isVisible());
        // The copy is this program's own now: there was one all the time.
        CHECK(!QFile::exists(file));
        CHECK(QFile::exists(own));
        w->controller().drop_copy();
    }
    CHECK(!QFile::exists(own));
    CHECK(QDir(folder).entryList(QDir::Files).isEmpty());  // no lock is left, either
}

TEST_CASE("a copy of a program that runs is not offered") {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave";
    QDir().mkpath(folder);
    Shown first;
    first.demo();
    first->choose_part(first.part("vent slots"));
    first->action("switch")->trigger();
    first.settle();
    first->autosave();
    first.settle();
    REQUIRE(QFile::exists(first->autosave_file()));
    {
        Shown second;
        CHECK(!second->recovery_strip()->isVisible());
    }
    first->controller().drop_copy();
}

TEST_CASE("a copy that cannot be read stays, and the job with it") {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave";
    QDir().mkpath(folder);
    const QString file = folder + "/left.anvil";
    write_bytes(file.toStdString(), "half a job");
    Shown w;
    w.demo();
    w->recovery_strip()->look_in(folder);
    Q_EMIT w->recovery_strip()->open_wanted(file);
    w.settle();
    CHECK(w.steps().size() == 8);
    CHECK(w->hint_line()->text().contains(file));
    CHECK(QFile::exists(file));
    QFile::remove(file);
}

TEST_CASE("reading a job can be stopped; the job that is open stays, and is worked out") {
    TempFolder folder;
    REQUIRE(write_job(demo::lantern_job(), folder / "lantern.anvil"));
    Job block;
    add_part(block, "block", std::make_shared<const Mesh>(make_box({0, 0, 0}, {2, 3, 4})));
    Shown w;
    w->controller().open(block, {});
    w->open_files({q(folder / "lantern.anvil")});
    w->controller().stop();
    w.settle();
    CHECK(w.meshes().size() == 1);
    CHECK(w.volume() == Approx(24));
    w->open_files({q(folder / "lantern.anvil")});
    w.settle();
    CHECK(w.steps().size() == 8);
    CHECK(w->controller().file() == q(folder / "lantern.anvil"));
}

TEST_CASE("an export is written to its end before a job is opened in its place") {
    TempFolder folder;
    REQUIRE(write_job(demo::lantern_job(), folder / "lantern.anvil"));
    Shown w;
    w.demo();
    w->controller().deliver(q(folder / "out.stl"));
    w->open_files({q(folder / "lantern.anvil")});
    CHECK(w->hint_line()->text().contains("an export is still being written"));
    w.settle();
    CHECK(std::filesystem::exists(folder / "out.stl"));
    w->open_files({q(folder / "lantern.anvil")});
    w.settle();
    CHECK(w->controller().file() == q(folder / "lantern.anvil"));
}

TEST_CASE("a row that was dropped moves in the job as it is by then") {
    Shown w;
    w.demo();
    JobSheetModel* model = w->job_sheet()->model();
    std::unique_ptr<QMimeData> mime(model->mimeData({model->index(1)}));
    model->dropMimeData(mime.get(), Qt::MoveAction, 9, 0, {});
    Job job = w.job();
    rename_part(job, "part-2", "renamed meanwhile");
    w->controller().change(job, "rename");
    w.settle();
    CHECK(w.job().find_part("part-2")->name == "renamed meanwhile");
    CHECK(w.steps().back().id.part == "part-2");
}

TEST_CASE("a look that was stopped is asked for again") {
    Shown w;
    w.demo();
    w->viewport()->set_surface(Surface::shells);
    w->controller().stop();  // before the worker comes to it
    w.settle();
    Looks looks(w->controller());
    const auto mesh = w->controller().outcome()->result.mesh;
    CHECK(!looks.surface(mesh, Surface::regions));
    w->controller().stop();
    w.settle();
    CHECK(!looks.surface(mesh, Surface::regions));  // asked again
    w.settle();
    CHECK(looks.surface(mesh, Surface::regions));
}

TEST_CASE("what becomes of unsaved changes is asked in a strip, and the work goes on meanwhile") {
    const QTemporaryDir folder;
    const QString file = folder.filePath("lantern.anvil");
    Shown w;
    w.demo();
    REQUIRE(w->controller().save(file));
    auto change = [&] {
        w->choose_part(w.part("vent slots"));
        w->action("switch")->trigger();
        w.settle();
    };
    const auto strip_is_shown = [&] { return w->unsaved_strip()->isVisible(); };
    change();
    w->open_demo_scan();
    CHECK(strip_is_shown());
    CHECK(w.steps().size() == 8);
    press(*w->unsaved_strip(), "Go back");
    CHECK(!strip_is_shown());
    CHECK(w.steps().size() == 8);

    w->open_demo_scan();
    QTest::keyClick(w->unsaved_strip(), Qt::Key_Escape);
    CHECK(!strip_is_shown());

    w->open_demo_scan();
    change();  // whoever goes on has answered
    CHECK(!strip_is_shown());
    change();

    w->open_demo_scan();
    press(*w->unsaved_strip(), "Save first");
    w.settle();
    CHECK(w.steps().empty());
    const Job saved = saved_job(file.toStdString());
    CHECK(!combining(saved)[6].step->on);
    w->open_demo();  // nothing is unsaved now
    CHECK(!strip_is_shown());
    w.settle();
}

TEST_CASE("unsaved work is kept beside while the program runs, and the copy goes when it ends well") {
    QString file;
    {
        Shown w;
        file = w->autosave_file();
        w.demo();
        w->autosave();
        CHECK(!QFile::exists(file));  // nothing has been changed yet
        w->choose_part(w.part("vent slots"));
        w->action("switch")->trigger();
        w.settle();
        w->autosave();
        w.settle();
        const Job copy = saved_job(file.toStdString());
        CHECK(!combining(copy)[6].step->on);
        w->close();
        CHECK(w->isVisible());  // asked first
        press(*w->unsaved_strip(), "Drop changes");
        CHECK(!w->isVisible());
    }
    CHECK(!QFile::exists(file));
}

TEST_CASE("the first run: five hints on the demo job, one after the other; put away they do not come again") {
    user_settings().remove("hints_seen");
    {
        Shown w;
        w->open_demo();
        w.settle();
        CHECK(!w->first_hints()->isVisible());  // tests and pictures do without
        w->first_hints()->allow();
        w->open_demo();
        w.settle();
        FirstHints* hints = w->first_hints();
        REQUIRE(hints->isVisible());
        std::set<QString> said;
        for (int k = 0; k < 5; ++k) {
            said.insert(hints->said());
            CHECK(hints->said().startsWith(QString("%1 of 5").arg(k + 1)));
            if (k < 4) QTest::mouseClick(hints->next_button(), Qt::LeftButton);
        }
        CHECK(said.size() == 5);
        // What they speak of is there.
        for (const char* name : {"lens seat", "roof"})
            CHECK(std::ranges::any_of(w.job().parts, [&](const auto& p) { return p->name == name; }));
        CHECK(hints->next_button()->text() == "Done");
        QTest::mouseClick(hints->next_button(), Qt::LeftButton);
        CHECK(!hints->isVisible());
    }
    Shown again;
    again->first_hints()->allow();
    again->open_demo();
    again.settle();
    CHECK(!again->first_hints()->isVisible());
    user_settings().remove("hints_seen");
}

TEST_CASE(
    "recent files: what was opened or saved last, the newest first, opened from the menu; what is gone is not listed") {
    user_settings().remove("recent");
    TempFolder folder;
    Shown w;
    auto* menu = w->action("recent")->property("choices").value<QMenu*>();
    REQUIRE(menu);
    auto listed = [&] {
        Q_EMIT menu->aboutToShow();
        QStringList out;
        for (QAction* a : menu->actions()) out << a->text();
        return out;
    };
    CHECK(listed().front().contains("Nothing was opened"));
    for (const char* name : {"a.ply", "b.ply"}) {
        REQUIRE(write_mesh(make_box({0, 0, 0}, {1, 1, 1}), folder / name));
        w->open_files({q(folder / name)});
        w.settle();
    }
    CHECK(listed() == QStringList{"b.ply", "a.ply"});
    std::filesystem::remove((folder / "b.ply").string());
    CHECK(listed() == QStringList{"a.ply"});
    const std::size_t parts = w.job().parts.size();
    menu->actions().front()->trigger();
    w.settle();
    CHECK(w.job().parts.size() == parts + 1);
    user_settings().remove("recent");
}

TEST_CASE("a job with a damaged mesh opens without it: the part is named, and it is not saved over the file") {
    TempFolder folder;
    Shown w;
    Job job;
    add_part(job, "block", std::make_shared<const Mesh>(make_box({0, 0, 0}, {10, 10, 10})));
    const std::string bore = add_part(job, "bore", std::make_shared<const Mesh>(make_box({2, 2, -1}, {4, 4, 11})));
    add_combining(job, Operation::difference, bore);
    const std::vector<ArchiveEntry> entries{
        {"job.json", job_text(job)},
        {"parts/part-1.ply", format_mesh(make_box({0, 0, 0}, {10, 10, 10}), MeshFormat::ply)},
        {"parts/" + bore + ".ply", "ply\nformat nonsense"}};
    write_bytes(folder / "damaged.anvil", *packed_archive(entries));
    CHECK(!read_job(folder / "damaged.anvil"));  // not without a word
    w->open_files({q(folder / "damaged.anvil")});
    w.settle();
    CHECK(w->notice_strip()->told().contains("\u201cbore\u201d"));
    CHECK(w->notice_strip()->told().contains("The rest was opened"));
    QTest::mouseClick(w->notice_strip()->away_button(), Qt::LeftButton);
    CHECK(w->notice_strip()->told().isEmpty());
    CHECK(w.volume() == Approx(1000));
    CHECK(w->controller().file().isEmpty());
    // A mesh that is not there at all.
    write_bytes(folder / "missing.anvil", *packed_archive(std::span(entries).first(2)));
    w->open_files({q(folder / "missing.anvil")});
    w.settle();
    CHECK(w->notice_strip()->told().contains("bore"));
    CHECK(w.volume() == Approx(1000));
}
