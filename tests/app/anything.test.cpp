// Whatever is clicked, dragged, typed and chosen in the real window, by chance.
#include <QAbstractButton>
#include <QMenu>
#include <QTimer>
#include <random>

#include "core/job/job_text.h"
#include "tests/app/shown.h"

using namespace anvil;
using namespace anvil::test;

namespace {

/// Does things by chance in the window; what each was is told where TELL is set.
class Anyone {
  public:
    Anyone(Shown& shown, std::uint32_t seed) : w_(shown), random_(seed), tells_(std::getenv("TELL") != nullptr) {
        for (QAction* a : w_.window.findChildren<QAction*>())
            if (!a->objectName().isEmpty() && !leaves_the_job(a) && !a->menu()) actions_.push_back(a);
        // Dialogs and menus are closed as by Esc.
        QObject::connect(&closer_, &QTimer::timeout, [] {
            if (QWidget* modal = QApplication::activeModalWidget()) modal->close();
            if (QWidget* popup = QApplication::activePopupWidget()) popup->close();
        });
        closer_.start(150);
    }

    void do_something() {
        switch (chance(9)) {
            case 0: choose_row(); break;
            case 1: QTest::mouseClick(view(), Qt::LeftButton, keys(), spot()); break;
            case 2: drag(); break;
            case 3: type(); break;
            case 4: click_button(); break;
            case 5: choose_word(); break;
            case 6: press_key(); break;
            default: trigger();
        }
        if (chance(3) == 0) w_.settle();
        QApplication::processEvents();
    }

  private:
    static bool leaves_the_job(const QAction* action) {
        static const QStringList names{"bring-in", "open", "recent", "save",     "save-as",
                                       "export",   "demo", "report", "demo-scan"};
        return names.contains(action->objectName());
    }
    int chance(std::size_t n) { return static_cast<int>(random_() % n); }
    template <class List>
    auto any_of(const List& list) {
        return list[static_cast<std::size_t>(chance(list.size()))];
    }
    template <class T, class Fits>
    T* any_shown(const Fits& fits) {
        std::vector<T*> all;
        for (T* t : w_.window.findChildren<T*>())
            if (t->isVisible() && t->isEnabled() && fits(*t)) all.push_back(t);
        return all.empty() ? nullptr : any_of(all);
    }
    void tell(const QString& what) {
        if (!tells_) return;
        std::printf("%s\n", what.toUtf8().constData());
        std::fflush(stdout);
    }
    Viewport* view() { return w_->viewport(); }
    QPoint spot() {
        return {chance(static_cast<std::size_t>(view()->width())), chance(static_cast<std::size_t>(view()->height()))};
    }
    Qt::KeyboardModifiers keys() {
        return chance(3) == 0 ? Qt::ControlModifier : chance(3) == 0 ? Qt::ShiftModifier : Qt::NoModifier;
    }

