// The real window: the route of stations with its drawers, and shapes.
#include "app/panels/route.h"

#include <QComboBox>
#include <QLineEdit>
#include <QPlainTextEdit>

#include "app/panels/copies_panel.h"
#include "app/panels/drawer.h"
#include "app/panels/hand_strip.h"
#include "app/panels/shape_panel.h"
#include "app/panels/size_panel.h"
#include "core/job/new_shape.h"
#include "tests/app/shown.h"

using namespace anvil;
using namespace anvil::test;

namespace {

Tile* tile(Shown& w, const char* station, const QString& name) {
    QTest::mouseClick(w->route()->station_button(station), Qt::LeftButton);
    for (Tile* t : w->route()->drawer()->tiles())
        if (t->tool()->text() == name) return t;
    return nullptr;
}
void take(Shown& w, const char* station, const QString& name) {
    Tile* t = tile(w, station, name);
    REQUIRE(t);
    REQUIRE(t->isEnabled());
    QTest::mouseClick(t, Qt::LeftButton);
    w.settle();
}
void type(Shown& w, QWidget* field, const char* text) {
    auto* edit = qobject_cast<QLineEdit*>(field);
    REQUIRE(edit);
    edit->setFocus();
    edit->selectAll();
    QTest::keyClicks(edit, text);
    QTest::keyClick(edit, Qt::Key_Return);
    w.settle();
}
std::string shape(Shown& w, const std::string& name) {
    for (const auto& p : w.job().parts)
        if (p->name == name && std::holds_alternative<Shape>(p->source)) return p->id;
    return {};
}

}  // namespace

TEST_CASE("a station opens its drawer, which a tool, Esc and a click elsewhere close; a pin keeps it open") {
    Shown w;
    w.demo();
    Drawer* drawer = w->route()->drawer();
    CHECK(!drawer->isVisible());
    REQUIRE(tile(w, "Mend", "Mend all"));
    CHECK(drawer->isVisible());
    CHECK(w->route()->station_button("Mend")->isChecked());
    REQUIRE(tile(w, "Deliver", "Export"));
    CHECK(drawer->isVisible());
    CHECK(!w->route()->station_button("Mend")->isChecked());
    QTest::keyClick(drawer, Qt::Key_Escape);
    CHECK(!drawer->isVisible());
    QTest::keyClick(&w.window, Qt::Key_2, Qt::AltModifier);
    QTest::qWait(250);  // a button that is pressed by its key stays down for a moment
    CHECK(drawer->isVisible());
    CHECK(drawer->tiles().front()->hasFocus());
    QTest::keyClick(drawer->tiles().front(), Qt::Key_Right);
    CHECK(drawer->tiles()[1]->hasFocus());
    QTest::mouseClick(w->viewport(), Qt::LeftButton, {}, {40, 400});
    CHECK(!drawer->isVisible());
    REQUIRE(tile(w, "Finish", "Mirror"));
    drawer->set_pinned(true);
    const int view = w->viewport()->height();
    QTest::mouseClick(w->viewport(), Qt::LeftButton, {}, {40, 400});
    QApplication::processEvents();
    CHECK(drawer->isVisible());
    CHECK(w->viewport()->height() < 800 - drawer->height());
    drawer->set_pinned(false);
    QApplication::processEvents();
    CHECK(w->viewport()->height() > view - 1);
}

TEST_CASE("every tool of a drawer has a name, half a sentence, a drawing, and room for its words") {
    Shown w;
    w.demo();
    w->choose_part(w.part("gland bore"));
    std::set<QString> seen;
    const std::set<QString> both{"Split", "Scribe", "Trim outside", "Trim inside"};
    for (const char* station : {"Bring in", "Shapes", "Combine", "Cut", "Mend", "Finish", "Deliver"}) {
        QTest::mouseClick(w->route()->station_button(station), Qt::LeftButton);
        REQUIRE(!w->route()->drawer()->tiles().empty());
        for (const Tile* t : w->route()->drawer()->tiles()) {
            if (t->tool()->text().startsWith("Test")) continue;  // kinds of the tests' own
            INFO(t->tool()->text().toStdString());
            // What combines and cuts stands in both of these drawers.
            const bool cuts_too = std::string(station) == "Cut" && both.contains(t->tool()->text());
            CHECK((seen.insert(t->tool()->text()).second || cuts_too));
            CHECK(!t->tool()->statusTip().isEmpty());
            CHECK(QFile::exists(":/drawings/" + t->tool()->property("drawing").toString() + ".svg"));
            CHECK(t->accessibleName() == t->tool()->text());
            CHECK(w.window.rect().contains(QRect(t->mapTo(&w.window, QPoint(0, 0)), t->size())));
            // Two lines of what it does.
            QFont small = t->font();
            small.setPixelSize(12);
            const QFontMetrics metrics(small);
            const int room = t->width() - 60 - 20;
            CHECK(metrics.boundingRect(QRect(0, 0, room, 500), Qt::TextWordWrap, t->tool()->statusTip()).height() <=
                  2 * metrics.lineSpacing());
        }
        w->route()->close();
    }
}

