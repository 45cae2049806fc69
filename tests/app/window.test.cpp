// Drives the real window: real keys, real mouse, real files. Here: the view, the panels beside it, and the program.
#define CATCH_CONFIG_RUNNER
#include <QScrollArea>
#include <clocale>

#include "app/panels/side_panel.h"
#include "tests/app/busy.h"
#include "tests/app/shown.h"
#include "tests/loops_alone.h"

using namespace anvil;
using namespace anvil::test;

int main(int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);
    TimedApplication application(argc, argv);
    std::setlocale(LC_NUMERIC, "C");  // as the program does, whatever language the user has
    // Several of this program run beside each other: each has folders of its own.
    QApplication::setApplicationName("clean-anvil-test-" + QString::number(QCoreApplication::applicationPid()));
    apply_theme(application, Theme::light);
    const int status = Catch::Session().run(argc, argv);
    for (const auto place : {QStandardPaths::AppDataLocation, QStandardPaths::AppConfigLocation})
        QDir(QStandardPaths::writableLocation(place)).removeRecursively();
    return status;
}

TEST_CASE("the demo opens, evaluates and is judged print-ready; the view shows it") {
    Shown w;
    CHECK(w->ledger()->verdict().contains("Nothing to judge"));
    w.demo();
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    CHECK(w->job_sheet()->model()->rowCount() == 9);
    CHECK(w->job_sheet()->model()->index(1).data(JobSheetModel::ChangeRole).toString().startsWith("+"));
    const QImage image = w->viewport()->finished_picture();
    const QPointF middle = w->viewport()->pixel_of({0, 0, 40});
    const QColor at = image.pixelColor(middle.toPoint()), ground = image.pixelColor(5, 5);
    CHECK(std::abs(at.lightness() - ground.lightness()) > 25);  // the body stands out against the paper
}

TEST_CASE("the window fits a small screen whatever is chosen: the hint line stays in sight, eight rows too") {
    Shown w;
    w.demo();
    for (const auto& part : {std::string(), w.part("vent slots")}) {
        w->choose_part(part);
        w.settle();
        CHECK(w->minimumSizeHint().height() <= 690);  // 1366 x 768 less a task bar and a title
        CHECK(w->minimumSizeHint().width() <= 1280);
        CHECK(w->job_sheet()->view()->height() >= 8 * row_height);
    }
    w->open_demo_scan();
    w.settle();
    w->action("mend")->trigger();
    w.settle();
    CHECK(w->minimumSizeHint().height() <= 690);
    CHECK(w->height() <= w->screen()->availableSize().height());
    CHECK(w->hint_line()->geometry().bottom() < w->height());
}

TEST_CASE("at 1280 x 800 with texts of 150 % all can be reached: panels fold to their edges, and scroll") {
    Shown w;
    w.demo();
    w->choose_part(w.part("vent slots"));
    w.settle();
    // So many points are left of the screen then.
    w->resize(1280 * 2 / 3, 800 * 2 / 3);
    for (int k = 0; k < 3; ++k) QApplication::processEvents();
    CHECK(w->width() == 853);
    CHECK(w->height() == 533);
    CHECK(w->hint_line()->geometry().bottom() < 533);
    CHECK(w->right_panel()->is_folded());
    CHECK(!w->left_panel()->is_folded());
    CHECK(w->viewport()->width() >= 420);
    QTest::mouseClick(w->right_panel()->bar(), Qt::LeftButton);
    QApplication::processEvents();
    CHECK(!w->right_panel()->is_folded());
    CHECK(w->ledger()->isVisible());
    CHECK(w->viewport()->width() >= 160);
    CHECK(w->width() == 853);
    // What is below the edge comes into sight.
    QWidget* remove = nullptr;
    for (QPushButton* b : w->step_panel()->findChildren<QPushButton*>())
        if (b->text().startsWith("Remove")) remove = b;
    REQUIRE(remove);
    remove->setFocus(Qt::TabFocusReason);
    for (QWidget* above = remove->parentWidget(); above; above = above->parentWidget())
        if (auto* area = qobject_cast<QScrollArea*>(above)) area->ensureWidgetVisible(remove);
    QApplication::processEvents();
    CHECK(w.window.rect().contains(QRect(remove->mapTo(&w.window, QPoint(0, 0)), remove->size())));
    w->resize(1280, 800);
    QApplication::processEvents();
    CHECK(!w->right_panel()->is_folded());
}

