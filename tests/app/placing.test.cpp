// The real window: handles, and tools that put parts somewhere.
#include "app/panels/flush_strip.h"
#include "app/panels/size_panel.h"
#include "core/mesh/measures.h"
#include "tests/app/shown.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A plate as the base, and a peg beside it, seen from the side.
struct Placed : Shown {
    TempFolder folder;
    std::string plate, peg;
    Placed() {
        REQUIRE(write_mesh(make_box({0, 0, 2}, {60, 60, 12}), folder / "plate.ply"));
        REQUIRE(write_mesh(make_box({0, 0, 0}, {4, 6, 20}), folder / "peg.ply"));
        window.open_files({q(folder / "plate.ply"), q(folder / "peg.ply")});
        settle();
        window.unit_strip()->dismiss();
        plate = part("plate");
        peg = part("peg");
        place(peg, [](Placement& p) { p.position = {80, 20, 7}; });
        settle();
        window.choose_part(peg);
        window.viewport()->frame_all();
        settle();
    }
    Placement at() { return row_of_part(peg).placement(); }
};

void type_into(QLineEdit& field, const char* text) {
    field.setFocus();
    field.selectAll();
    QTest::keyClicks(&field, text);
    QTest::keyClick(&field, Qt::Key_Return);
}

}  // namespace

TEST_CASE("dropped, centred and repeated by their tools, each one step of undo with its name") {
    Placed w;
    w->action("drop")->trigger();
    w.settle();
    CHECK(w.at().position == Vec3{80, 20, 2});
    CHECK(QString::fromStdString(w->controller().history().undo_name()) == "drop peg");
    w->action("centre")->trigger();
    w.settle();
    CHECK(w.at().position == Vec3{28, 27, 2});
    w->action("undo")->trigger();
    w->action("undo")->trigger();
    w.settle();
    CHECK(w.at().position == Vec3{80, 20, 7});
    w.key(Qt::Key_U);
    QTest::keyClick(&w.window, Qt::Key_D, Qt::ControlModifier);
    w.settle();
    REQUIRE(w.steps().size() == 2);
    CHECK(!w.part("peg 2").empty());
    CHECK(w.position(w.part("peg 2")).x == 85);
    CHECK(w->job_sheet()->chosen_row().part == w.part("peg 2"));
    // Of the base: over the origin, on z = 0.
    w->choose_part(w.plate);
    w->action("drop")->trigger();
    w->action("centre")->trigger();
    w.settle();
    CHECK(w.row_of_part(w.plate).placement().position == Vec3{-30, -30, -2});
}

TEST_CASE("laid on a face that is clicked, and stood on a face of another part; Esc leaves it") {
    Placed w;
    Viewport* v = w->viewport();
    w->action("lay-flat")->trigger();
    CHECK(w->hint_line()->text().contains("is to lie on the bed"));
    QTest::keyClick(v, Qt::Key_Escape);
    QTest::mouseClick(v, Qt::LeftButton, {}, v->pixel_of({82, 20, 17}).toPoint());
    w.settle();
    CHECK(w.at() == Placement{{80, 20, 7}, {0, 0, 0}});
    // Its front, along -y.
    w->action("lay-flat")->trigger();
    QTest::mouseClick(v, Qt::LeftButton, {}, v->pixel_of({82, 20, 20}).toPoint());
    w.settle();
    CHECK(w.at().angles == Vec3{90, 0, 0});
    const auto [body, stands] = w->controller().body_of(w.row_of_part(w.peg));
    CHECK(bounds(transformed(*body->mesh, stands)).low.z == Approx(2));
    CHECK(bounds(transformed(*body->mesh, stands)).size().z == Approx(6));
    w->action("undo")->trigger();
    w.settle();
    w->action("stand-on")->trigger();
    QTest::mouseClick(v, Qt::LeftButton, {}, v->pixel_of({30, 30, 12}).toPoint());
    w.settle();
    CHECK(w.at().position.z == Approx(12));
    CHECK(std::fabs(w.at().position.x - 30) < 0.5);
    CHECK(w.at().angles == Vec3{0, 0, 0});
}

