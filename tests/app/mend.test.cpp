// Mending in the real window: one place, all of a kind, everything; the plan's settings; before and after.
#include <QLabel>
#include <nlohmann/json.hpp>

#include "app/panels/mend_panel.h"
#include "app/panels/question_strip.h"
#include "core/job/kinds/mend_values.h"
#include "tests/app/shown.h"

using namespace anvil;
using namespace anvil::test;

namespace {

struct Scan : Shown {
    Scan() {
        window.open_demo_scan();
        settle();
    }
    std::size_t count(FindingKind kind) { return window.ledger()->inspection()->count(kind); }
};

}  // namespace

TEST_CASE("one place of a kind is mended by a button, then all of it; undo takes each back") {
    Scan w;
    REQUIRE(w.count(FindingKind::holes) == 4);
    w->ledger()->choose(FindingKind::holes);
    CHECK(w->ledger()->mend_kind_button()->text() == "All 4");
    CHECK(w->ledger()->fill_choice()->isVisible());
    QTest::mouseClick(w->ledger()->mend_one_button(), Qt::LeftButton);
    w.settle();
    REQUIRE(w.mendings().size() == 1);
    CHECK(w.count(FindingKind::holes) == 3);
    // The next place goes into the same mending.
    QTest::mouseClick(w->ledger()->mend_one_button(), Qt::LeftButton);
    w.settle();
    CHECK(w.mendings().size() == 1);
    CHECK(w.count(FindingKind::holes) == 2);
    CHECK(w->controller().history().undo_name() == "mend a place of scanned bracket");
    w->controller().undo();
    w.settle();
    CHECK(w.count(FindingKind::holes) == 3);
    w->controller().undo();
    w.settle();
    CHECK(w.count(FindingKind::holes) == 4);

    w->ledger()->choose(FindingKind::misoriented_edges);
    REQUIRE(w.count(FindingKind::misoriented_edges) > 0);
    QTest::mouseClick(w->ledger()->mend_kind_button(), Qt::LeftButton);
    w.settle();
    CHECK(w.count(FindingKind::misoriented_edges) == 0);
    CHECK(w.count(FindingKind::holes) == 4);
    CHECK(w->job_sheet()->model()->index(1).data().toString() == "turn faces outward");
}

TEST_CASE("mend all: a row of its own under the part, switched by its peg; what it did is counted and pinned") {
    Scan w;
    CHECK(w->ledger()->mend_all_button()->isVisible());
    QTest::mouseClick(w->ledger()->mend_all_button(), Qt::LeftButton);
    w.settle();
    REQUIRE(w->job_sheet()->model()->rowCount() == 2);
    const QModelIndex row = w->job_sheet()->model()->index(1);
    CHECK(row.data().toString() == "mend");
    CHECK(row.data(JobSheetModel::ChangeRole).toString() == "print-ready");
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    CHECK(!w->ledger()->mend_all_button()->isVisible());
    CHECK(w->ledger()->measures().contains("open →"));

    MendPanel* panel = w->mend_panel();
    REQUIRE(panel->isVisible());
    CHECK(!w->step_panel()->isVisible());
    CHECK(panel->count(Repair::holes)->text() == "3");
    QTest::mouseClick(panel->count(Repair::holes), Qt::LeftButton);
    CHECK(panel->pins().size() == 3);
    CHECK(panel->said().startsWith("3 holes were filled"));

    // Left out, holes stay, and so does what needs a closed surface.
    QTest::mouseClick(panel->box(Repair::holes), Qt::LeftButton, {}, QPoint(8, 10));
    w.settle();
    CHECK(w.count(FindingKind::holes) > 0);
    CHECK(w->controller().history().undo_name() == "do not fill holes");
    w->controller().undo();
    w.settle();
    CHECK(w->ledger()->verdict().contains("Print-ready"));

    CHECK(w->job_sheet()->model()->setData(w->job_sheet()->model()->index(1), false, JobSheetModel::OnRole));
    w.settle();
    CHECK(w.count(FindingKind::holes) == 4);
    CHECK(w->job_sheet()->model()->index(1).data(JobSheetModel::ChangeRole).toString() == "off");
    CHECK(w->job_sheet()->model()->setData(w->job_sheet()->model()->index(1), true, JobSheetModel::OnRole));
    w.settle();
    CHECK(w->ledger()->verdict().contains("Print-ready"));
}

