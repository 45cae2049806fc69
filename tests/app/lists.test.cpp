// The real window and steps of every kind, in any list: what changes a body by itself, several rows, rows dragged.
#include "app/panels/field_panel.h"
#include "app/user_settings.h"
#include "core/job/job_text.h"
#include "core/mesh/measures.h"
#include "tests/app/rod.h"

#include <random>

using namespace anvil;
using namespace anvil::test;

TEST_CASE("a step that changes the body stands between two that combine, wherever it is dragged") {
    Rod w;
    CHECK(w.volume() == Approx(6 + 4));
    w->action("treat-keep-largest")->trigger();
    w.settle();
    CHECK(w.names() == Names{"base (rod)", "step 1 (saw)", "step 2 (knob)", "step 3 (keep the largest shell)"});
    CHECK(w->job_sheet()->chosen_row().step() == w->controller().rows()[3].step->id);
    CHECK(w->field_panel()->isVisible());
    CHECK(!w->step_panel()->isVisible());
    CHECK(w.volume() == Approx(6));  // the end with the knob was the smaller
    CHECK(w->field_panel()->said().startsWith("1 shell was dropped."));
    CHECK(w->ledger()->measures().contains("6.00 mm³"));
    // In front of the knob it drops the bare end, and the knob stands by itself.
    w.drop({3}, 2);
    CHECK(w.names() == Names{"base (rod)", "step 1 (saw)", "step 2 (keep the largest shell)", "step 3 (knob)"});
    CHECK(w.volume() == Approx(6 + 2));
    w->controller().undo();
    w->controller().undo();
    w.settle();
    CHECK(w.volume() == Approx(10));
    CHECK(!w->controller().history().can_undo());
}

TEST_CASE("the settings of a step are built from its fields: choices, numbers with units, yes and no") {
    Rod w;
    w->action("treat-mirror")->trigger();
    w.settle();
    FieldPanel& panel = *w->field_panel();
    CHECK(bounds(w->controller().outcome()->result.mesh ? *w->controller().outcome()->result.mesh : Mesh()).low.x ==
          -11);
    auto* across = panel.editor("across");
    REQUIRE(across);
    for (QToolButton* b : across->findChildren<QToolButton*>())
        if (b->text() == "y") QTest::mouseClick(b, Qt::LeftButton);
    w.settle();
    CHECK(bounds(*w->controller().outcome()->result.mesh).low == Vec3{0, -1, 0});
    auto* at = qobject_cast<QLineEdit*>(panel.editor("at"));
    REQUIRE(at);
    CHECK(at->text() == "0 mm");
    at->setFocus();
    at->selectAll();
    QTest::keyClicks(at, "1cm/2");
    QTest::keyClick(at, Qt::Key_Return);
    w.settle();
    CHECK(at->text() == "5 mm");
    CHECK(bounds(*w->controller().outcome()->result.mesh).low == Vec3{0, 9, 0});
    CHECK(w->controller().history().undo_name() == "mirror: at");
    at->setText("high");
    QTest::keyClick(at, Qt::Key_Return);
    CHECK(at->property("wrong").toBool());
    CHECK(w->hint_line()->text().contains("\"at\" takes a length"));
    w->action("treat-keep-largest")->trigger();
    w.settle();
    auto* hollows = qobject_cast<QCheckBox*>(panel.editor("hollows"));
    REQUIRE(hollows);
    CHECK(hollows->isChecked());
    CHECK(!panel.editor("at"));
    hollows->click();
    w.settle();
    CHECK(std::get<bool>(w->controller().rows().back().step->values.at("hollows")) == false);
    w->action("treat-place")->trigger();
    w.settle();
    auto* scale = qobject_cast<QLineEdit*>(panel.editor("scale"));
    REQUIRE(scale);
    scale->setFocus();
    scale->setText("0");
    QTest::keyClick(scale, Qt::Key_Return);
    CHECK(scale->property("wrong").toBool());  // out of its range
}

