// The real window: links, copies that follow again, pieces as parts, several results, groups.
#include "core/job/links.h"
#include <QMenu>

#include "app/panels/field_panel.h"
#include "app/panels/link_panel.h"
#include "core/job/groups.h"
#include "tests/app/shown.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// A block of 40 by 40 by 10 with two bores of 4 by 4, brought in and taken away by keys.
struct Bored {
    TempFolder folder;
    Shown w;
    std::string bore, second;
    Bored() {
        REQUIRE(write_mesh(make_box({0, 0, 0}, {40, 40, 10}), folder / "block.ply"));
        REQUIRE(write_mesh(make_box({5, 5, -1}, {9, 9, 11}), folder / "bore.ply"));
        REQUIRE(write_mesh(make_box({25, 5, -1}, {29, 9, 11}), folder / "pin.ply"));
        w->open_files({q(folder / "block.ply"), q(folder / "bore.ply"), q(folder / "pin.ply")});
        w.settle();
        bore = w.part("bore");
        second = w.part("pin");
        for (const std::string& part : {bore, second}) {
            choose({{}, {part}});
            w.key(Qt::Key_D);
        }
        REQUIRE(w.volume() == Approx(16000 - 320));
    }
    void choose(const RowId& row) {
        JobSheet* sheet = w->job_sheet();
        const int at = sheet->model()->row_of(row);
        REQUIRE(at >= 0);
        QTest::mouseClick(sheet->view()->viewport(), Qt::LeftButton, {},
                          sheet->view()->visualRect(sheet->model()->index(at, 0)).center() - QPoint(40, 0));
        w.settle();
    }
    void choose_step(std::size_t k) { choose(w.steps()[k].id); }
    void also_choose(const RowId& row) {
        JobSheet* sheet = w->job_sheet();
        QTest::mouseClick(
            sheet->view()->viewport(), Qt::LeftButton, Qt::ControlModifier,
            sheet->view()->visualRect(sheet->model()->index(sheet->model()->row_of(row), 0)).center() - QPoint(40, 0));
        w.settle();
    }
    void run(const char* action) {
        REQUIRE(w->action(action)->isEnabled());
        w->action(action)->trigger();
        w.settle();
    }
    LinkPanel* panel() { return w->step_panel()->link(); }
    void click(QAbstractButton* button) {
        REQUIRE(button->isVisible());
        QTest::mouseClick(button, Qt::LeftButton, {}, {8, button->height() / 2});
        w.settle();
    }
    const Part& chosen() { return *w.job().find_part(w->job_sheet()->chosen_row().part); }
};

}  // namespace

TEST_CASE("a link waits beside its original, follows it, becomes a copy, and follows again") {
    Bored b;
    b.choose_step(0);
    b.run("link");
    const std::string link = b.chosen().id;
    CHECK(b.chosen().name == "bore 2");
    CHECK(b.panel()->said().contains("bore"));
    CHECK(b.w->hint_line()->text().contains("It follows"));
    CHECK(b.w.position(link).x == Approx(5));  // 1.2 times as wide as the bore
    b.w.place(link, [](Placement& p) { p.position = {0, 20, 0}; });
    b.choose({{}, {link}});
    b.w.key(Qt::Key_D);
    CHECK(b.w.volume() == Approx(16000 - 3 * 160));
    // The bore is mirrored: so is what follows it.
    Job job = b.w.job();
    edit_part(job, b.bore, [](Part& p) {
        p.source = StoredMesh{std::make_shared<const Mesh>(make_box({5, 5, -1}, {11, 9, 11}))};
    });
    b.w->controller().change(std::move(job), "wider");
    b.w.settle();
    CHECK(b.w.volume() == Approx(16000 - 2 * 240 - 160));
    REQUIRE(b.panel()->copy_button()->text() == "Use a copy");
    b.click(b.panel()->copy_button());
    CHECK(std::holds_alternative<StoredMesh>(b.w.job().find_part(link)->source));
    CHECK(b.panel()->copy_button()->text() == "Follow again");
    CHECK(QString::fromStdString(b.w->controller().history().undo_name()) == "bore 2: use a copy");
    b.click(b.panel()->copy_button());
    CHECK(std::holds_alternative<Link>(b.w.job().find_part(link)->source));
    CHECK(b.w.volume() == Approx(16000 - 2 * 240 - 160));
}

