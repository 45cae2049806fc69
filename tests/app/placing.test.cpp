// The real window: handles, and tools that put parts somewhere.
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
    CHECK(w->hint_line()->text().contains("shall lie on the bed"));
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
    auto type_size = [&](int axis, const char* text) {
        panel->size_field(axis)->setFocus();
        panel->size_field(axis)->selectAll();
        QTest::keyClicks(panel->size_field(axis), text);
        QTest::keyClick(panel->size_field(axis), Qt::Key_Return);
    };
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