TEST_CASE("what is chosen, or under the pointer, says in the hint line what can be done") {
    Shown w;
    CHECK(w->hint_line()->text().contains("Drop meshes here"));
    w.demo();
    CHECK(w->hint_line()->text().contains("Click a part or a row"));
    w->choose_part(w.base());
    CHECK(w->hint_line()->text().contains("is the base"));
    w->choose_part(w.part("vent slots"));
    CHECK(w->hint_line()->text().contains("O switches its step"));
    QEnterEvent over({4, 4}, {4, 4}, {4, 4});
    QApplication::sendEvent(w->step_panel()->field(0), &over);
    CHECK(w->hint_line()->text().contains("arithmetic"));
    QApplication::sendEvent(w->ledger()->kinds(), &over);
    CHECK(w->hint_line()->text().contains("pin its places"));
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
    REQUIRE(w.meshes().size() == 2);
    CHECK(w.steps().empty());
    CHECK(w.name_of_part(w.base()) == "block");
    // The ledger speaks of the waiting part alone: 64 cm3, not "before -> now".
    CHECK(w->ledger()->measures().contains("64.00 cm³"));
    CHECK(!w->ledger()->measures().contains("→"));
    // The dropped one is chosen; D in the view makes it a cutter.
    w.key(Qt::Key_D);
    REQUIRE(w.steps().size() == 1);
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

TEST_CASE("while a part is dragged, the inspection of where it was is stopped") {
    Shown w;
    w.demo();
    JobController& controller = w->controller();
    auto move_on = [&] { w.place(w.part("gland bore"), [](Placement& p) { p.position.z += 1; }); };
    controller.set_dragging(true);
    bool seen = false, stopped = false;
    QObject::connect(&controller, &JobController::evaluated, &w.window, [&] {
        if (seen) return;
        seen = true;
        CHECK(!controller.progress()->cancelled());  // it was worked out to its end, to be seen
        move_on();
        stopped = controller.progress()->cancelled();
    });
    move_on();
    w.settle();
    controller.set_dragging(false);
    CHECK(seen);
    CHECK(stopped);
    REQUIRE(controller.inspection());
    CHECK(signed_volume(controller.inspection()->mesh) == Approx(w.volume()));  // of where it is now
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
    w.key(Qt::Key_V);
    CHECK(v->camera().distance == Approx(start.distance));
    CHECK(w.steps().size() == 8);  // looking changes nothing
    CHECK(!w->controller().history().can_undo());
}

TEST_CASE("clicking a face chooses the part that it came from") {
    Shown w;
    w.demo();
    Viewport* v = w->viewport();
    QTest::mouseClick(v, Qt::LeftButton, {}, v->pixel_of({-50, 0, 6}).toPoint());
    CHECK(w->job_sheet()->chosen_row().part == w.part("mounting ears"));
    QTest::mouseClick(v, Qt::LeftButton, {}, QPoint(8, 300));
    CHECK(w->job_sheet()->chosen_row().part.empty());
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
    CHECK(w.row_of_part(bore).placement().angles.z == 45);
    const std::size_t steps_back = w->controller().history().can_undo();
    type(0, "5 parsecs");
    CHECK(w.position(bore).x == 0);
    CHECK(w->step_panel()->field(0)->property("wrong").toBool());
    CHECK(w->hint_line()->text().contains("did not expect"));
    CHECK(w->controller().history().can_undo() == steps_back);
}

TEST_CASE("the ledger lists kinds with counts, pins their places and steps through them") {
    Shown w;
    w->open_demo_scan();
    w.settle();
    QListWidget* kinds = w->ledger()->kinds();
    CHECK(w->ledger()->verdict().contains("Not print-ready"));
    // What was not found is one line, which unfolds.
    int found = 0;
    for (int k = 0; k < finding_kinds; ++k) found += w->ledger()->inspection()->count(static_cast<FindingKind>(k)) > 0;
    REQUIRE(found < finding_kinds - 1);
    CHECK(kinds->count() == found + 1);
    CHECK(kinds->item(found)->text() == QString("%1 kinds: none").arg(finding_kinds - found));
    QTest::mouseClick(kinds->viewport(), Qt::LeftButton, {}, kinds->visualItemRect(kinds->item(found)).center());
    CHECK(kinds->count() == finding_kinds + 1);
    QTest::mouseClick(kinds->viewport(), Qt::LeftButton, {}, kinds->visualItemRect(kinds->item(found)).center());
    CHECK(kinds->count() == found + 1);
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
    CHECK(w.steps()[6].kind->operation == Operation::intersection);
}

TEST_CASE("long work shows progress and can be stopped; the last result stays") {
    // Two grates laid into each other: little to draw, seconds to work out, on any machine.
    constexpr int bars = 90;
    Mesh along, across;
    for (int i = 0; i < bars; ++i) {
        append(along, make_box({-1, 1.0 * i, 0}, {bars + 1.0, i + 0.5, 0.5}));
        append(across, make_box({1.0 * i, -1, 0.25}, {i + 0.5, bars + 1.0, 0.75}));
    }
    TempFolder folder;
    REQUIRE(write_mesh(along, folder / "along.ply"));
    REQUIRE(write_mesh(across, folder / "across.ply"));
    Shown w;
    w->open_files({q(folder / "along.ply"), q(folder / "across.ply")});
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
    CHECK(w.steps().size() == 1);  // the step is there, and can be tried again or undone
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
    auto lightness = [&] { return w->grab().toImage().pixelColor(5, w->height() / 2).lightness(); };
    const int light = lightness();
    w->action("dark")->setChecked(true);
    w.settle();
    CHECK(saved_theme() == Theme::dark);
    CHECK(lightness() < light - 120);
    const QImage view = w->viewport()->finished_picture();
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
    CHECK(w.steps().size() == 11);
    CHECK(!example->isVisible());
}