TEST_CASE("the route drops its words before its icons where there is no room") {
    Shown w;
    const QToolButton* shapes = w->route()->station_button("Shapes");
    CHECK(shapes->toolButtonStyle() == Qt::ToolButtonTextUnderIcon);
    w.window.resize(900, 700);
    QApplication::processEvents();
    CHECK(w.window.width() == 900);
    CHECK(shapes->toolButtonStyle() == Qt::ToolButtonIconOnly);
    CHECK(!shapes->icon().isNull());
    w.window.resize(1280, 700);
    QApplication::processEvents();
    CHECK(shapes->toolButtonStyle() == Qt::ToolButtonTextUnderIcon);
}

TEST_CASE("from an empty bench to a drilled block: shapes by mouse and keys, their numbers typed, undone by name") {
    Shown w;
    take(w, "Shapes", "Box");
    CHECK(w.base() == shape(w, "box"));
    CHECK(w.volume() == Approx(8000));
    type(w, w->step_panel()->shape()->editor("x"), "2in");
    CHECK(w.volume() == Approx(50.8 * 20 * 20));
    CHECK(QString::fromStdString(w->controller().history().undo_name()) == "box: length");
    take(w, "Shapes", "Cylinder");
    const std::string bore = shape(w, "cylinder");
    REQUIRE(!bore.empty());
    CHECK(w->step_panel()->shape()->isVisible());
    CHECK(w.volume() == Approx(50.8 * 20 * 20));  // it waits
    w.place(bore, [](Placement& p) { p = {{0, 0, -10}, {}}; });
    type(w, w->step_panel()->shape()->editor("height"), "40");
    w.key(Qt::Key_D);
    const double drilled = w.volume();
    CHECK(drilled < 50.8 * 20 * 20 - 1500);
    type(w, w->step_panel()->shape()->editor("diameter"), "6");
    CHECK(w.volume() > drilled);
    w->action("undo")->trigger();
    w.settle();
    CHECK(w.volume() == Approx(drilled));
    // Nothing is lost to a number that cannot be.
    type(w, w->step_panel()->shape()->editor("diameter"), "-6");
    CHECK(w.volume() == Approx(drilled));
    CHECK(w->hint_line()->text().contains("below"));
}

TEST_CASE("a new shape stands on the body under the pointer, a third as large, and is named apart") {
    Shown w;
    TempFolder folder;
    REQUIRE(write_mesh(make_box({-100, -100, 0}, {100, 100, 200}), folder / "block.ply"));
    w->open_files({q(folder / "block.ply")});
    w.settle();
    // From above, the middle of the view is the top of the block.
    Camera above = w->viewport()->camera();
    above.tilt = 89;
    w->viewport()->set_camera(above);
    QTest::mouseMove(w->route(), {5, 5});
    take(w, "Shapes", "Cylinder");
    const std::string first = shape(w, "cylinder");
    CHECK(w.position(first).z == 200);  // on the face itself: it cuts no skin off it
    CHECK(std::get<double>(std::get<Shape>(w.job().find_part(first)->source).values.at("height")) == 100);
    take(w, "Shapes", "Cylinder");
    CHECK(!shape(w, "cylinder 2").empty());
}

TEST_CASE(
    "a shape whose numbers do not go together says why in its panel, and exporting is refused until it is set right") {
    Shown w;
    take(w, "Shapes", "Tube");
    type(w, w->step_panel()->shape()->editor("inner"), "30");
    CHECK(w->step_panel()->shape()->said().contains("smaller than the outer one"));
    type(w, w->step_panel()->shape()->editor("outer"), "40");
    CHECK(w->step_panel()->shape()->said().isEmpty());
    CHECK(w.volume() > 1000);
}