TEST_CASE("numbers are typed as they are to be, or as by how much they change; once, also when the field is left") {
    Placed w;
    w->choose_part(w.peg);
    w.settle();
    const Placement before = w.at();
    auto type = [&](QLineEdit* field, const char* text) {
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
        w.settle();
        w->viewport()->setFocus();
        w.settle();
    };
    type(w->step_panel()->field(0), "by 5");
    CHECK(w.at().position == before.position + Vec3{5, 0, 0});
    CHECK(w->step_panel()->field(0)->text() == "85 mm");
    type(w->step_panel()->field(5), "by 15");
    type(w->step_panel()->field(5), "by 15");
    CHECK(w.at().angles == Vec3{0, 0, 30});
    type(w->step_panel()->field(5), "10");
    CHECK(w.at().angles == Vec3{0, 0, 10});
    type(w->step_panel()->field(1), "by x");
    CHECK(w.at().position.y == before.position.y);
}

TEST_CASE("the arc of an axis rotates by whole degrees about the part's middle, in one step of undo") {
    Placed w;
    Viewport* v = w->viewport();
    const auto knob = v->rotate_handle(2);
    REQUIRE(knob);
    const Vec3 middle = v->chosen_middle();
    w.drag(knob->toPoint(), knob->toPoint() + QPoint(-40, -14));
    w.settle();
    const double turned = w.at().angles.z;
    CHECK(turned != 0);
    CHECK(turned == std::round(turned));
    CHECK(w.at().angles.x == 0);
    CHECK(norm(v->chosen_middle() - middle) < 1e-9);
    CHECK(QString::fromStdString(w->controller().history().undo_name()) == "rotate peg");
    w->action("undo")->trigger();
    w.settle();
    CHECK(w.at() == Placement{{80, 20, 7}, {0, 0, 0}});
}

TEST_CASE("the lozenges of a shape set its measures, live, in one step of undo") {
    Shown w;
    w->action("shape-box")->trigger();
    w.settle();
    w->viewport()->frame_all();
    w.settle();
    const auto top = w->viewport()->measure_handle("z"), side = w->viewport()->measure_handle("x");
    REQUIRE(top);
    REQUIRE(side);
    CHECK(!w->viewport()->measure_handle("edge_radius"));
    QMouseEvent over(QEvent::MouseMove, *top, w->viewport()->mapToGlobal(*top), Qt::NoButton, Qt::NoButton, {});
    QApplication::sendEvent(w->viewport(), &over);
    INFO(w->hint_line()->text().toStdString());
    CHECK(w->hint_line()->text().contains("height: 20 mm"));
    w.drag(top->toPoint(), top->toPoint() + QPoint(0, -80));
    w.settle();
    const auto height = [&] {
        const auto& values = std::get<Shape>(w.job().find_part(w.base())->source).values;
        const auto at = values.find("z");
        return at == values.end() ? 20.0 : std::get<double>(at->second);
    };
    CHECK(height() > 22);
    CHECK(std::fabs(height() * 10 - std::round(height() * 10)) < 1e-9);  // in steps that can be read
    CHECK(w.volume() == Approx(400 * height()));
    w->action("undo")->trigger();
    w.settle();
    CHECK(height() == 20);
    CHECK(!w->controller().history().redo_name().empty());
}

TEST_CASE("the size of a part is typed: in proportion or along one axis; what its numbers are meant in is said later") {
    TempFolder folder;
    Shown w;
    REQUIRE(write_mesh(make_box({0, 0, 0}, {1, 2, 4}), folder / "inches.stl"));
    w->open_files({q(folder / "inches.stl")});
    w.settle();
    w->unit_strip()->dismiss();
    SizePanel* panel = w->step_panel()->size_panel();
    REQUIRE(panel->isVisible());
    auto sizes = [&] {
        w.settle();
        return bounds(w->controller().outcome()->evaluation->combined->mesh).size();
    };
    auto type_size = [&](int axis, const char* text) { type_into(*panel->size_field(axis), text); };
    REQUIRE(panel->units()->isVisible());
    panel->units()->setCurrentIndex(3);
    Q_EMIT panel->units()->activated(3);  // inches
    CHECK(sizes().z == Approx(4 * 25.4));
    CHECK(panel->size_field(2)->text() == "101.6 mm");
    type_size(2, "85");
    CHECK(sizes().z == Approx(85));
    CHECK(sizes().x == Approx(85.0 / 4));
    QTest::mouseClick(panel->evenly(), Qt::LeftButton, {}, {8, panel->evenly()->height() / 2});
    type_size(0, "1in+4.6");
    CHECK(sizes().x == Approx(30));
    CHECK(sizes().z == Approx(85));
    CHECK(QString::fromStdString(w->controller().history().undo_name()) == "scale inches");
    CHECK(w.job().find_part(w.base())->steps.size() == 1);
    type_size(0, "0");
    CHECK(w->hint_line()->text().contains("more than 0"));
    CHECK(sizes().x == Approx(30));
}