TEST_CASE("the result so far is used again; what it follows is chosen by step, a circle is refused with a sentence") {
    Bored b;
    b.choose_step(0);
    b.run("link-stage");
    const std::string link = b.chosen().id;
    b.w.key(Qt::Key_U);
    CHECK(b.w.volume() == Approx(16000 - 320 + 16000 - 160));
    CHECK(b.panel()->stages()->currentText().contains("as of step 1"));
    QComboBox* stages = b.panel()->stages();
    stages->setFocus();
    QTest::keyClick(stages, Qt::Key_Down);
    b.w.settle();
    CHECK(stages->currentText().contains("as of step 2"));
    CHECK(b.w.volume() == Approx(2 * (16000 - 320)));
    QTest::keyClick(stages, Qt::Key_Home);  // to the end, of which it is a part
    b.w.settle();
    CHECK(b.w->hint_line()->text().contains("would be made of itself"));
    CHECK(b.w.volume() == Approx(2 * (16000 - 320)));
    // It waits again, at the place where it stood.
    b.run("take-out");
    CHECK(b.w.volume() == Approx(16000 - 320));
    CHECK(b.chosen().id == link);
    QPushButton* base = nullptr;
    for (auto* button : b.w->step_panel()->findChildren<QPushButton*>())
        if (button->text() == "Make it the base") base = button;
    REQUIRE(base);
    b.click(base);
    CHECK(b.w->hint_line()->text().contains("cannot be what that starts from"));
}

TEST_CASE("pieces of a split become parts; one is exported beside the result, and a frozen one stays as it is") {
    Bored b;
    b.w.split_by_sheet();
    const RowId split = b.w->job_sheet()->chosen_row();
    b.run("pieces-apart");
    std::vector<std::string> pieces;
    for (const auto& part : b.w.job().parts)
        if (std::holds_alternative<Link>(part->source)) pieces.push_back(part->id);
    REQUIRE(pieces.size() == 2);
    auto volume_of = [&](const std::string& part) {
        return signed_volume(*b.w->controller().outcome()->parts.at(part).mesh);
    };
    CHECK(volume_of(pieces[0]) == Approx((16000 - 320) / 2));
    b.choose({{}, {pieces[0]}});
    REQUIRE(b.panel()->delivered_box()->isVisible());
    CHECK(!b.panel()->stays_box()->isVisible());
    b.click(b.panel()->delivered_box());
    CHECK(b.w.job().results.size() == 2);
    CHECK(b.w->controller().outcome()->also.contains(pieces[0]));
    b.w->controller().deliver(q(b.folder / "out.ply"));
    b.w.settle();
    const QString name = QString::fromStdString(b.w.name_of_part(pieces[0]));
    const auto written = read_mesh(b.folder / ("out-" + name.toStdString() + ".ply"));
    REQUIRE(written);
    CHECK(signed_volume(*written) == Approx((16000 - 320) / 2));
    CHECK(std::filesystem::exists((b.folder / "out-1.ply").string()));
    // As the plane is: frozen, it stays when the plane goes.
    b.choose(split);
    b.run("freeze");
    const std::string frozen = b.chosen().id;
    CHECK(std::holds_alternative<StoredMesh>(b.w.job().find_part(frozen)->source));
    b.choose(split);
    b.run("remove");
    CHECK(volume_of(frozen) == Approx(16000 - 320));
    b.choose({{}, {pieces[0]}});
    CHECK(b.panel()->said().contains("not there any more"));
}

TEST_CASE("an operand is kept on the bench, too, with a row of its own there, which goes without the step") {
    Bored b;
    b.choose_step(1);
    b.click(b.panel()->stays_box());
    auto rows_of_part = [&] {
        return std::ranges::count_if(b.w->controller().rows(), [&](const Row& r) { return r.id.part == b.second; });
    };
    CHECK(rows_of_part() == 2);
    CHECK(b.w.volume() == Approx(16000 - 320));
    b.choose({{}, {b.second}});
    b.run("remove");
    CHECK(rows_of_part() == 1);
    CHECK(b.w.volume() == Approx(16000 - 320));
}