TEST_CASE("copies: made from the drawer or the panel, set by their fields, drawn, and taken back") {
    Shown w;
    take(w, "Shapes", "Box");
    take(w, "Shapes", "Cylinder");
    const std::string bore = shape(w, "cylinder");
    w.place(bore, [](Placement& p) { p = {{-6, 0, -1}, {}}; });
    type(w, w->step_panel()->shape()->editor("diameter"), "2");
    type(w, w->step_panel()->shape()->editor("height"), "30");
    CopiesPanel* copies = w->step_panel()->copies();
    CHECK(!copies->isVisible());  // it waits: nothing uses it yet
    w.key(Qt::Key_D);
    const double one = 8000 - w.volume();
    CHECK(copies->isVisible());
    take(w, "Combine", "In rows");
    type(w, copies->editor("x"), "6");
    CHECK(8000 - w.volume() == Approx(3 * one));
    CHECK(QString::fromStdString(w->controller().history().undo_name()) == "cylinder: x spacing");
    const Row row = w.steps().front();
    CHECK(w->controller().body_of(row).ready->mesh->faces.size() ==
          3 * w->controller().outcome()->given.at(bore)->triangles);
    // From the panel, by keys.
    copies->kinds()->setFocus();
    QTest::keyClick(copies->kinds(), Qt::Key_Down);
    w.settle();
    CHECK(w.steps().front().step->operand->copies->kind == "round");
    CHECK(8000 - w.volume() == Approx(6 * one));
    w->action("undo")->trigger();
    w.settle();
    CHECK(8000 - w.volume() == Approx(3 * one));
    copies->copy("");
    w.settle();
    CHECK(8000 - w.volume() == Approx(one));
}

TEST_CASE("a profile takes its outline from a file; one that is none says which line, and undo takes it back") {
    Shown w;
    TempFolder folder;
    write_bytes(folder / "plate.txt", "0 0\n30 0\n30 20\n0 20\n");
    write_bytes(folder / "bad.txt", "0 0\n30 zero\n");
    take(w, "Shapes", "Profile");
    auto* fields = w->step_panel()->shape()->findChild<FieldEditors*>();
    REQUIRE(fields);
    const Field& outline = *find_shape("profile")->find_field("outline");
    fields->take_file(outline, q(folder / "plate.txt"));
    w.settle();
    CHECK(w.volume() == Approx(6000));
    fields->take_file(outline, q(folder / "none.txt"));
    CHECK(w->hint_line()->text().contains("none.txt"));
    fields->take_file(outline, q(folder / "bad.txt"));
    w.settle();
    CHECK(w->step_panel()->shape()->said().contains("ine 2: a line of an outline is a point"));
    w->action("undo")->trigger();
    w.settle();
    CHECK(w.volume() == Approx(6000));
}

TEST_CASE("text is set while it is typed, in a font from a list; all that is typed in one go is one change") {
    Shown w;
    take(w, "Shapes", "Text");
    ShapePanel* panel = w->step_panel()->shape();
    auto* edit = qobject_cast<QPlainTextEdit*>(panel->editor("text"));
    REQUIRE(edit);
    CHECK(edit->toPlainText() == "Text");
    edit->setFocus();
    edit->selectAll();
    QTest::keyClicks(edit, "Buoy 8");
    QTest::keyClick(edit, Qt::Key_Return);
    QTest::keyClicks(edit, "II");
    w.settle();
    const Part* part = w.job().find_part(shape(w, "text"));
    CHECK(std::get<std::string>(std::get<Shape>(part->source).values.at("text")) == "Buoy 8\nII");
    const double two_lines = w.volume();
    auto* fonts = qobject_cast<QComboBox*>(panel->editor("font"));
    REQUIRE(fonts);
    CHECK(fonts->findText("Lato") >= 0);
    fonts->lineEdit()->selectAll();
    QTest::keyClicks(fonts->lineEdit(), "No Such Font");
    QTest::keyClick(fonts->lineEdit(), Qt::Key_Return);
    w.settle();
    CHECK(panel->said().contains("\"No Such Font\" is not installed here"));
    w->action("undo")->trigger();
    w.settle();
    CHECK(panel->said().isEmpty());
    CHECK(w.volume() == two_lines);
    w->action("undo")->trigger();
    w.settle();
    CHECK(edit->toPlainText() == "Text");
}