TEST_CASE("the base moved by its bar takes its steps along, an unlinked one stays; it is written where it stands") {
    Placed w;
    w.place(w.peg, [](Placement& p) { p.position = {20, 20, -2}; });
    w.settle();
    w->choose_part(w.peg);
    w.key(Qt::Key_D);
    const double volume = w.volume();
    CHECK(volume == Approx(60 * 60 * 10 - 4 * 6 * 10));
    QCheckBox* along = w->step_panel()->goes_along();
    REQUIRE(along->isVisible());
    CHECK(along->isChecked());
    w->choose_part(w.plate);
    CHECK(!along->isVisible());
    type_into(*w->step_panel()->field(0), "100");
    type_into(*w->step_panel()->field(5), "30");
    w.settle();
    CHECK(w.volume() == Approx(volume).epsilon(1e-12));
    CHECK(w.row_of_part(w.peg).placement().position == Vec3{20, 20, -2});  // as told from the base
    w->choose_part(w.peg);
    const Box room = bounds(transformed(make_box({0, 0, 2}, {60, 60, 12}), w->controller().result_stands()));
    CHECK(norm(w->controller().inspection()->measures.bounds.size() - room.size()) < 1e-9);
    // The cutter is where it shows: a click there chooses it.
    const Transform there = w->controller().result_stands();
    w->viewport()->frame_all();
    w.settle();
    w->choose_part(w.plate);
    QTest::mouseClick(w->viewport(), Qt::LeftButton, {},
                      w->viewport()->pixel_of(apply(there, Vec3{5, 5, 12})).toPoint());
    w.settle();
    CHECK(w->job_sheet()->chosen_row().part == w.plate);
    w->controller().deliver(q(w.folder / "moved.ply"));
    w.settle();
    const auto written = read_mesh(w.folder / "moved.ply");
    REQUIRE(written);
    CHECK(signed_volume(*written) == Approx(volume).epsilon(1e-12));
    CHECK(norm(bounds(*written).low - bounds(transformed(make_box({0, 0, 2}, {60, 60, 12}), there)).low) < 1e-9);
    // Unlinked it stays where it is in the job.
    w->choose_part(w.peg);
    const Vec3 foot = apply(Transform(there * w.row_of_part(w.peg).placement().transform()), Vec3{});
    QTest::mouseClick(along, Qt::LeftButton, {}, {8, along->height() / 2});
    w.settle();
    CHECK(!along->isChecked());
    w->choose_part(w.plate);
    type_into(*w->step_panel()->field(0), "90");
    w.settle();
    const Row peg = w.row_of_part(w.peg);
    CHECK(norm(apply(Transform(peg.frame * peg.placement().transform()), Vec3{}) - foot) < 1e-9);
    while (w->controller().history().can_undo()) w->controller().undo();
    w.settle();
}

TEST_CASE("squares scale a part, along one side or all together, about the ring; one step of undo each") {
    Placed w;
    const auto size = [&] {
        w.settle();
        const auto [body, stands] = w->controller().body_of(w.row_of_part(w.peg));
        return bounds(transformed(*body->mesh, stands));
    };
    Viewport* view = w->viewport();
    const Box before = size();
    REQUIRE(view->scale_handle(0));
    const QPoint x = view->scale_handle(0)->toPoint();
    const QPointF away = view->pixel_of({0, 0, 0}) - view->pixel_of({10, 0, 0});  // on the screen, 10 mm along -x
    w.drag(x, x + (away * 0.2).toPoint());
    const Box wider = size();
    CHECK(wider.size().x > before.size().x + 1);
    CHECK(wider.size().x == Approx(std::round(wider.size().x * 10) / 10).margin(1e-9));  // a round number
    CHECK(wider.size().y == Approx(before.size().y));
    CHECK(wider.center().x == Approx(before.center().x));
    CHECK(QString::fromStdString(w->controller().history().undo_name()) == "scale peg");
    w->action("undo")->trigger();
    CHECK(size().size() == before.size());
    const QPoint all = view->scale_handle(3)->toPoint();
    const QPointF out = view->pixel_of(before.low) - view->pixel_of(before.high);
    w.drag(all, all + (out * 0.5).toPoint());
    const Vec3 larger = size().size();
    CHECK(larger.x / before.size().x == Approx(larger.z / before.size().z));
    CHECK(larger.x > 1.3 * before.size().x);
    w->action("undo")->trigger();
    w.settle();
    // A shape has lozenges for its measures instead.
    w->action("shape-box")->trigger();
    w.settle();
    CHECK(!view->scale_handle(0));
}