TEST_CASE("reaches are typed with units; nonsense is marked; a distance to weld says how many points it would take") {
    Scan w;
    w->action("mend")->trigger();
    w.settle();
    MendPanel* panel = w->mend_panel();
    QLineEdit* longest = panel->reach(Repair::holes);
    longest->setFocus();
    longest->setText("1 cm");
    QTest::keyClick(longest, Qt::Key_Return);
    w.settle();
    CHECK(mend_settings(w.mendings().front()->values).options.longest_hole == 10);
    CHECK(longest->text() == "10 mm");
    CHECK(w.count(FindingKind::holes) > 0);
    longest->setText("wide");
    QTest::keyClick(longest, Qt::Key_Return);
    CHECK(longest->property("wrong").toBool());
    CHECK(mend_settings(w.mendings().front()->values).options.longest_hole == 10);
    longest->setText("");
    QTest::keyClick(longest, Qt::Key_Return);
    w.settle();
    CHECK(w->ledger()->verdict().contains("Print-ready"));

    QLineEdit* weld = panel->reach(Repair::weld);
    weld->setFocus();
    QTest::keyClicks(weld, "0.5");
    for (int k = 0; k < 200 && !w->hint_line()->text().contains("would go"); ++k) QTest::qWait(10);
    const Mesh scan = welded(*w.meshes().front());
    CHECK(w->hint_line()->text().startsWith(QString::number(count_weldable(scan, 0.5)) + " point"));
}

TEST_CASE("before and after: flipped by key, on both sides of a line that is dragged, and as distances with a legend") {
    Scan w;
    w->action("mend")->trigger();
    w.settle();
    Viewport* view = w->viewport();
    auto picture = [&] {
        w.settle();
        return view->finished_picture();
    };
    auto differing = [](const QImage& a, const QImage& b, int from, int to) {
        int n = 0;
        for (int y = 0; y < a.height(); ++y)
            for (int x = from; x < to; ++x) n += a.pixel(x, y) != b.pixel(x, y);
        return n;
    };
    const QImage after = picture();
    w.key(Qt::Key_B);
    CHECK(view->compare() == Compare::before);
    CHECK(w->mend_panel()->compare_button(Compare::before)->isChecked());
    const QImage before = picture();
    CHECK(differing(after, before, 0, after.width()) > 200);
    w.key(Qt::Key_B);
    CHECK(differing(after, picture(), 0, after.width()) == 0);

    QTest::mouseClick(w->mend_panel()->compare_button(Compare::both), Qt::LeftButton);
    const int middle = view->width() / 2, margin = 90;  // the tags at the line
    QImage both = picture();
    CHECK(differing(before, both, 0, middle - margin) == 0);
    CHECK(differing(after, both, middle + margin, view->width()) == 0);
    w.drag({middle, 200}, {middle + 150, 220});
    CHECK(view->divider() == Approx((middle + 150.0) / view->width()).margin(0.01));
    both = picture();
    CHECK(differing(before, both, 0, middle + 150 - margin) == 0);

    QTest::mouseClick(w->mend_panel()->compare_button(Compare::distance), Qt::LeftButton);
    for (int k = 0; k < 300 && differing(after, view->finished_picture(), 0, after.width()) < 20000; ++k)
        QTest::qWait(20);
    const QImage distance = picture();
    CHECK(differing(after, distance, 0, 320) > 2000);  // the legend, at the lower left

    // Another row shows the whole job again.
    w->choose({});
    CHECK(w->step_panel()->isVisible());
}