TEST_CASE("what would leave faults in a sound body is left out, says so, and nothing is exported") {
    Shown w;
    Job ball;
    add_part(ball, "ball", std::make_shared<const Mesh>(make_icosphere({0, 0, 0}, 10, 3)));
    w->controller().open(ball, {});
    w.settle();
    const double before = w.volume();
    w->action("treat-place")->trigger();
    w.settle();
    // As a file may have it: what is typed ends at 1e12.
    Job far = w.job();
    edit_step(far, w->job_sheet()->chosen_row().step(), [](Step& step) { step.values["move_x"] = 4e16; });
    w->controller().change(std::move(far), "far");
    w.settle();
    JobSheetModel* model = w->job_sheet()->model();
    CHECK(model->index(1).data(JobSheetModel::ChangeRole).toString() == "left out");
    CHECK(model->index(1).data(JobSheetModel::FaultRole).toBool());
    CHECK(w->field_panel()->said().contains("would leave faults"));
    CHECK(w.volume() == before);
    TempFolder folder;
    w->controller().deliver(q(folder / "out.stl"));
    w.settle();
    CHECK(!std::filesystem::exists(folder / "out.stl"));
}

namespace {

/// A kind of the tests' own with a text and a part: it says the text, and becomes that part.
const RegisterKind becomes([] {
    Kind out{.word = "test-become", .of = KindClass::treat, .stays_sound = false};
    out.fields = {{"label", Field::Type::text, std::string(), "label", "what is said"},
                  {"other", Field::Type::part, std::string(), "other part", "what it becomes"}};
    out.treat = [](const std::shared_ptr<const Mesh>& body, const Values& values, const TreatSettings& settings,
                   Progress&) -> Result<Treated> {
        const auto other = settings.parts.find("other");
        return Treated{.mesh = other == settings.parts.end() ? body : other->second,
                       .said = value_of<std::string>(*find_kind("test-become"), values, "label")};
    };
    return out;
}());

}  // namespace

TEST_CASE("a text is typed, a part is one of those that are there") {
    Rod w;
    w->treat("test-become");
    w.settle();
    auto* label = qobject_cast<QLineEdit*>(w->field_panel()->editor("label"));
    REQUIRE(label);
    label->setFocus();
    QTest::keyClicks(label, "M3, left");
    QTest::keyClick(label, Qt::Key_Return);
    w.settle();
    CHECK(w->field_panel()->said().startsWith("M3, left"));
    auto* other = qobject_cast<QComboBox*>(w->field_panel()->editor("other"));
    REQUIRE(other);
    CHECK(other->currentText() == "none");
    REQUIRE(other->findText("knob") > 0);
    CHECK(other->findText("result") < 0);
    other->setFocus();
    QTest::keyClicks(other, "k");
    QTest::keyClick(other, Qt::Key_Return);
    if (other->currentText() == "knob") Q_EMIT other->activated(other->currentIndex());
    w.settle();
    CHECK(w.volume() == Approx(2));
    w->controller().undo();
    w.settle();
    CHECK(other->currentText() == "none");
    CHECK(w.volume() == Approx(10));
}

TEST_CASE("what changes a part that two steps use stands under both, and is switched in both at once") {
    Rod w;
    Job job = w.job();
    add_combining(job, Operation::union_of, w.saw);
    w.open(std::move(job));
    w.click(1);
    w->action("treat-mirror")->trigger();
    w.settle();
    CHECK(w.names() == Names{"base (rod)", "step 1 (saw)", "  step 1.1 (mirror)", "step 2 (knob)", "step 3 (saw)",
                             "  step 3.1 (mirror)"});
    CHECK(w->job_sheet()->chosen_row().way.size() == 3);
    w->job_sheet()->model()->setData(w.model()->index(5), false, JobSheetModel::OnRole);
    w.settle();
    CHECK(w.data(2, JobSheetModel::ChangeRole) == "off");
    // Each of its rows is chosen by itself.
    w.click(5);
    CHECK(w->job_sheet()->chosen_row().way[1] == w->controller().rows()[4].step->id);
}

