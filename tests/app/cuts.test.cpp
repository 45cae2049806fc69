// The real window: cuts by mouse and keys.
#include "app/panels/spread_row.h"
#include "tests/app/cut_block.h"

using namespace anvil;
using namespace anvil::test;

TEST_CASE("plane cut: a line dragged over the view cuts along it; K changes the side, Esc takes it back") {
    CutBlock b;
    const std::string before = b.w->controller().history().undo_name();
    b.start("cut-plane");
    CHECK(b.hint().contains("Drag a line across"));
    b.w.drag(b.at({-30, -15, 10}), b.at({30, -15, 10}));
    REQUIRE(b.cuts() == 1);
    CHECK(b.pieces() == 2);
    CHECK(b.w->job_sheet()->model()->index(1).data(JobSheetModel::ChangeRole) == "2 pieces");
    CHECK(b.w->ledger()->verdict().contains("Print-ready"));
    // Seen level it is level but for how steeply the eye sees that line.
    CHECK(std::fabs(b.value<Vec3>("normal").x) < 0.01);
    const double whole = b.w.volume();
    b.w.key(Qt::Key_K);
    CHECK(b.value<std::string>("keep") == "front");
    const double front = b.w.volume();
    b.w.key(Qt::Key_K);
    CHECK(b.value<std::string>("keep") == "back");
    CHECK(front + b.w.volume() == Approx(whole));
    b.w.key(Qt::Key_K);
    CHECK(b.value<std::string>("keep") == "both");
    b.w.key(Qt::Key_Escape);
    CHECK(b.cuts() == 0);
    CHECK(b.w.volume() == whole);
    CHECK(b.w->controller().history().undo_name() == before);
    // Kept, Esc leaves it; so does choosing another row.
    b.start("cut-plane");
    b.w.key(Qt::Key_Z);
    REQUIRE(b.cuts() == 1);
    CHECK(b.value<Vec3>("origin") == Vec3{0, 0, 10});
    CHECK(b.value<Vec3>("normal") == Vec3{0, 0, 1});
    b.w.key(Qt::Key_Return);
    CHECK(b.hint().contains("Kept"));
    b.w.key(Qt::Key_Escape);
    CHECK(b.cuts() == 1);
    // Where another one is taken back, what was selected before is again.
    b.start("cut-plane");
    b.w.key(Qt::Key_X);
    REQUIRE(b.cuts() == 2);
    b.w.key(Qt::Key_Escape);
    REQUIRE(b.cuts() == 1);
    CHECK(b.view()->cut_handle("origin"));
}

TEST_CASE("plane cut: by a flat face, which it follows, and by three points") {
    CutBlock b;
    b.w.look(20, 35);
    b.start("cut-plane");
    b.click({0, 0, 20});
    REQUIRE(b.cuts() == 1);
    CHECK(b.value<std::vector<Anchor>>("face").size() == 1);
    // It lies on the top, where it cuts nothing; 4 mm below it cuts.
    b.w->field_panel()->editor("offset")->isVisible();
    b.type(b.line("offset"), "-4");
    CHECK(b.pieces() == 2);
    CHECK(b.w->controller().outcome()->evaluation->combined->piece(0).points.size() > 0);
    const auto low = signed_volume(b.w->controller().outcome()->evaluation->combined->piece(0));
    CHECK(low == Approx(40 * 30 * 16));
    for (auto* button : b.w->field_panel()->findChildren<QPushButton*>())
        if (button->text() == "None" && button->isVisible()) button->click();
    b.w.settle();
    CHECK(b.value<std::vector<Anchor>>("face").empty());
    b.w->controller().undo();
    b.w->controller().undo();
    b.w->controller().undo();
    b.w.settle();
    REQUIRE(b.cuts() == 0);
    b.start("cut-plane");
    b.w.key(Qt::Key_P);
    CHECK(b.hint().contains("first point"));
    // Near corners, which are met exactly.
    b.click({-19.6, -15, 19.6});
    CHECK(b.hint().contains("second point"));
    b.click({19.6, -15, 19.6});
    b.click({19.6, -15, 0.4});
    REQUIRE(b.cuts() == 1);
    CHECK(b.value<Vec3>("normal") == Vec3{0, 1, 0});
    CHECK(b.value<Vec3>("origin").y == -15);
}