TEST_CASE("mendings travel in the job's file and with the part's step, and end with the part") {
    TempFolder folder;
    Scan w;
    w->action("mend")->trigger();
    w.settle();
    REQUIRE(w->controller().save(q(folder / "bracket.anvil")));
    w->open_files({q(folder / "bracket.anvil")});
    w.settle();
    REQUIRE(w.mendings().size() == 1);
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    REQUIRE(write_mesh(make_box({0, 0, 0}, {20, 20, 20}), folder / "block.stl"));
    w->open_files({q(folder / "block.stl")});
    w.settle();
    w->step_panel()->apply_operation(Operation::union_of);
    w.settle();
    CHECK(w->job_sheet()->model()->rowCount() == 3);
    CHECK(w->job_sheet()->model()->id_at(1).step() == w.mendings().front()->id);
    CHECK(w->job_sheet()->model()->index(2).data(JobSheetModel::KindRole) == JobSheetModel::step_row);
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    const std::string scan = w.base();
    w->choose_step(w.mendings().front()->id);
    Job job = w.job();
    remove_part(job, scan);
    w->controller().change(std::move(job), "remove");
    w.settle();
    CHECK(w->job_sheet()->model()->rowCount() == 1);
    CHECK(w->step_panel()->isVisible());
}

TEST_CASE("surfaces: all lines, colours by shell and by region, findings only; the view changes and comes back") {
    Scan w;
    Viewport* view = w->viewport();
    auto settled_picture = [&] {
        for (int k = 0; k < 25; ++k) QTest::qWait(20);
        return view->finished_picture();
    };
    const QImage plain = settled_picture();
    std::vector<QImage> seen{plain};
    for (const char* name : {"surface-lines", "surface-shells", "surface-regions", "surface-findings"}) {
        w->action(name)->trigger();
        const QImage image = settled_picture();
        for (const QImage& other : seen) CHECK(image != other);
        seen.push_back(image);
    }
    w->action("surface-plain")->trigger();
    CHECK(settled_picture() == plain);
}

TEST_CASE("a decision is put in a strip with a picture of both answers; choosing one is undoable and not asked again") {
    TempFolder folder;
    REQUIRE(write_mesh(make_plate({0, 0, 0}, 100, 80), folder / "sheet.ply"));
    Shown w;
    w->open_files({q(folder / "sheet.ply")});
    w->unit_strip()->dismiss();
    w.settle();
    CHECK(w->ledger()->verdict().contains("sheet"));
    CHECK(!w->question_strip()->isVisible());
    w->action("mend")->trigger();
    w.settle();
    QuestionStrip* strip = w->question_strip();
    REQUIRE(strip->isVisible());
    CHECK(strip->asked().contains("encloses nothing"));
    CHECK(strip->answer_button(1)->text() == "Give it a thickness");
    CHECK(strip->thickness()->text() == "1.2 mm");
    CHECK(!strip->answer_button(2)->isVisible());  // it is flat
    CHECK(w->job_sheet()->model()->index(1).data(JobSheetModel::ChangeRole).toString() == "waits for you");
    CHECK(w->mend_panel()->count(Repair::orient)->text().isEmpty());
    for (const Repair waiting : {Repair::holes, Repair::thicken, Repair::crossings})
        CHECK(w->mend_panel()->count(waiting)->accessibleName().contains("waits for your answer"));
    for (int answer : {0, 1})
        for (int k = 0; k < 200 && strip->answer_button(answer)->icon().isNull(); ++k) QTest::qWait(20);
    const QImage a = strip->answer_button(0)->icon().pixmap(232, 132).toImage(),
                 b = strip->answer_button(1)->icon().pixmap(232, 132).toImage();
    REQUIRE(!a.isNull());
    CHECK(a != b);
    strip->thickness()->setText("-1");
    Q_EMIT strip->thickness()->editingFinished();
    CHECK(w->hint_line()->text().contains("above 0 mm"));
    strip->thickness()->setText("2.5");
    Q_EMIT strip->thickness()->editingFinished();
    QTest::mouseClick(strip->answer_button(1), Qt::LeftButton);
    w.settle();
    CHECK(!strip->isVisible());
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    CHECK(w.volume() == Approx(100 * 80 * 2.5));
    CHECK(w->controller().history().undo_name().starts_with("give it a thickness"));
    w->controller().undo();
    w.settle();
    CHECK(strip->isVisible());
    QTest::mouseClick(strip->answer_button(0), Qt::LeftButton);
    w.settle();
    CHECK(!strip->isVisible());
    CHECK(w->ledger()->verdict().contains("sheet"));
    CHECK(w->job_sheet()->model()->index(1).data(JobSheetModel::ChangeRole).toString() == "no change");
}