TEST_CASE("a thread is chosen by its size; the diameter is asked for only where that is another one") {
    Shown w;
    take(w, "Shapes", "Thread");
    ShapePanel* panel = w->step_panel()->shape();
    CHECK(!panel->editor("diameter")->isVisible());
    CHECK(panel->editor("pitch")->isVisible());
    auto* size = qobject_cast<QComboBox*>(panel->editor("size"));
    REQUIRE(size);
    const double m10 = w.volume();
    size->setFocus();
    QTest::keyClick(size, Qt::Key_End);
    w.settle();
    CHECK(panel->editor("diameter")->isVisible());
    CHECK(panel->said().contains("needs a pitch"));
    type(w, panel->editor("pitch"), "1.5");
    CHECK(panel->said().isEmpty());
    CHECK(w.volume() == Approx(m10));
    // A small body leaves the clearance as it is.
    CHECK(!values_for_size(*find_shape("thread"), 6).contains("clearance"));
    CHECK(values_for_size(*find_shape("thread"), 6).contains("length"));
}

TEST_CASE("copies along edges: a click takes the whole rim, the copies stand round it and follow the bore") {
    TempFolder folder;
    Shown w;
    REQUIRE(write_mesh(make_box({0, 0, 0}, {60, 60, 6}), folder / "plate.ply"));
    REQUIRE(write_mesh(make_box({-1, -1, -1}, {1, 1, 3}), folder / "peg.ply"));
    w->open_files({q(folder / "plate.ply")});
    w.settle();
    w->unit_strip()->dismiss();
    w->action("shape-cylinder")->trigger();
    w.settle();
    const std::string bore = w->job_sheet()->chosen_row().part;
    Job job = w.job();
    edit_part(job, bore, [](Part& p) { p.bench = {{30, 30, -5}, {}}; });
    w->controller().change(job, "place");
    w.key(Qt::Key_D);
    w->open_files({q(folder / "peg.ply")});
    w.settle();
    w.place(w.part("peg"), [](Placement& p) { p.position = {10, 10, 6}; });
    w->choose_part(w.part("peg"));
    w.key(Qt::Key_U);
    w->action("copies-along")->trigger();
    w.settle();
    const RowId row = w->job_sheet()->chosen_row();
    CHECK(w->controller().row_error(*w->controller().row(row)));  // no edges yet
    CHECK(w->step_panel()->minimumSizeHint().width() <= 300);
    auto* select = w->step_panel()->copies()->editor("edges")->findChild<QPushButton*>();
    REQUIRE(select);
    Viewport* view = w->viewport();
    w.look(0, 60);
    QTest::mouseClick(select, Qt::LeftButton);
    w.settle();
    REQUIRE(w->hand_strip()->isVisible());
    // At the rim's far side, a hair outside of it.
    QTest::mouseClick(view, Qt::LeftButton, {}, view->pixel_of({30, 35.2, 6}).toPoint());
    w.settle();
    QToolButton* take = w->hand_strip()->button("take");
    REQUIRE(take->isEnabled());
    QTest::mouseClick(take, Qt::LeftButton);
    w.settle();
    CHECK(!w->hand_strip()->isVisible());
    CHECK(!w->controller().row_error(*w->controller().row(row)));
    const auto all = w->controller().outcome()->copies.find(row.step());
    REQUIRE(all != w->controller().outcome()->copies.end());
    CHECK(all->second.mesh->faces.size() == 6 * 12);
    CHECK(bounds(*all->second.mesh).center().x == Approx(30).margin(0.5));
    CHECK(bounds(*all->second.mesh).size().x < 16);
    w.place(bore, [](Placement& p) { p.position = {20, 40, -5}; });
    w.settle();
    const auto moved = w->controller().outcome()->copies.find(row.step());
    REQUIRE(moved != w->controller().outcome()->copies.end());
    CHECK(bounds(*moved->second.mesh).center().x == Approx(20).margin(0.5));
    CHECK(bounds(*moved->second.mesh).center().y == Approx(40).margin(0.5));
}

TEST_CASE("a half space cuts the body; what would make it a body is not offered") {
    TempFolder folder;
    Shown w;
    REQUIRE(write_mesh(make_box({0, 0, 0}, {60, 60, 60}), folder / "block.ply"));
    w->open_files({q(folder / "block.ply")});
    w.settle();
    w->unit_strip()->dismiss();
    w->action("shape-half-space")->trigger();
    w.settle();
    const std::string half = w->job_sheet()->chosen_row().part;
    CHECK(!w->step_panel()->size_panel()->isVisible());
    Job job = w.job();
    edit_part(job, half, [](Part& p) { p.bench = {{0, 0, 45}, {}}; });
    w->controller().change(job, "place");
    w.key(Qt::Key_D);
    CHECK(w.volume() == Approx(60.0 * 60 * 45));
    w.key(Qt::Key_U);
    CHECK(w->hint_line()->text().contains("has no end"));
    w.key(Qt::Key_I);
    CHECK(w.volume() == Approx(60.0 * 60 * 15));
}
