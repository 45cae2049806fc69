// The real window and the job sheet: rows, switches, operations, and what the result is set to.
#include "tests/app/shown.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("the peg switches a step, rows reorder by drop, rename in place, and Delete removes") {
    Shown w;
    w.demo();
    JobSheetModel* model = w->job_sheet()->model();
    QListView* view = w->job_sheet()->view();
    const double all = w.volume();
    const QRect row = view->visualRect(model->index(7));
    QTest::mouseClick(view->viewport(), Qt::LeftButton, {}, QPoint(row.right() - 12, row.center().y()));
    w.settle();
    CHECK(!w.steps()[6].step->on);
    CHECK(w.volume() > all);
    CHECK(w->controller().outcome()->evaluation->reused_arrangement);
    std::unique_ptr<QMimeData> mime(model->mimeData({model->index(1)}));
    model->dropMimeData(mime.get(), Qt::MoveAction, 9, 0, {});
    w.settle();
    CHECK(w.name_of_part(w.steps().back().id.part) == "mounting ears");
    CHECK(model->setData(model->index(0), "buoy lantern", Qt::EditRole));
    CHECK(w.name_of_part(w.base()) == "buoy lantern");
    w->choose_part(w.part("vent slots"));
    w->action("remove")->trigger();
    w.settle();
    CHECK(w.steps().size() == 6);
    CHECK(w.part("vent slots").empty());
}

TEST_CASE("bundles: made and undone by keys and tools, kept by drops, told in the row and the panel") {
    Shown w;
    w.demo();
    SheetView* view = w->job_sheet()->view();
    JobSheetModel* model = w->job_sheet()->model();
    const double ribbed = w.volume();
    w->choose_part(w.part("vent rib"));
    CHECK(model->index(8).data(JobSheetModel::DepthRole).toInt() == 1);
    const QAction* gather = w->step_panel()->other_operation(Operation::gather);
    CHECK(w->step_panel()->main_operation(Operation::union_of)->isEnabled());
    CHECK(!gather->isEnabled());
    view->setFocus();
    QTest::keyClick(view, Qt::Key_Left, Qt::ControlModifier);
    w.settle();
    CHECK(w.steps()[7].depth == 0);
    CHECK(w.volume() < ribbed);  // the slots cut through where the rib was, and what the rib cuts is air
    CHECK(gather->isEnabled());
    CHECK(w->hint_line()->text().contains("by itself"));
    view->setFocus();
    QTest::keyClick(view, Qt::Key_Right, Qt::ControlModifier);
    w.settle();
    CHECK(w.volume() == Approx(ribbed));
    CHECK(QString::fromStdString(w->controller().history().undo_name()) == "bundle vent rib with vent slots");
    w->action("unbundle")->trigger();
    w->action("undo")->trigger();
    w.settle();
    CHECK(w.steps()[7].depth == 1);
    // The slots move to the top with their rib.
    std::unique_ptr<QMimeData> mime(model->mimeData({model->index(7)}));
    model->dropMimeData(mime.get(), Qt::MoveAction, 1, 0, {});
    w.settle();
    CHECK(w.name_of_part(w.steps()[0].id.part) == "vent slots");
    CHECK(w.name_of_part(w.steps()[1].id.part) == "vent rib");
    CHECK(w.steps()[1].depth == 1);
    CHECK(w.steps()[2].depth == 0);
}