TEST_CASE("a tray without a lid can be closed, as a part by a mending, or as the operand that it is") {
    TempFolder folder;
    Mesh tray = make_box({0, 0, 0}, {40, 40, 10});
    std::erase_if(tray.faces.raw(), [&](const Triangle& t) {
        return tray.points[t[0]].z == 10 && tray.points[t[1]].z == 10 && tray.points[t[2]].z == 10;
    });
    REQUIRE(write_mesh(tray, folder / "tray.ply"));
    REQUIRE(write_mesh(make_box({-30, -30, -30}, {50, 50, 50}), folder / "block.ply"));
    Shown w;
    w->open_files({q(folder / "tray.ply")});
    w->unit_strip()->dismiss();
    w.settle();
    w->action("mend")->trigger();
    w.settle();
    QuestionStrip* strip = w->question_strip();
    REQUIRE(strip->answer_button(2)->isVisible());
    for (int k = 0; k < 200 && strip->answer_button(2)->icon().isNull(); ++k) QTest::qWait(20);
    CHECK(strip->volume_label(0) == "open");
    CHECK(strip->volume_label(2) == QString::fromUtf8("16.00 cm³"));
    QTest::mouseClick(strip->answer_button(2), Qt::LeftButton);
    w.settle();
    CHECK(w.volume() == Approx(40 * 40 * 10));
    CHECK(w->mend_panel()->sheet_button(SheetRule::close)->isChecked());
    w->mend_panel()->sheet_button(SheetRule::thicken)->click();
    w.settle();
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    CHECK(w.volume() < 40 * 40 * 10);

    w->controller().open({}, {});
    w->open_files({q(folder / "block.ply")});
    w->unit_strip()->dismiss();
    w.settle();
    CHECK(!w->step_panel()->closes_sheets()->isVisible());
    w->open_files({q(folder / "tray.ply")});
    w.settle();
    w->choose_part(w.part("tray"));
    w->action("difference")->trigger();
    w.settle();
    CHECK(w.volume() == Approx(80 * 80 * 80));
    REQUIRE(w->step_panel()->closes_sheets()->isVisible());
    w->step_panel()->closes_sheets()->click();
    w.settle();
    CHECK(w.volume() == Approx(80 * 80 * 80 - 40 * 40 * 10));
    CHECK(w->controller().history().undo_name().starts_with("close"));
}

TEST_CASE("the panel of a mending counts as many kinds as the ledger did") {
    Scan w;
    const auto kinds = QString::number(w->ledger()->inspection()->fault_kinds());
    CHECK(w->ledger()->verdict().contains("has " + kinds + " kinds of finding"));
    w->action("mend")->trigger();
    w.settle();
    bool told = false;
    for (const QLabel* label : w->mend_panel()->findChildren<QLabel*>())
        told |= label->text().startsWith("From " + kinds + " kinds of finding");
    CHECK(told);
}