TEST_CASE("several rows are chosen by Ctrl and Shift, and switched, moved, bundled and removed together") {
    Rod w;
    w.click(1);
    w.click(2, Qt::ControlModifier);
    CHECK(w->job_sheet()->chosen_rows().size() == 2);
    CHECK(w->job_sheet()->chosen_row().part == w.knob);
    w->action("switch")->trigger();
    w.settle();
    CHECK(w.volume() == Approx(10));
    CHECK(w->job_sheet()->chosen_rows().size() == 2);
    CHECK(w->controller().history().undo_name() == "switch off 2 rows");
    w->action("switch")->trigger();
    w.settle();
    CHECK(w.steps()[0].step->on);
    CHECK(w.steps()[1].step->on);

    Job job = w.job();
    const std::string pin = add_part(job, "pin", std::make_shared<const Mesh>(make_box({1, -1, 0.25}, {2, 2, 0.75})));
    add_combining(job, Operation::difference, pin);
    w.open(std::move(job));
    w.drop({2, 3}, 1);
    CHECK(w.names() == Names{"base (rod)", "step 1 (knob)", "step 2 (pin)", "step 3 (saw)"});
    CHECK(w->controller().history().undo_name() == "reorder 2 rows");
    w.drop_onto({2, 3}, 1);
    CHECK(w.names() == Names{"base (rod)", "step 1 (knob)", "  step 1.1 (pin)", "  step 1.2 (saw)"});
    // Out again, between others.
    w.drop({3}, 1);
    CHECK(w.names() == Names{"base (rod)", "step 1 (saw)", "step 2 (knob)", "  step 2.1 (pin)"});
    w.click(1);
    w.click(3, Qt::ShiftModifier);
    CHECK(w->job_sheet()->chosen_rows().size() == 3);
    w->action("remove")->trigger();
    w.settle();
    CHECK(w.names() == Names{"base (rod)"});
    w->controller().undo();
    w.settle();
    CHECK(w.names().size() == 4);
    // A step into its own list: refused, and said.
    w.drop_onto({2}, 3);
    CHECK(w->hint_line()->text().contains("its own list"));
    CHECK(w.names().size() == 4);
}

TEST_CASE("a step of a kind that is not known does nothing, is shown as that, and is written back") {
    TempFolder folder;
    Rod w;
    Job job = w.job();
    edit_part(job, job.work(), [](Part& part) {
        part.steps.insert(part.steps.begin() + 1, std::make_shared<const Step>(Step{
                                                      .id = "later", .kind = "polish", .unknown = R"({"grit":400})"}));
    });
    w.open(std::move(job));
    CHECK(w.volume() == Approx(10));
    CHECK(w.data(2, Qt::DisplayRole) == "polish");
    CHECK(w.data(2, JobSheetModel::ChangeRole) == "not known");
    w.click(2);
    CHECK(w->field_panel()->isVisible());
    CHECK(w->field_panel()->said().contains("saved as it came"));
    REQUIRE(w->controller().outcome()->evaluation->remarks.size() == 1);
    CHECK(w->controller().outcome()->evaluation->remarks[0].text.starts_with("step 2 (polish): This version knows no"));
    REQUIRE(w->controller().save(q(folder / "a.anvil")));
    const Job back = saved_job(folder / "a.anvil");
    CHECK(find_step(back, "later").step->unknown == R"({"grit":400})");
}

TEST_CASE("the stop line goes by every row: within the list of an operand, too") {
    Rod w;
    w.click(1);
    w->action("treat-mirror")->trigger();
    w.settle();
    CHECK(w.volume() == Approx(10 + 1));  // the saw is on the other side of the origin
    w->controller().set_stop_after(1);
    w.settle();
    CHECK(w.data(2, JobSheetModel::ChangeRole) == "stopped");
    CHECK(w.volume() == Approx(9));
    w->controller().set_stop_after(2);
    w.settle();
    CHECK(w.volume() == Approx(10));
}

TEST_CASE("the memory for kept results is shown, set with units, remembered and kept to") {
    user_settings().remove("memory");  // others here type into every field there is
    Shown w;
    w.demo();
    QLineEdit* field = w->step_panel()->budget_field();
    REQUIRE(field->isVisible());
    CHECK(field->text() == "512 MB");
    auto type = [&](const char* text) {
        field->setFocus();
        field->setText(text);
        QTest::keyClick(field, Qt::Key_Return);
    };
    for (const char* wrong : {"lots", "-3", "1 MB", "9e9 GB"}) {
        type(wrong);
        CHECK(field->property("wrong").toBool());
        CHECK(w->controller().budget() == std::size_t{512} << 20);
    }
    type("2gb");
    CHECK(field->text() == "2 GB");
    CHECK(JobController().budget() == std::size_t{2} << 30);
    type("16");
    CHECK(w->controller().budget() == std::size_t{16} << 20);
    // A body that takes more than that for itself: what was before it is dropped.
    Job job = w.job();
    const std::string ball = add_part(job, "ball", std::make_shared<const Mesh>(make_icosphere({0, 0, 100}, 30, 6)));
    add_combining(job, Operation::union_of, ball);
    w->controller().change(std::move(job), "ball");
    w.settle();
    w->controller().undo();
    w.settle();
    CHECK(w->controller().outcome()->kept_bytes <= std::size_t{16} << 20);
    type("512");
}