TEST_CASE("remarks on steps are listed under the findings and lead to their parts; the panel tells how a part meets") {
    Shown w;
    w.demo();
    QListWidget* remarks = w->ledger()->remarks();
    CHECK(!remarks->isVisible());
    auto panel_says = [&](const char* text) {
        for (const QLabel* label : w->step_panel()->findChildren<QLabel*>())
            if (label->isVisible() && label->text().contains(text)) return true;
        return false;
    };
    w->choose_part(w.part("mounting ears"));
    CHECK(panel_says("crossing curve"));
    CHECK(panel_says("Ends flush with"));  // their undersides with the housing's
    w.place(w.part("gland bore"), [](Placement& p) { p.position.y = 38; });
    w.settle();
    REQUIRE(remarks->count() == 1);
    CHECK(remarks->isVisible());
    CHECK(remarks->item(0)->text().startsWith("Step 5 (gland bore): It removes nothing: it is"));
    const QRect row = remarks->visualItemRect(remarks->item(0));
    QTest::mouseClick(remarks->viewport(), Qt::LeftButton, {}, row.center());
    CHECK(w->job_sheet()->chosen_row().part == w.part("gland bore"));
    CHECK(!panel_says("crossing curve"));
    w->action("undo")->trigger();
    w.settle();
    CHECK(remarks->count() == 0);
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
    edit_part(job, w.part("open"), [](Part& p) { p.source = StoredMesh{std::make_shared<const Mesh>()}; });
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
    w.split_by_sheet();
    REQUIRE(w.steps().size() == 1);
    CHECK(w->controller().outcome()->evaluation->combined->pieces() == 2);
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
    CHECK(w->controller().outcome()->evaluation->combined->pieces() == 2);
    // The plane as the base, trimmed by the block.
    Job job = w.job();
    const Use plane = *w.steps()[0].use, block = std::get<Use>(job.find_part(job.work())->source);
    edit_part(job, job.work(), [&](Part& p) { p.source = plane; });
    edit_step(job, w.steps()[0].step->id, [&](Step& s) {
        s.operand = block;
        s.kind = word(Operation::trim_inside);
    });
    w->controller().change(std::move(job), "trim the plane");
    w.settle();
    CHECK(surface_area(w->controller().outcome()->evaluation->combined->mesh) == Approx(1600));
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
    w->choose_part(w.base());
    QToolButton* bridge = nullptr;
    for (QToolButton* b : w->step_panel()->findChildren<QToolButton*>())
        if (b->text() == "bridge") bridge = b;
    REQUIRE(bridge);
    REQUIRE(bridge->isVisible());
    QTest::mouseClick(bridge, Qt::LeftButton);
    w.settle();
    CHECK(w.job().settings.contact == ContactRule::join);
    CHECK(w.volume() > 16000);
    CHECK(w->ledger()->verdict().contains("1 shell"));
    QCheckBox* merge = w->step_panel()->merge_flush();
    REQUIRE(merge);
    QTest::mouseClick(merge, Qt::LeftButton, {}, QPoint(8, merge->height() / 2));
    w.settle();
    CHECK(w.job().settings.merge_flush);
    w->controller().undo();
    w->controller().undo();
    w.settle();
    CHECK(w.job().settings.contact == ContactRule::separate);
    CHECK(!bridge->isChecked());
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
    CHECK(w->hint_line()->text().contains("as of step 2 of 8"));
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

TEST_CASE("split and inlay by key and by panel: pieces judged by themselves, exported one file each") {
    TempFolder folder;
    REQUIRE(write_mesh(make_box({0, 0, 0}, {40, 40, 40}), folder / "block.ply"));
    REQUIRE(write_mesh(make_box({20, 20, 20}, {60, 60, 60}), folder / "plate.ply"));
    Shown w;
    w->open_files({q(folder / "block.ply"), q(folder / "plate.ply")});
    w.settle();
    w.key(Qt::Key_S);
    REQUIRE(w.steps().size() == 1);
    CHECK(w.steps()[0].kind->operation == Operation::split);
    CHECK(w->controller().outcome()->evaluation->combined->pieces() == 2);
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    CHECK(w->ledger()->verdict().contains("2 shells"));
    w->controller().deliver(q(folder / "out.stl"));
    w.settle();
    CHECK(!std::filesystem::exists(folder / "out.stl"));
    CHECK(signed_volume(*read_mesh(folder / "out-1.stl")) == Approx(64000 - 8000));
    CHECK(signed_volume(*read_mesh(folder / "out-2.stl")) == Approx(8000));
    CHECK(w->step_panel()->others()->text() == "split");
    w->step_panel()->other_operation(Operation::inlay)->trigger();
    w.settle();
    CHECK(w.steps()[0].kind->operation == Operation::inlay);
    CHECK(w->step_panel()->others()->text() == "inlay");
    CHECK(w->step_panel()->others()->isChecked());
    CHECK(!w->step_panel()->main_operation(Operation::union_of)->isChecked());
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

namespace {

Job block_with_two_cuts() {
    Job job;
    auto part = [&](const char* name, Vec3 low, Vec3 high) {
        return add_part(job, name, std::make_shared<const Mesh>(make_box(low, high)));
    };
    part("block", {0, 0, 0}, {4, 4, 4});
    const std::string cutter = part("cutter", {3, 3, 3}, {5, 5, 5});
    add_combining(job, Operation::difference, cutter);
    add_combining(job, Operation::union_of, part("beside", {-1, 0, 0}, {1, 1, 1}));
    add_combining(job, Operation::union_of, cutter);
    return job;
}

}  // namespace

TEST_CASE("a part that two steps use has two rows, each chosen, set, switched and removed by itself") {
    Shown w;
    w->controller().open(block_with_two_cuts(), {});
    w.settle();
    JobSheetModel* model = w->job_sheet()->model();
    QListView* view = w->job_sheet()->view();
    REQUIRE(model->rowCount() == 4);
    CHECK(w.volume() == Approx(64 - 1 + 1 + 8));
    auto click = [&](int row) {
        QTest::mouseClick(view->viewport(), Qt::LeftButton, {}, view->visualRect(model->index(row)).center());
    };
    click(3);
    CHECK(w->job_sheet()->chosen_row().step() == w.steps()[2].step->id);
    w->step_panel()->apply_operation(Operation::intersection);
    w.settle();
    CHECK(w.steps()[0].kind->operation == Operation::difference);
    CHECK(w.steps()[2].kind->operation == Operation::intersection);
    CHECK(w->job_sheet()->chosen_row().step() == w.steps()[2].step->id);
    click(1);
    w->action("switch")->trigger();
    w.settle();
    CHECK(!w.steps()[0].step->on);
    CHECK(w.steps()[2].step->on);
    CHECK(w.volume() == Approx(1));
    w->action("remove")->trigger();
    w.settle();
    CHECK(w.steps().size() == 2);
    CHECK(!w.part("cutter").empty());
    // The last row of the part takes the part with it.
    click(2);
    w->action("remove")->trigger();
    w.settle();
    CHECK(w.part("cutter").empty());
    w->controller().undo();
    w->controller().undo();
    w.settle();
    CHECK(w.steps().size() == 3);
}

TEST_CASE("a step that cannot be done is left out: its row says so, the steps below go on, and nothing is exported") {
    Shown w;
    Job job = block_with_two_cuts();
    const auto rows = combining(job);
    const std::string cutter = rows[0].id.part, last = rows[2].step->id;
    remove_step(job, last);
    edit_part(job, cutter, [](Part& p) { p.source = StoredMesh{std::make_shared<const Mesh>()}; });
    w->controller().open(std::move(job), {});
    w.settle();
    JobSheetModel* model = w->job_sheet()->model();
    CHECK(w.volume() == Approx(64 + 1));
    CHECK(model->index(1).data(JobSheetModel::ChangeRole).toString() == "left out");
    CHECK(model->index(1).data(JobSheetModel::FaultRole).toBool());
    CHECK(model->index(1).data(Qt::ToolTipRole).toString().startsWith("step 1 (cutter)"));
    CHECK(model->index(2).data(JobSheetModel::ChangeRole).toString().startsWith("+"));
    CHECK(!model->index(2).data(JobSheetModel::FaultRole).toBool());
    CHECK(w->hint_line()->text().contains("cutter"));
    TempFolder folder;
    w->controller().deliver(q(folder / "out.stl"));
    w.settle();
    CHECK(!std::filesystem::exists(folder / "out.stl"));
    model->setData(model->index(1), false, JobSheetModel::OnRole);
    w.settle();
    CHECK(!w->controller().error());
    w->controller().deliver(q(folder / "out.stl"));
    w.settle();
    CHECK(std::filesystem::exists(folder / "out.stl"));
}