TEST_CASE("kinds with a size: another size lists others, and the job keeps it") {
    Shown w;
    w.demo();
    Ledger* ledger = w->ledger();
    ledger->choose(FindingKind::thin_skins);
    REQUIRE(ledger->threshold_field()->isVisible());
    CHECK(ledger->threshold_field()->text() == "0.2 mm");
    const auto before = ledger->inspection()->count(FindingKind::thin_skins);
    ledger->threshold_field()->setFocus();
    ledger->threshold_field()->setText("5 mm");
    QTest::keyClick(ledger->threshold_field(), Qt::Key_Return);
    w.settle();
    CHECK(ledger->inspection()->count(FindingKind::thin_skins) > before);
    CHECK(ledger->inspection()->options.thin_below == 5);
    CHECK(w.job().settings.told_from.at("thin_below") == 5);
    CHECK(ledger->verdict().contains("thin skin"));
    w->controller().undo();
    w.settle();
    CHECK(ledger->inspection()->count(FindingKind::thin_skins) == before);
}

TEST_CASE("the report is saved as a page with a picture, and as JSON") {
    TempFolder folder;
    Scan w;
    w->action("mend")->trigger();
    w.settle();
    w->save_report(q(folder / "r.html"));
    const std::string page = read_bytes(folder / "r.html");
    CHECK(page.find("scanned bracket") != std::string::npos);
    CHECK(page.find("data:image/png;base64,iVBOR") != std::string::npos);
    CHECK(page.find("3 holes were filled") != std::string::npos);
    w->save_report(q(folder / "r.json"));
    const auto json = nlohmann::json::parse(read_bytes(folder / "r.json"));
    CHECK(json["result"]["print_ready"] == true);
    CHECK(json["before"]["findings"]["holes"] == 4);
    CHECK(json["repairs"].size() == whole_plan().size());
    w->save_report(q(folder / "no" / "such" / "r.html"));
    CHECK(w->hint_line()->text().contains("r.html"));
}

TEST_CASE(
    "an open operand: its row says so, the ledger lists its faults, one button mends it and runs the step again") {
    TempFolder folder;
    Mesh open = make_box({10, 10, 10}, {30, 30, 30});
    open.faces.raw().pop_back();
    REQUIRE(write_mesh(make_box({0, 0, 0}, {20, 20, 20}), folder / "block.ply"));
    REQUIRE(write_mesh(open, folder / "cutter.ply"));
    Shown w;
    w->open_files({q(folder / "block.ply")});
    w->open_files({q(folder / "cutter.ply")});  // one after the other, however fast they are dropped
    w.settle();
    w->unit_strip()->dismiss();
    w->step_panel()->apply_operation(Operation::difference);
    w.settle();
    const JobSheetModel* sheet = w->job_sheet()->model();
    CHECK(sheet->index(1).data(JobSheetModel::NoteRole).toString().contains("hole"));
    const std::string cutter = w.part("cutter");
    w->choose_part(cutter);
    w.settle();
    CHECK(w->ledger()->part() == cutter);
    CHECK(w->ledger()->verdict().contains("cutter"));
    w->ledger()->choose(FindingKind::holes);
    CHECK(w->ledger()->pins().size() == 1);
    REQUIRE(w->ledger()->mend_all_button()->isVisible());
    QTest::mouseClick(w->ledger()->mend_all_button(), Qt::LeftButton);
    w.settle();
    REQUIRE(sheet->rowCount() == 3);
    CHECK(sheet->index(2).data(JobSheetModel::KindRole) == JobSheetModel::treatment_row);
    CHECK(sheet->index(1).data(JobSheetModel::NoteRole).toString().isEmpty());
    CHECK(w.volume() == Approx(8000 - 1000));
    w->job_sheet()->model()->setData(sheet->index(2), false, JobSheetModel::OnRole);
    w.settle();
    CHECK(sheet->index(1).data(JobSheetModel::NoteRole).toString().contains("hole"));
}