    void choose_row() {
        const int rows = std::max(1, w_->job_sheet()->model()->rowCount());
        w_->choose(w_->job_sheet()->model()->id_at(chance(static_cast<std::size_t>(rows))));
    }
    /// Some handle of what is selected, or anywhere.
    QPoint handle() {
        std::vector<QPointF> all;
        auto add = [&](const std::optional<QPointF>& at) {
            if (at) all.push_back(*at);
        };
        for (int k = 0; k < 4; ++k) add(view()->scale_handle(k));
        for (int k = 0; k < 3; ++k) add(view()->rotate_handle(k));
        add(view()->section_handle());
        for (const Row& row : w_->controller().rows())
            if (row.kind)
                for (const Field& field : row.kind->fields) add(view()->cut_handle(field.name));
        return all.empty() ? spot() : any_of(all).toPoint();
    }
    void type_while_dragging() {
        static constexpr std::array texts{"5",   "-2.5", "0",   "1e9", "3, 4", "12.5, 90",
                                          "1/0", "((",   "7in", "30",  ",,",   "-"};
        const QString text = any_of(texts);
        tell("typed while dragging: " + text);
        view()->setFocus();
        QTest::keyClicks(view(), text);
        if (chance(4) == 0) QTest::keyClick(view(), Qt::Key_Backspace);
        if (chance(4) == 0) QTest::keyClick(view(), Qt::Key_Return);
        if (chance(4) == 0) QTest::keyClick(view(), Qt::Key_Escape);
    }
    void drag() {
        tell("drag");
        const QPoint from = chance(2) == 0 ? handle() : spot(), to = spot();
        const Qt::KeyboardModifiers held = keys();
        QTest::mousePress(view(), Qt::LeftButton, held, from);
        for (int i = 1; i <= 4; ++i) {
            const QPoint here = from + (to - from) * i / 4;
            QMouseEvent move(QEvent::MouseMove, here, view()->mapToGlobal(here), Qt::NoButton, Qt::LeftButton, held);
            QCoreApplication::sendEvent(view(), &move);
            if (chance(3) == 0) QTest::qWait(5);
            if (chance(8) == 0) type_while_dragging();
        }
        QTest::mouseRelease(view(), Qt::LeftButton, held, to);
    }
    void type() {
        static constexpr std::array texts{"0",    "-1",  "5",   "12.5+1in", "1e308", "abc", "90", "45", "0.001",
                                          "3 mm", "1/0", "nan", "1000",     "",      "-0",  "16", "2",  "7"};
        auto* edit = any_shown<QLineEdit>([](const QLineEdit& e) { return !e.isReadOnly(); });
        if (!edit) return;
        const char* text = any_of(texts);
        tell("type " + QString(text) + ": " + edit->objectName() + edit->accessibleName());
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
    }
    void click_button() {
        auto* button = any_shown<QAbstractButton>([](const QAbstractButton& b) {
            const auto* tool = qobject_cast<const QToolButton*>(&b);
            if (tool && (tool->menu() || (tool->defaultAction() && leaves_the_job(tool->defaultAction()))))
                return false;
            return !b.text().contains("demo", Qt::CaseInsensitive) && !b.text().contains("Open");
        });
        if (!button) return;
        tell("button " + button->text() + button->accessibleName());
        button->click();
    }
    void choose_word() {
        auto* box = any_shown<QComboBox>([](const QComboBox& b) { return b.count() > 0; });
        if (!box) return;
        const int to = chance(static_cast<std::size_t>(box->count()));
        tell("choose " + box->itemText(to));
        box->setCurrentIndex(to);
        Q_EMIT box->activated(to);
    }
    void press_key() {
        const int key = chance(6) == 0 ? Qt::Key_Escape : chance(10) == 0 ? Qt::Key_Delete : Qt::Key_A + chance(26);
        tell("key " + QString::number(key));
        view()->setFocus();
        QTest::keyClick(view(), static_cast<Qt::Key>(key), chance(4) == 0 ? Qt::ShiftModifier : Qt::NoModifier);
    }
    void trigger() {
        QAction* action = any_of(actions_);
        if (!action->isEnabled()) return;
        tell("action " + action->objectName());
        action->trigger();
    }

    Shown& w_;
    std::mt19937 random_;
    bool tells_;
    std::vector<QAction*> actions_;
    QTimer closer_;
};

}  // namespace

TEST_CASE("whatever is done in the window: it shows what the job gives, the saved job is the same, undo takes all back",
          "[.long]") {
    const std::uint32_t seed = seed_of_run();
    std::printf("anything: seed %u\n", seed);
    INFO("seed " << seed);
    Shown w;
    w->controller().open(demo::signal_lantern(), {});
    w->viewport()->frame_when_ready();
    w.settle();
    const std::string first = job_text(w.job());
    Anyone anyone(w, seed);
    for (int k = 0; k < 120; ++k) anyone.do_something();
    w.settle();
    TempFolder folder;
    REQUIRE(write_job(w.job(), folder / "anything.anvil"));
    CHECK(job_text(saved_job(folder / "anything.anvil")) == job_text(w.job()));
    const JobController& controller = w->controller();
    Evaluator fresh;
    Progress progress;
    const auto shown = controller.outcome();
    REQUIRE(shown);
    if (const auto scratch = fresh.evaluate(w.job(), progress, controller.stop_after())) {
        REQUIRE(shown->evaluation);
        const auto of_scratch = inspect(scratch->combined->mesh, progress),
                   of_shown = inspect(shown->evaluation->combined->mesh, progress);
        REQUIRE(of_scratch);
        REQUIRE(of_shown);
        CHECK(of_scratch->counts == of_shown->counts);
    }
    (void)w->grab();
    while (controller.history().can_undo()) w->controller().undo();
    w.settle();
    CHECK(job_text(w.job()) == first);
}