TEST_CASE("plane cut: its bar moves it, its arcs tilt it, its numbers can be typed, and a drag is one undo") {
    CutBlock b;
    b.w.look(25, 25);
    b.start("cut-plane");
    b.w.key(Qt::Key_X);
    const Vec3 before = b.value<Vec3>("origin");
    auto handle = b.view()->cut_handle("origin");
    REQUIRE(handle);
    const QPointF along = b.view()->pixel_of(before + Vec3{5, 0, 0}) - b.view()->pixel_of(before);
    b.w.drag(handle->toPoint(), (*handle + along).toPoint());
    CHECK(b.value<Vec3>("origin").x == Approx(5).margin(0.6));
    CHECK(b.value<Vec3>("origin").y == before.y);
    b.w->controller().undo();
    b.w.settle();
    CHECK(b.value<Vec3>("origin") == before);
    handle = b.view()->cut_handle("normal");
    REQUIRE(handle);
    b.w.drag(handle->toPoint(), handle->toPoint() + QPoint(0, -30));
    const Vec3 tilted = b.value<Vec3>("normal");
    CHECK(tilted != Vec3{1, 0, 0});
    CHECK(norm(tilted) == Approx(1));
    b.type(b.line("origin", 0), "2.5+1");
    CHECK(b.value<Vec3>("origin").x == 3.5);
    b.type(b.line("origin", 0), "by -1");
    CHECK(b.value<Vec3>("origin").x == 2.5);
    b.type(b.line("origin", 2), "nonsense");
    CHECK(b.line("origin", 2)->property("wrong").toBool());
    b.type(b.line("normal", 0), "0");
    b.type(b.line("normal", 1), "0");
    b.type(b.line("normal", 2), "0");
    CHECK(b.hint().contains("points nowhere"));
    CHECK(b.value<Vec3>("normal") != Vec3{});
}

TEST_CASE("plane cut: joints that do not fit are told in the row, and nothing is lost") {
    CutBlock b;
    b.start("cut-plane");
    b.w.key(Qt::Key_X);
    auto* joints = qobject_cast<QComboBox*>(b.w->field_panel()->editor("joints"));
    REQUIRE(joints);
    CHECK(!b.w->field_panel()->editor("joint_size")->isVisible());
    joints->setCurrentText("round");
    Q_EMIT joints->activated(joints->currentIndex());
    b.w.settle();
    CHECK(b.w->field_panel()->editor("joint_size")->isVisible());
    CHECK(b.pieces() == 2);
    CHECK(b.w->field_panel()->said().contains("2 joints."));
    b.type(b.line("joint_size"), "25");
    CHECK(b.w->field_panel()->said().contains("do not fit into the cut face"));
    CHECK(b.w.volume() == Approx(40 * 30 * 20));
    CHECK(b.w->job_sheet()->model()->index(1).data(JobSheetModel::ChangeRole) == "left out");
}

TEST_CASE("drill: each click on a face is a hole, on another face another row; squares in the view move them") {
    CutBlock b;
    b.w.look(20, 40);
    b.start("drill");
    b.click({-10, 0, 20});
    b.click({5, 3, 20});
    REQUIRE(b.cuts() == 1);
    const auto at = b.value<std::vector<Vec3>>("at");
    REQUIRE(at.size() == 2);
    CHECK(at[0].z == 20);
    CHECK(norm(at[0] - Vec3{-10, 0, 20}) < 0.3);
    b.click({0, -15, 10});
    CHECK(b.cuts() == 2);
    CHECK(b.value<Vec3>("normal") == Vec3{0, -1, 0});
    b.w.key(Qt::Key_Return);
    CHECK(!b.view()->is_asking());
    CHECK(b.w.volume() < 40 * 30 * 20 - 100);
    CHECK(b.w->ledger()->verdict().contains("Print-ready"));
    const auto handle = b.view()->cut_handle("at");
    REQUIRE(handle);
    const Vec3 before = b.value<std::vector<Vec3>>("at").front();
    b.w.drag(handle->toPoint(), b.at(before + Vec3{4, 0, 3}));
    const Vec3 moved = b.value<std::vector<Vec3>>("at").front();
    CHECK(norm(moved - (before + Vec3{4, 0, 3})) < 0.5);
    CHECK(moved.y == before.y);
}