TEST_CASE("a place is accepted, then a kind, then all: the verdict follows, undo and another press tell it again") {
    Scan w;
    Ledger& ledger = *w->ledger();
    ledger.choose(FindingKind::holes);
    REQUIRE(ledger.accept_one_button()->isVisible());
    CHECK(ledger.accept_one_button()->text() == "Accept this place");
    QTest::mouseClick(ledger.accept_one_button(), Qt::LeftButton);
    w.settle();
    CHECK(ledger.acceptance().count(FindingKind::holes) == 1);
    CHECK(ledger.acceptance().count(FindingKind::open_edges) > 0);
    CHECK(ledger.kinds()->currentItem()->text() == "holes, 1 accepted");
    CHECK(ledger.accept_one_button()->text() == "Tell this again");
    CHECK(ledger.verdict().contains("Not print-ready"));
    CHECK(w->controller().history().undo_name() == "accept hole");
    QTest::mouseClick(ledger.accept_one_button(), Qt::LeftButton);
    w.settle();
    CHECK(ledger.acceptance().count() == 0);

    // Every line that is a fault, one after the other.
    for (int k = 0; k < finding_kinds; ++k) {
        const auto kind = static_cast<FindingKind>(k);
        if (!is_fault(kind) || w.count(kind) == 0 || ledger.acceptance().count(kind) == w.count(kind)) continue;
        CHECK(ledger.verdict().contains("Not print-ready"));
        ledger.choose(kind);
        QPushButton* button = w.count(kind) > 1 ? ledger.accept_kind_button() : ledger.accept_one_button();
        REQUIRE(button->isVisible());
        QTest::mouseClick(button, Qt::LeftButton);
        w.settle();
    }
    CHECK(ledger.verdict().contains("Accepted as it is"));
    CHECK(!w->ledger()->inspection()->print_ready);  // what is accepted is still there
    TempFolder folder;
    w->save_report(q(folder / "r.html"));
    CHECK(read_bytes(folder / "r.html").find("4 (4 accepted)") != std::string::npos);
    w->save_report(q(folder / "r.json"));
    CHECK(nlohmann::json::parse(read_bytes(folder / "r.json"))["accepted"]["holes"] == 4);
    w->controller().undo();
    w.settle();
    CHECK(ledger.verdict().contains("Not print-ready"));
}

TEST_CASE("what a plan cannot finish is offered to be rebuilt, as an edit of its own that undo takes back") {
    TempFolder folder;
    Mesh mess = make_icosphere({0, 0, 0}, 10, 4);
    std::erase_if(mess.faces.raw(), [&](const Triangle& t) { return mess.points[t[0]].z < -9.5; });
    append(mess, make_box({7, -2, -2}, {15, 2, 2}));
    REQUIRE(write_mesh(mess, folder / "mess.ply"));
    Shown w;
    w->open_files({q(folder / "mess.ply")});
    w->unit_strip()->dismiss();
    w.settle();
    w->action("mend")->trigger();
    w.settle();
    MendPanel& panel = *w->mend_panel();
    CHECK(!panel.rebuild_button()->isVisible());  // all is done
    panel.reach(Repair::holes)->setText("1");
    Q_EMIT panel.reach(Repair::holes)->editingFinished();
    w.settle();
    REQUIRE(w.mendings().size() == 1);
    CHECK(panel.rebuild_button()->isVisible());
    QTest::mouseClick(panel.rebuild_button(), Qt::LeftButton);
    w.settle();
    REQUIRE(w.mendings().size() == 2);
    CHECK(w.mendings()[1]->steps.size() == 1);
    CHECK(panel.said().contains("was put anew in cells of"));
    CHECK(w->ledger()->inspection()->count(FindingKind::self_intersections) == 0);
    CHECK(w->ledger()->inspection()->count(FindingKind::holes) == 1);
    CHECK(!panel.rebuild_button()->isVisible());
    w->controller().undo();
    w.settle();
    CHECK(w.mendings().size() == 1);
    CHECK(w->ledger()->inspection()->count(FindingKind::self_intersections) > 0);
}