TEST_CASE("rows are grouped with Ctrl+G, renamed, switched and set together, and ungrouped") {
    Bored b;
    b.choose_step(0);
    b.also_choose(b.w.steps()[1].id);
    QTest::keyClick(&b.w.window, Qt::Key_G, Qt::ControlModifier);
    b.w.settle();
    const RowId group = b.w->job_sheet()->chosen_row();
    REQUIRE(find_step(b.w.job(), group.step()).step->kind == "group");
    CHECK(b.w.volume() == Approx(16000 - 320));
    JobSheet* sheet = b.w->job_sheet();
    const QModelIndex at = sheet->model()->index(sheet->model()->row_of(group), 0);
    CHECK(sheet->model()->data(at, Qt::DisplayRole).toString() == "group");
    REQUIRE(sheet->model()->setData(at, "bores", Qt::EditRole));
    b.w.settle();
    CHECK(sheet->model()->data(sheet->model()->index(sheet->model()->row_of(group), 0), Qt::DisplayRole) == "bores");
    b.choose(group);
    b.w.key(Qt::Key_O);
    CHECK(b.w.volume() == Approx(16000));
    b.w.key(Qt::Key_O);
    b.w.key(Qt::Key_U);
    CHECK(b.w.volume() == Approx(16000 + 2 * 32));
    CHECK(QString::fromStdString(b.w->controller().history().undo_name()) == "union with bores");
    QComboBox* operations = b.w->findChild<FieldPanel*>()->operations();
    CHECK(operations->currentText() == "union");
    operations->setFocus();
    QTest::keyClick(operations, Qt::Key_Down);
    b.w.settle();
    CHECK(b.w.volume() == Approx(16000 - 320));
    QTest::keyClick(&b.w.window, Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
    b.w.settle();
    CHECK(b.w.job().find_part(b.w.job().work())->steps.size() == 2);
}

TEST_CASE("several parts are aligned with the first and distributed, as one change") {
    Bored b;
    b.choose_step(0);
    auto* menu = b.w->action("align")->property("choices").value<QMenu*>();
    REQUIRE(menu);
    auto choose = [&] {
        for (QAction* choice : menu->actions())
            if (choice->text() == "High sides along x") choice->trigger();
        b.w.settle();
    };
    choose();
    CHECK(b.w->hint_line()->text().contains("Select several parts first"));
    b.also_choose(b.w.steps()[1].id);
    choose();
    CHECK(b.w.position(b.second).x == Approx(-20));
    CHECK(b.w.position(b.bore).x == Approx(0));
    CHECK(b.w.volume() == Approx(16000 - 160));
    CHECK(QString::fromStdString(b.w->controller().history().undo_name()) == "align 2 rows");
    b.w->controller().undo();
    b.w.settle();
    CHECK(b.w.volume() == Approx(16000 - 320));
}

TEST_CASE("several selected parts are moved together by the handles of one, as one change") {
    Bored b;
    b.choose_step(0);
    b.also_choose(b.w.steps()[1].id);
    const RowId chosen = b.w->job_sheet()->chosen_row();
    REQUIRE(chosen.part == b.second);
    Camera c = b.w->viewport()->camera();
    c.tilt = 60;
    b.w->viewport()->set_camera(c);
    b.w.settle();
    const Vec3 middle = b.w->viewport()->chosen_middle();
    const double mm = b.w->viewport()->camera().mm_per_pixel(middle, b.w->viewport()->size());
    const QPoint from = b.w->viewport()->pixel_of(middle + Vec3{0, 60 * mm, 0}).toPoint();
    const QPoint to =
        from + (b.w->viewport()->pixel_of(middle + Vec3{0, 10, 0}) - b.w->viewport()->pixel_of(middle)).toPoint();
    b.w.drag(from, to);
    const double went = b.w.position(b.second).y;
    CHECK(went == Approx(10).margin(0.6));
    CHECK(b.w.position(b.bore) == Vec3{0, went, 0});
    CHECK(b.w.volume() == Approx(16000 - 320));
    CHECK(QString::fromStdString(b.w->controller().history().undo_name()) == "move 2 parts");
    b.w->controller().undo();
    b.w.settle();
    CHECK(b.w.position(b.bore) == Vec3{});
}