TEST_CASE("outline cuts are dragged on a face or over the view, and drawn corner by corner") {
    CutBlock b;
    b.w.look(0, 70);
    b.start("cut-rectangle");
    b.w.drag(b.at({-10, -5, 20}), b.at({6, 5, 20}));
    REQUIRE(b.cuts() == 1);
    CHECK(b.value<double>("width") == Approx(16).margin(0.4));
    CHECK(b.value<double>("length") == Approx(10).margin(0.4));
    CHECK(b.value<std::vector<Anchor>>("face").size() == 1);
    CHECK(b.w.volume() == Approx(40 * 30 * 20 - 20 * b.value<double>("width") * b.value<double>("length")));
    const auto handle = b.view()->cut_handle("width");
    REQUIRE(handle);
    const double width = b.value<double>("width");
    b.w.drag(handle->toPoint(), b.at(Vec3{b.value<Vec3>("origin").x + width / 2 + 3, b.value<Vec3>("origin").y, 20}));
    CHECK(b.value<double>("width") != width);
    b.w.key(Qt::Key_Escape);
    CHECK(b.cuts() == 0);

    b.start("cut-drawing");
    for (const Vec3& p : {Vec3{-10, -8, 20}, Vec3{10, -8, 20}, Vec3{0, 9, 20}}) b.click(p);
    QTest::keyClick(b.view(), Qt::Key_Backspace);
    b.click({0, 10, 20});
    CHECK(b.cuts() == 0);
    b.click({-10, -8, 20});  // the first one again: closed
    REQUIRE(b.cuts() == 1);
    CHECK(40 * 30 * 20 - b.w.volume() == Approx(20 * 20 * 18 / 2).epsilon(0.05));
    // Its corners move.
    const auto corner = b.view()->cut_handle("outline", 2);
    REQUIRE(corner);
    const std::string drawn = b.value<std::string>("outline");
    b.w.drag(corner->toPoint(), corner->toPoint() + QPoint(12, 0));
    CHECK(b.value<std::string>("outline") != drawn);
    b.w.key(Qt::Key_Escape);
    CHECK(b.cuts() == 0);

    // Square to the view, an open line splits.
    b.start("cut-line");
    b.w.key(Qt::Key_S);
    CHECK(b.hint().contains("on the face instead"));
    b.click({-26, 0, 20});
    CHECK(b.view()->is_asking());
    b.w.key(Qt::Key_Escape);
    CHECK(!b.view()->is_asking());
    CHECK(b.cuts() == 0);
}

TEST_CASE("a cut through the middle of everything: asked for, left, stopped and undone, the job stays whole") {
    CutBlock b(make_sphere({0, 0, 20}, 20, 60, 80));
    const double whole = b.w.volume();
    for (const char* tool :
         {"cut-plane", "drill", "cut-rectangle", "cut-circle", "cut-polygon", "cut-drawing", "cut-line"}) {
        INFO(tool);
        b.start(tool);
        CHECK(b.view()->is_asking());
        b.w.key(Qt::Key_Escape);
        CHECK(!b.view()->is_asking());
        CHECK(b.cuts() == 0);
    }
    b.start("cut-circle");
    b.w.drag(b.at({0, -20, 20}), b.at({5, -20, 20}));
    REQUIRE(b.cuts() == 1);
    CHECK(b.value<std::vector<Anchor>>("face").empty());  // a facet of a ball is none to hold on to
    CHECK(b.w.volume() < whole);
    b.w->controller().undo();
    b.w.settle();
    CHECK(b.w.volume() == whole);
}

TEST_CASE("notch and broach: the row comes first, then what is clicked for it; a click takes a line, or a whole face") {
    CutBlock b;
    b.w.look(20, 40);
    b.start("notch");
    b.w.settle();
    REQUIRE(b.cuts() == 1);
    REQUIRE(b.w->hand()->is_on());
    CHECK(b.hint().contains("Click near an edge"));
    CHECK(b.w->job_sheet()->model()->index(1).data(JobSheetModel::ChangeRole) == "waits for you");
    auto use = [&] { b.use(); };
    b.click({0, -14.6, 20});
    CHECK(b.w->hand()->selection().elements.size() == 1);
    use();
    CHECK(!b.w->hand()->is_on());
    REQUIRE(b.value<std::vector<Anchor>>("edges").size() == 1);
    CHECK(b.w.volume() == Approx(40 * 30 * 20 - 40 * 2 * 2 * std::sqrt(0.5)));
    b.type(b.line("depth"), "1");
    CHECK(b.w.volume() == Approx(40 * 30 * 20 - 40 * 2 * 1 * std::sqrt(0.5)));
    b.type(b.line("width"), "0");
    CHECK(b.w->field_panel()->said().contains("a width of 0 on both sides cuts nothing"));
    b.w.key(Qt::Key_Escape);
    CHECK(b.cuts() == 0);
    CHECK(b.w.volume() == 40 * 30 * 20);

    b.start("broach");
    b.w.settle();
    REQUIRE(b.w->hand()->is_on());
    b.click({0, 0, 20});
    CHECK(b.w->hand()->selection().elements.size() == 2);
    use();
    // The whole top all the way through would leave nothing: told, and nothing is lost.
    CHECK(b.w->field_panel()->said().contains("it would leave nothing of the body"));
    CHECK(b.w.volume() == 40 * 30 * 20);
    // Esc while selecting for a new row takes that back, too.
    b.w.key(Qt::Key_Escape);
    b.start("broach");
    b.w.settle();
    b.w.key(Qt::Key_Escape);
    CHECK(!b.w->hand()->is_on());
    CHECK(b.cuts() == 0);
}