TEST_CASE(
    "about a pivot that is put on a corner: rotated by the arc and by typed angles, scaled; and back to the middle") {
    Placed w;
    Viewport* view = w->viewport();
    w.look(-35, 55);
    const Vec3 corner{84, 20, 27};  // of the peg, on top
    w->action("pivot")->trigger();
    QTest::mouseClick(view, Qt::LeftButton, {}, view->pixel_of(corner).toPoint() + QPoint(-2, 2));
    w.settle();
    REQUIRE(view->has_pivot());
    CHECK(norm(view->pivot() - corner) < 1e-9);
    auto corner_now = [&] {
        w.settle();
        return apply(w.row_of_part(w.peg).placement().transform(), Vec3{4, 0, 20});
    };
    type_into(*w->step_panel()->field(5), "90");
    CHECK(norm(corner_now() - corner) < 1e-9);
    CHECK(w.at().angles == Vec3{0, 0, 90});
    REQUIRE(view->rotate_handle(2));
    const QPoint arc = view->rotate_handle(2)->toPoint();
    w.drag(arc, arc + QPoint(25, 12));
    CHECK(w.at().angles.z != 90);
    CHECK(norm(corner_now() - corner) < 1e-9);
    CHECK(norm(view->pivot() - corner) < 1e-9);
    w->action("pivot-middle")->trigger();
    CHECK(!view->has_pivot());
    CHECK(norm(view->pivot() - view->chosen_middle()) < 1e-9);
}

TEST_CASE("a face laid against another, and so far off it as typed; then the next part asks for nothing") {
    Placed w;
    Viewport* view = w->viewport();
    w.look(-35, 30);
    w->action("flush")->trigger();
    CHECK(w->hint_line()->text().contains("face of"));
    // The peg's side that looks along -y, then the plate's top.
    QTest::mouseClick(view, Qt::LeftButton, {}, view->pixel_of({82, 20, 17}).toPoint());
    CHECK(w->hint_line()->text().contains("is to lie against"));
    QTest::mouseClick(view, Qt::LeftButton, {}, view->pixel_of({45, 15, 12}).toPoint());
    w.settle();
    FlushStrip* strip = w->flush_strip();
    REQUIRE(strip->isVisible());
    auto lowest = [&] {
        w.settle();
        const auto [body, stands] = w->controller().body_of(w.row_of_part(w.peg));
        return bounds(transformed(*body->mesh, stands)).low.z;
    };
    CHECK(lowest() == 12);  // to the bit: it touches
    type_into(*strip->field(), "1.5");
    CHECK(lowest() == 13.5);
    type_into(*strip->field(), "-2");
    CHECK(lowest() == 10);
    CHECK(QString::fromStdString(w->controller().history().undo_name()) == "lay peg against a face");
    w->action("undo")->trigger();
    CHECK(lowest() == 7);
    w->choose_part(w.plate);
    CHECK(!strip->isVisible());
}

TEST_CASE("with Ctrl a bar snaps a face into the plane of another part's face, and says of which") {
    Placed w;
    Viewport* view = w->viewport();
    w.look(-35, 20);
    const QPointF middle = view->pixel_of(view->chosen_middle());
    const QPointF up = (view->pixel_of(view->chosen_middle() + Vec3{0, 0, 10}) - middle) / 10;  // pixels for 1 mm
    const QPoint from = (middle + up * (60 / std::hypot(up.x(), up.y()))).toPoint();
    QString said;
    QObject::connect(view, &Viewport::hint, [&](const QString& text) { said = text; });
    QTest::mousePress(view, Qt::LeftButton, Qt::ControlModifier, from);
    // Its foot is at 7; the plate's top is 12. To 11.6 or so: it goes on to 12.
    for (int k = 1; k <= 4; ++k) {
        const QPointF to = QPointF(from) + up * (4.6 * k / 4);
        QTest::qSleep(30);  // what is dragged is not moved more often
        QMouseEvent move(QEvent::MouseMove, to, view->mapToGlobal(to), Qt::NoButton, Qt::LeftButton,
                         Qt::ControlModifier);
        QApplication::sendEvent(view, &move);
    }
    const QString snapped = said;
    QTest::mouseRelease(view, Qt::LeftButton, Qt::ControlModifier, (QPointF(from) + up * 4.6).toPoint());
    w.settle();
    CHECK(snapped.contains("plate"));
    CHECK(w.at().position.z == 12);
}
