// The real window and edits by hand as rows of their own: chosen, set, switched, moved.
#include "app/panels/field_panel.h"
#include "app/panels/hand_strip.h"
#include "app/panels/mend_panel.h"
#include "core/job/job_text.h"
#include "tests/app/rod.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("the result is mended and edited by hand in its own list") {
    Rod w;
    w->choose({});
    w->action("by-hand")->trigger();
    w.settle();
    REQUIRE(w->hand()->is_on());
    const Mesh& mesh = w->hand()->mesh();
    const Element first = face_element(mesh.faces[FaceId(0)]);
    w->hand()->choose(std::span(&first, 1), HandMode::How::replace);
    w->hand()->use(HandTool::delete_faces);
    w.settle();
    CHECK(w.names()[3] == "step 3 (by hand)");
    CHECK(w.names().back() == "  step 3.1 (delete faces)");
    CHECK(w->ledger()->verdict().contains("Not print-ready"));
    w->hand()->stop();
    w->choose({});
    w.settle();
    REQUIRE(w->ledger()->mend_all_button()->isVisible());
    QTest::mouseClick(w->ledger()->mend_all_button(), Qt::LeftButton);
    w.settle();
    CHECK(w.names().back() == "step 4 (mend)");
    CHECK(w.data(5, JobSheetModel::ChangeRole) == "print-ready");
    CHECK(w->ledger()->verdict().contains("Print-ready"));
    CHECK(w.volume() == Approx(10));
    // A cut below it acts on what it left.
    w->choose_part(w.knob);
    w.drop({2}, 6);
    CHECK(w.names() == Names{"base (rod)", "step 1 (saw)", "step 2 (by hand)", "  step 2.1 (delete faces)",
                             "step 3 (mend)", "step 4 (knob)"});
    CHECK(w.volume() == Approx(10));
    CHECK(w->mend_panel()->isVisible() == false);
}

TEST_CASE("each edit by hand is a row: chosen, set, looked at, switched, moved, and what it is used on selected anew") {
    Rod w;
    w->choose({});
    w->action("by-hand")->trigger();
    w.settle();
    auto select = [&](std::uint32_t f) {
        const Element face = face_element(w->hand()->mesh().faces[FaceId(f)]);
        w->hand()->choose(std::span(&face, 1), HandMode::How::replace);
    };
    select(0);
    w->hand()->use(HandTool::delete_faces);
    w.settle();
    CHECK(w->hint_line()->text().contains("1 face was deleted."));
    select(3);
    w->hand()->use(HandTool::flip_faces);
    w.settle();
    w->hand()->stop();
    REQUIRE(w.names().size() == 6);
    CHECK(w.names()[5] == "  step 3.2 (flip faces)");
    CHECK(w.data(5, Qt::DisplayRole) == "flip faces");
    CHECK(w.data(5, JobSheetModel::ChangeRole) == "1 change");
    CHECK(w.data(3, JobSheetModel::VerdictRole) == "verdict-fault");
    CHECK(w.data(1, JobSheetModel::VerdictRole) == "verdict-sound");
    w.click(4);
    CHECK(w->field_panel()->isVisible());
    CHECK(w->field_panel()->said().contains("1 face was deleted."));
    const std::size_t all = w->controller().done(w->controller().rows()[4].step->id)->from->faces.size();
    CHECK(w->ledger()->measures().contains(QString::number(all - 1)));
    CHECK(w->ledger()->verdict().contains("Not print-ready"));
    // What it is used on, anew: another face goes in its place.
    auto* at = w->field_panel()->editor("at");
    REQUIRE(at);
    CHECK(at->findChild<QLabel*>()->text() == "1 face");
    QTest::mouseClick(at->findChild<QPushButton*>(), Qt::LeftButton);
    w.settle();
    REQUIRE(w->hand()->is_on());
    CHECK(w->hand_strip()->button("take")->isVisible());
    CHECK(!w->hand_strip()->tool_button(HandTool::delete_faces)->isVisible());
    CHECK(w->hand()->mesh().faces.size() == all);
    CHECK(w->hand()->selection().elements == std::vector{face_element(w->hand()->mesh().faces[FaceId(0)])});
    select(7);
    const Element other = w->hand()->selection().elements.front();
    const Vec3 corner = w->hand()->mesh().points[other[0]];
    QTest::mouseClick(w->hand_strip()->button("take"), Qt::LeftButton);
    w.settle();
    CHECK(!w->hand()->is_on());
    CHECK(w->controller().history().undo_name() == "delete faces: what it is used on");
    CHECK(std::get<std::vector<Vec3>>(w->controller().rows()[4].step->values.at("at")).front() == corner);
    // Cancelled, it stays as it is.
    const std::string text = job_text(w.job());
    QTest::mouseClick(w->field_panel()->editor("at")->findChild<QPushButton*>(), Qt::LeftButton);
    w.settle();
    QTest::mouseClick(w->hand_strip()->button("done"), Qt::LeftButton);
    CHECK(!w->hand()->is_on());
    CHECK(job_text(w.job()) == text);
    // Off, above the stop line, in front of the other, out of the group and back.
    w.model()->setData(w.model()->index(4), false, JobSheetModel::OnRole);
    w.settle();
    CHECK(w->controller().outcome()->result.mesh->faces.size() == all);
    CHECK(w.data(4, JobSheetModel::VerdictRole).isEmpty());
    w->controller().undo();
    w->controller().set_stop_after(4);
    w.settle();
    CHECK(w.data(5, JobSheetModel::ChangeRole) == "stopped");
    // What is edited now goes in front of what waits below the line.
    w->choose({});
    w->action("by-hand")->trigger();
    w.settle();
    select(1);
    w->hand()->use(HandTool::delete_faces);
    w.settle();
    w->hand()->stop();
    CHECK(w.names()[5] == "  step 3.2 (delete faces)");
    CHECK(w.names()[6] == "  step 3.3 (flip faces)");
    w->controller().set_stop_after(~std::size_t{0});
    w.drop({6}, 4);
    CHECK(w.names()[4] == "  step 3.1 (flip faces)");
    w.drop({4}, 7);
    CHECK(w.names().back() == "step 4 (flip faces)");
    w.drop_onto({6}, 3);
    CHECK(w.names().back() == "  step 3.3 (flip faces)");
    CHECK(w->controller().history().undo_name() == "group flip faces");
    w.drop_onto({1}, 3);
    CHECK(w->hint_line()->text().contains("only edits by hand"));
    // The last one takes its group with it.
    for (int k = 0; k < 3; ++k) {
        w.click(4);
        w->action("remove")->trigger();
        w.settle();
    }
    CHECK(w.names() == Names{"base (rod)", "step 1 (saw)", "step 2 (knob)"});
    CHECK(w.volume() == Approx(10));
}