TEST_CASE("mirror and weld, and layers, start with what fits the body; K changes the half") {
    CutBlock b(make_box({-10, -15, 0}, {30, 15, 20}));
    b.start("symmetry");
    CHECK(b.w.volume() == Approx(40 * 30 * 20));
    const auto step = b.w->job_sheet()->chosen_row().step();
    Job job = b.w.job();
    edit_step(job, step, [](Step& s) { s.values["at"] = 0.0; });
    b.w->controller().change(std::move(job), "at 0");
    b.w.settle();
    CHECK(b.w.volume() == Approx(60 * 30 * 20));
    b.w.key(Qt::Key_K);
    CHECK(b.w.volume() == Approx(20 * 30 * 20));
    b.w.key(Qt::Key_Escape);
    CHECK(b.w.volume() == 40 * 30 * 20);
    b.start("cut-layers");
    CHECK(b.pieces() == 8);
    CHECK(b.w->ledger()->verdict().contains("Print-ready"));
    b.w->spread_row()->slider()->setValue(40);
    b.w.settle();
    b.w.key(Qt::Key_Escape);
    CHECK(b.pieces() == 1);
}

TEST_CASE("a skin that a cut has left is told in its row, and one button drives the cutter through") {
    CutBlock b;
    const double whole = b.w.volume();
    b.start("cut-rectangle");
    b.w.key(Qt::Key_S);  // square to the view, through the middle
    b.w.drag(b.at({-5, 0, 5}), b.at({5, 0, 15}));
    REQUIRE(b.cuts() == 1);
    auto* skins = b.w->field_panel()->skins();
    CHECK(!skins->isVisible());
    Job job = b.w->controller().job();
    edit_step(job, b.cut()->step->id, [](Step& step) {
        step.values["origin"] = Vec3{0, -15, 10};
        step.values["way"] = std::string("depth");
        step.values["depth"] = 29.96;
    });
    b.w->controller().change(std::move(job), "short of the back");
    b.w.settle();
    REQUIRE(skins->isVisible());
    CHECK(skins->said() == "It leaves a skin of 0.04 mm standing.");
    const Row* row = b.cut();
    CHECK(b.w->controller().verdict(*row) == Verdict::caution);
    skins->through()->click();
    b.w.settle();
    CHECK(b.hint().contains("Driven through"));
    CHECK(!skins->isVisible());
    CHECK(b.cuts() == 2);
    const double width = b.value_of_first<double>("width"), length = b.value_of_first<double>("length");
    CHECK(b.w.volume() == Approx(whole - width * length * 30));
    CHECK(b.w->controller().history().undo_name() == "drive the cutter through");
}

TEST_CASE("clear residue and merge flat faces stand in drawers, are found by plain words, and say what they did") {
    Mesh body = make_box({-20, -15, 0}, {20, 15, 20});
    append(body, make_box({30, 0, 0}, {30.4, 0.4, 0.4}));
    CutBlock b(body);
    b.start("treat-clear-residue");
    CHECK(b.w->field_panel()->said().startsWith("1 island went, 0.064 mm³."));
    CHECK(b.w.volume() == Approx(40 * 30 * 20));
    b.start("treat-merge-flat");
    CHECK(b.w->field_panel()->said().startsWith("Its flat regions are single faces already."));
}