TEST_CASE("a base that holds its mesh in the part in work itself is moved by its handles and fields") {
    Shown w;
    Job job;
    job.results = {"own"};
    job.parts.push_back(std::make_shared<const Part>(
        Part{"own", "own", StoredMesh{std::make_shared<const Mesh>(make_box({0, 0, 0}, {4, 4, 4}))}}));
    w->controller().open(job, {});
    w.settle();
    w->choose_part("own");
    w->step_panel()->field(0)->setFocus();
    w->step_panel()->field(0)->selectAll();
    QTest::keyClicks(w->step_panel()->field(0), "7");
    QTest::keyClick(w->step_panel()->field(0), Qt::Key_Return);
    w.settle();
    CHECK(bounds(transformed(*w->controller().outcome()->result.mesh, w->controller().result_stands())).low ==
          Vec3{7, 0, 0});
    CHECK(w->job_sheet()->chosen_row().way == std::vector<std::string>{"own"});
    CHECK(w->step_panel()->field(0)->text() == "7 mm");
    w->controller().undo();
    w.settle();
    CHECK(w.job().parts.size() == 1);
}

TEST_CASE("whatever is pressed in whatever order, the window shows what the job gives from scratch") {
    const std::uint32_t seed = seed_of_run();
    INFO("seed " << seed);
    std::mt19937 random(seed);
    auto chance = [&](int n) { return static_cast<int>(random() % static_cast<std::uint32_t>(n)); };
    Rod w;
    Job job = w.job();
    Mesh open = make_box({2, -1, 0.25}, {3, 2, 0.75});
    open.faces.raw().resize(10);
    add_combining(job, Operation::difference, add_part(job, "tray", std::make_shared<const Mesh>(open)));
    w.open(std::move(job));
    const char* actions[] = {
        "switch",     "remove",       "undo",         "redo",  "bundle",       "unbundle",    "union",
        "difference", "intersection", "mend",         "split", "treat-mirror", "treat-place", "treat-keep-largest",
        "cut-plane",  "by-hand",      "undo",         "undo",  "stop-earlier", "stop-later",  "see-through",
        "mend-holes", "gather",       "surface-lines"};
    for (int k = 0; k < 80; ++k) {
        const int rows = std::max(1, w.model()->rowCount());
        switch (chance(8)) {
            case 0: w->choose(w.model()->id_at(chance(rows + 1))); break;
            case 2: {  // by hand, or what an edit is used on
                HandMode& hand = *w->hand();
                if (!hand.is_on() || hand.mesh().faces.empty()) break;
                const auto f = static_cast<std::uint32_t>(chance(static_cast<int>(hand.mesh().faces.size())));
                const Element face = face_element(hand.mesh().faces[FaceId(f)]);
                hand.set_kind(ElementKind::faces);
                hand.choose(std::span(&face, 1), HandMode::How::add);
                if (!hand.chosen_for().empty())
                    hand.take();
                else
                    hand.use(chance(2) ? HandTool::delete_faces : HandTool::flip_faces);
                break;
            }
            case 3:
                if (QWidget* at = w->field_panel()->editor("at"); at && at->isVisible())
                    for (QPushButton* button : at->findChildren<QPushButton*>()) button->click();
                w->viewport()->set_compare(static_cast<Compare>(chance(4)));
                break;
            case 1: {
                std::unique_ptr<QMimeData> mime(w.model()->mimeData({w.model()->index(chance(rows))}));
                const int to = chance(rows + 1);
                if (chance(2))
                    w.model()->dropMimeData(mime.get(), Qt::MoveAction, to, 0, {});
                else
                    w.model()->dropMimeData(mime.get(), Qt::MoveAction, -1, -1,
                                            w.model()->index(std::min(to, rows - 1)));
                break;
            }
            default:
                if (QAction* action = w->action(actions[chance(static_cast<int>(std::size(actions)))]);
                    action->isEnabled())
                    action->trigger();
        }
        if (chance(3) == 0) w.settle();
        QApplication::processEvents();
    }
    w.settle();
    const JobController& controller = w->controller();
    Evaluator fresh;
    Progress progress;
    const auto scratch = fresh.evaluate(w.job(), progress, controller.stop_after());
    REQUIRE(scratch);
    const auto shown = controller.outcome();
    REQUIRE(shown);
    REQUIRE(shown->evaluation);
    CHECK(shown->evaluation->combined->mesh == scratch->combined->mesh);
    CHECK(shown->evaluation->first_error.has_value() == scratch->first_error.has_value());
    (void)w->grab();
    while (controller.history().can_undo()) w->controller().undo();
    w.settle();
    CHECK(w.names().size() == 4);
}
