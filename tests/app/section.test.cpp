// The real window: a section through the view.
#include <QSlider>

#include "app/panels/spread_row.h"
#include "core/mesh/measures.h"
#include "tests/app/shown.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A box of 20 in which a box of 10 is hollow, and in that a pin that waits on the bench.
struct Hollow {
    TempFolder folder;
    Shown w;
    std::string pin;
    Hollow() {
        Mesh body = make_box({-10, -10, 0}, {10, 10, 20});
        Mesh room = make_box({-5, -5, 5}, {5, 5, 15});
        for (auto& f : room.faces) std::swap(f[1], f[2]);
        append(body, room);
        REQUIRE(write_mesh(body, folder / "body.ply"));
        REQUIRE(write_mesh(make_box({-1, -1, 6}, {1, 1, 14}), folder / "pin.ply"));
        w->open_files({q(folder / "body.ply"), q(folder / "pin.ply")});
        w.settle();
        w->unit_strip()->dismiss();
        pin = w.part("pin");
        w->choose_part(w.base());
        Camera front = w->viewport()->camera();
        front.turn = 0;
        front.tilt = 0;
        w->viewport()->set_camera(front);
        w->viewport()->frame_all();
        w.settle();
    }
    QImage picture() {
        w.settle();
        return w->viewport()->finished_picture();
    }
    QPoint middle(const Vec3& at) { return w->viewport()->pixel_of(at).toPoint(); }
};

}  // namespace

TEST_CASE("a section shows the inside, filled and hatched, and changes nothing; what it hides is not clicked") {
    Hollow h;
    Viewport* view = h.w->viewport();
    const QPoint at_pin = h.middle({0, -1, 10}), at_wall = h.middle({7.5, 0, 10});
    const QImage whole = h.picture();
    QTest::mouseClick(view, Qt::LeftButton, {}, at_pin);
    h.w.settle();
    CHECK(h.w->job_sheet()->chosen_row().part == h.w.base());
    h.w.key(Qt::Key_E);
    REQUIRE(view->section());
    CHECK(h.w->action("section")->isChecked());
    CHECK(view->section()->normal == Vec3{0, -1, 0});  // towards the eye
    CHECK(view->section()->origin.y == Approx(0));
    const QImage cut = h.picture();
    CHECK(cut != whole);
    // The wall is a filled, hatched face: two colours, neither of them the body's.
    std::set<QRgb> colours;
    for (int k = -6; k <= 6; ++k) colours.insert(cut.pixel(at_wall + QPoint(k, 0)));
    CHECK(colours.size() > 1);
    CHECK(!colours.contains(whole.pixel(at_wall)));
    // In the hollow the pin is met.
    QTest::mouseClick(view, Qt::LeftButton, {}, at_pin);
    h.w.settle();
    CHECK(h.w->job_sheet()->chosen_row().part == h.pin);
    CHECK(h.w->controller().history().undo_name() == "bring in 2 meshes");
    h.w->choose_part(h.w.base());
    h.w.key(Qt::Key_E);
    CHECK(!view->section());
    CHECK(!h.w->action("section")->isChecked());
    CHECK(h.picture() == whole);
}

TEST_CASE("the section's handle moves it along its normal; its menu turns it and shows the other side") {
    Hollow h;
    Viewport* view = h.w->viewport();
    Camera aside = view->camera();
    aside.turn = -40;
    aside.tilt = 25;
    view->set_camera(aside);
    h.w->action("section-y")->trigger();
    h.w.settle();
    REQUIRE(view->section_handle());
    const Vec3 before = view->section()->origin;
    const QPoint from = view->section_handle()->toPoint();
    const QPoint along = h.middle(before + Vec3{0, -8, 0}) - h.middle(before);
    h.w.drag(from, from + along);
    CHECK(view->section()->origin.y == Approx(before.y - 8).margin(1));
    CHECK(h.w->controller().history().undo_name() == "bring in 2 meshes");
    const QImage one = h.picture();
    h.w->action("section-flip")->trigger();
    CHECK(view->section()->normal == Vec3{0, 1, 0});
    CHECK(h.picture() != one);
    h.w->action("section-z")->trigger();
    CHECK(view->section()->normal == Vec3{0, 0, 1});
    h.w->action("section-view")->trigger();
    CHECK(norm(view->section()->normal + view->camera().direction()) < 1e-12);
    // It stays where one body is shown alone.
    h.w->action("treat-mirror")->trigger();
    h.w.settle();
    CHECK(view->section_handle());
    h.w->action("section")->trigger();
    CHECK(!view->section());
}

TEST_CASE("the pieces of a split are spread by a slider: a look only; in a section each is hatched by itself") {
    Hollow h;
    QSlider* slider = h.w->spread_row()->slider();
    CHECK(!slider->isVisible());
    h.w.split_by_sheet();
    REQUIRE(h.w->controller().outcome()->pieces.size() == 2);
    REQUIRE(slider->isVisible());
    const QImage together = h.picture();
    slider->setFocus();
    QTest::keyClick(slider, Qt::Key_End);
    CHECK(h.w->viewport()->spread() == Approx(2));
    CHECK(h.picture() != together);
    CHECK(h.w->controller().history().undo_name() == "split by a plane");
    QTest::keyClick(slider, Qt::Key_Home);
    CHECK(h.picture() == together);
    h.w->controller().undo();
    h.w.settle();
    CHECK(!slider->isVisible());
}