TEST_CASE("a notch turns its sides round by K; a broach goes along an edge that is clicked, or the line of sight") {
    CutBlock b;
    b.w.look(20, 40);
    b.start("notch");
    b.w.settle();
    b.click({0, -14.6, 20});
    b.use();
    b.w.key(Qt::Key_K);
    CHECK(b.hint().contains("as wide"));
    Job job = b.w->controller().job();
    edit_step(job, b.cut()->step->id, [](Step& step) {
        step.values["right"] = std::string("other");
        step.values["width_right"] = 5.0;
    });
    b.w->controller().change(std::move(job), "wider on the right");
    b.w.settle();
    const double before = b.w.volume();
    b.w.key(Qt::Key_K);
    CHECK(b.value<double>("width") == 5);
    CHECK(b.value<double>("width_right") == 2);
    CHECK(b.w.volume() == Approx(before));
    b.w.key(Qt::Key_Escape);

    b.start("broach");
    b.w.settle();
    b.click({0, 0, 20});
    b.use();
    job = b.w->controller().job();
    edit_step(job, b.cut()->step->id, [](Step& step) {
        step.values["along"] = std::string("direction");
        step.values["down_to"] = std::string("depth");
    });
    b.w->controller().change(std::move(job), "by a direction");
    b.w.settle();
    b.press("way", "edge");
    CHECK(b.hint().contains("Click near the edge"));
    b.click({-19.8, -15, 10});
    CHECK(b.value<Vec3>("way") == Vec3{0, 0, 1});  // the other way of what it was: an upright edge
    CHECK(b.w->field_panel()->said().contains("would meet its own beginning"));
    b.press("way", "edge");
    b.click({-19.8, -15, 10});
    CHECK(b.value<Vec3>("way") == Vec3{0, 0, -1});
    CHECK(b.w.volume() == Approx(40 * 30 * 15));
    b.press("way", "view");
    const Vec3 sight = b.view()->camera().direction();
    CHECK(norm(b.value<Vec3>("way") - sight) < 1e-9);
}

TEST_CASE("an outline of edges and a mirrored feature by clicks") {
    CutBlock b;
    b.w.look(20, 40);
    b.start("cut-edges");
    b.w.settle();
    REQUIRE(b.w->hand()->is_on());
    const std::pair<Vec3, bool> sides[] = {
        {{0, -14.6, 20}, false}, {{0, 14.6, 20}, true}, {{-19.6, 0, 20}, true}, {{19.6, 0, 20}, true}};
    for (const auto& [place, more] : sides) {
        QTest::mouseClick(b.view(), Qt::LeftButton, more ? Qt::ShiftModifier : Qt::NoModifier, b.at(place));
        b.w.settle();
    }
    CHECK(b.w->hand()->selection().elements.size() == 4);
    b.use();
    CHECK(b.w->field_panel()->said().contains("it would leave nothing of the body"));
    Job job = b.w->controller().job();
    edit_step(job, b.cut()->step->id, [](Step& step) {
        step.values["way"] = std::string("depth");
        step.values["depth"] = 4.0;
    });
    b.w->controller().change(std::move(job), "to a depth");
    b.w.settle();
    CHECK(b.w.volume() == Approx(40 * 30 * 16));
    b.w.key(Qt::Key_Escape);

    b.start("drill");
    b.click({-10, 0, 20});
    b.w.key(Qt::Key_Return);
    const double drilled = b.w.volume();
    b.w->choose({});
    b.w.settle();
    b.start("mirror-feature");
    b.w.settle();
    REQUIRE(b.w->hand()->is_on());
    const Vec3 sight = b.view()->camera().direction();
    b.click(Vec3{-10, 0, 19.5} + normalized(Vec3{sight.x, sight.y, 0}) * 2.4);  // the wall of the hole, its far side
    b.use();
    CHECK(b.cuts() == 2);
    CHECK(b.w.volume() == Approx(2 * drilled - 40 * 30 * 20));
    CHECK(b.view()->cut_handle("at"));
}

TEST_CASE("mirror and weld has a handle for its plane") {
    CutBlock b;
    b.w.look(20, 40);
    b.start("symmetry");
    const auto handle = b.view()->cut_handle("at");
    REQUIRE(handle);
    const QPoint from = handle->toPoint();
    b.w.drag(from, from + QPoint(40, 0));
    const Row& now = b.w->controller().rows().back();
    REQUIRE(now.step);
    CHECK(value_of<double>(*now.kind, now.step->values, "at") > 1);
    CHECK(b.w.volume() != Approx(40 * 30 * 20));
}
